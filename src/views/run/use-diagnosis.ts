import { useEffect, useState } from 'react';
import { diagnose, openQuestions, takeAnswer, type Diagnosis } from '../../core/run/diagnosis';
import type { DiagnoseQuestion } from '../../core/diagnose/diagnose-schema';
import { faultIn } from '../../core/run/run-results';
import type { RunState } from '../../core/state/run-state';
import { askLooks } from '../../worker/ask-core';

/** What the errors of a set look like, worked out beside the page; null until that is done. */
export function useDiagnosis(state: RunState, set: string): Diagnosis | null {
  const [, answered] = useState(0);
  const open = JSON.stringify(faultIn(state, set) === null ? openQuestions(state, set) : []);
  const isOpen = open !== '[]';
  const [isAlone, setAlone] = useState(false);
  useEffect(() => {
    if (!isOpen) return;
    let isWanted = true;
    void toldOf(open).then((isTold) => {
      if (!isWanted) return;
      // Where no worker can be had it is worked out here, once the page has said that it is at it.
      if (!isTold) setAlone(true);
      answered((n) => n + 1);
    });
    return () => void (isWanted = false);
  }, [open, isOpen]);
  return isOpen && !isAlone ? null : diagnose(state, set);
}

/** What is being worked out now: asked once, whoever wants to know. */
const coming = new Map<string, Promise<boolean>>();

function toldOf(open: string): Promise<boolean> {
  const known = coming.get(open);
  if (known) return known;
  const questions = JSON.parse(open) as DiagnoseQuestion[];
  const told = askLooks(questions).then((all) => {
    if (all) questions.forEach((q, i) => takeAnswer(q, all[i]!));
    coming.delete(open);
    return all !== null;
  });
  coming.set(open, told);
  return told;
}
