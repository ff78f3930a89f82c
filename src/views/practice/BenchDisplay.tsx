import { useEffect, useState } from 'react';
import { nextItem } from '../../core/run/next-step';
import { doneAt } from '../../core/state/logged';
import { slotKey } from '../../core/state/place-keys';
import type { Slot } from '../../core/state/run-state';
import { ask } from '../../ui/ask-server';
import { letPass, serverNow } from '../../ui/server-clock';
import { printedUnit } from '../../core/quantity/unit';
import type { BenchLog } from '../run/use-run-log';
import { allSent } from './all-sent';

type Line = { title: string; text: string; unit: string };
type Props = { practice: string; log: BenchLog; slot: Slot | null; person: string };

type Until = 'next' | 'decision';

/** So much is let pass at a time, in minutes. */
const passes = 5;

/** What the instruments at a practice bench show now, and somebody who lends a hand. */
export function BenchDisplay({ practice, log, slot, person }: Props) {
  const { state, pending } = log.snapshot;
  const [shown, setShown] = useState<{ sequence: number; lines: Line[] } | null>(null);
  const [said, setSaid] = useState('');
  const [isBusy, setBusy] = useState(false);
  const isSent = pending.length === 0;
  const item = nextItem(state);
  const looked = slot !== null && state.live.has(slotKey(slot)) ? slotKey(slot) : undefined;
  useEffect(() => {
    if (!isSent) return;
    let isWanted = true;
    void ask('GET /api/practice/[id]/shown', { id: practice, ...(looked ? { query: { slot: looked } } : {}) }).then((answer) => {
      if (isWanted && answer.ok) setShown(answer.body);
    });
    return () => {
      isWanted = false;
    };
  }, [practice, state.sequence, isSent, looked]);

  const assist = async (until: Until) => {
    if (isBusy) return;
    setBusy(true);
    await allSent(log);
    const answer = await ask('POST /api/practice/[id]/assist', {
      id: practice,
      body: { person, expectedSequence: log.store.getSnapshot().state.sequence, until },
    });
    setBusy(false);
    if (!answer.ok) return setSaid(answer.refusal.message);
    setSaid('');
    const last = answer.body.events.at(-1);
    if (last) letPass(Date.parse(doneAt(last)) - serverNow());
    log.store.follow(answer.body.events);
  };
  const wait = () => {
    letPass(passes * 60_000);
    setSaid(`${passes} minutes have passed.`);
  };
  useEffect(() => {
    const keys: Record<string, () => void> = { F2: () => void assist('next'), F4: () => void assist('decision'), F8: wait };
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
      if (document.querySelector('[role="dialog"]') || !keys[event.key]) return;
      event.preventDefault();
      keys[event.key]!();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  // At a decision nobody lends a hand.
  if (item?.type === 'judge') return null;
  const lines = shown && isSent && shown.sequence === state.sequence ? shown.lines : null;
  return (
    <section aria-label="What is to be seen" className="mb-4">
      <div className="min-h-16 bg-ink px-4 py-2.5 text-paper" role="status">
        {isBusy ? (
          <p>The assistant is at work…</p>
        ) : lines === null ? (
          <p aria-hidden>…</p>
        ) : lines.length === 0 ? (
          <p>There is nothing to be read off here.</p>
        ) : (
          lines.map((line) => (
            <p key={line.title} className="flex flex-wrap items-baseline justify-between gap-x-4">
              <span className="text-sm">{line.title}</span>
              <span className="figure text-3xl whitespace-pre-wrap">
                {line.text.includes('\n') ? `${line.text.split('\n').length} lines` : line.text.replace(/^-/, '−')}{' '}
                <span className="text-lg">{printedUnit(line.unit) === '1' ? '' : printedUnit(line.unit)}</span>
              </span>
            </p>
          ))
        )}
      </div>
      {said && (
        <p className="mt-1 text-sm" role="status">
          {said}
        </p>
      )}
      <div className="mt-1 flex justify-between text-sm">
        <HandButton shown="F2" onClick={() => void assist('next')} isOff={isBusy}>
          Do it for me
        </HandButton>
        <HandButton shown="F4" onClick={() => void assist('decision')} isOff={isBusy}>
          All of it
        </HandButton>
        <HandButton shown="F8" onClick={wait} isOff={isBusy}>
          Wait {passes} min
        </HandButton>
      </div>
    </section>
  );
}

function HandButton(props: { shown: string; onClick: () => void; isOff: boolean; children: React.ReactNode }) {
  return (
    <button
      type="button"
      className="button button-quiet !min-h-9 !px-1 whitespace-nowrap"
      tabIndex={-1}
      disabled={props.isOff}
      onClick={props.onClick}
    >
      {props.children} <span className="key">{props.shown}</span>
    </button>
  );
}
