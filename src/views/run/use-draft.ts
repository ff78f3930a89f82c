import { useState } from 'react';

/** What was typed for readings that are not taken yet, by run and slot. */
const drafts = new Map<string, string>();

/** What is typed belongs to its own reading: it waits there when another is stepped to, and follows nowhere. */
export function useDraft(run: string, slot: string): [string, (text: string) => void] {
  const [, setChanged] = useState(0);
  const draft = `${run}|${slot}`;
  const setTyped = (text: string) => {
    if (text === '') drafts.delete(draft);
    else drafts.set(draft, text);
    setChanged((n) => n + 1);
  };
  return [drafts.get(draft) ?? '', setTyped];
}
