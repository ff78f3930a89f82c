import { useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { useHotkeys } from 'react-hotkeys-hook';
import { proposeNextDate } from '../../core/run/next-date';
import { schoolTitles, type Proposal } from '../../core/interval/proposal';
import type { Proposals } from '../../core/interval/propose';
import { dayIn } from '../../core/quantity/day-in-zone';
import { verdictAsFound } from '../../core/run/run-results';
import { ask } from '../../ui/ask-server';
import { dayField } from '../../ui/date-input';
import { runKeys } from './keymap';
import { useRun } from './run-context';
import { useDecidingButton } from './use-bench';

/** How often it is asked until everything recorded here has come to the server, and how long between, in ms. */
const mostAsked = 20;
const between = 400;

type Answer = Proposals & { sequence: number };

/** What the server proposes for this run; null while it is asked, 'gone' where it does not answer. */
function useProposals(run: string, sequence: number): Answer | 'gone' | null {
  const [answer, setAnswer] = useState<Answer | 'gone' | null>(null);
  useEffect(() => {
    let isOver = false;
    const askOften = async () => {
      for (let i = 0; i < mostAsked && !isOver; i++) {
        const got = await ask('GET /api/runs/[id]/proposals', { id: run });
        if (isOver) return;
        if (!got.ok) return setAnswer('gone');
        if (got.body.sequence === sequence) return setAnswer(got.body);
        await new Promise((resolve) => setTimeout(resolve, between));
      }
      if (!isOver) setAnswer('gone');
    };
    void askOften();
    return () => {
      isOver = true;
    };
  }, [run, sequence]);
  return answer;
}

type Offer = {
  proposal: Pick<Proposal, 'date' | 'reason'> & Partial<Proposal>;
  others: readonly Proposal[];
  isAlone: boolean;
};

/** The next date with its reason; what the other schools say is a key away, and another date takes a reason. */
export function DatePanel() {
  const { run, state, now } = useRun();
  const answer = useProposals(run, state.sequence);
  if (answer === null)
    return (
      <div role="status">
        <h2 className="text-lg">Next calibration</h2>
        <p className="mt-4 text-soft">Its history and that of others of its kind are looked at…</p>
      </div>
    );
  const offer: Offer =
    answer === 'gone'
      ? { proposal: proposeNextDate(state, verdictAsFound(state), dayIn(now, state.timeZone)), others: [], isAlone: true }
      : { proposal: answer.chosen, others: answer.all.filter((p) => p.school !== answer.chosen.school), isAlone: false };
  return <DateForm key={offer.proposal.date} offer={offer} />;
}

function DateForm({ offer: { proposal, others, isAlone } }: { offer: Offer }) {
  const { act } = useRun();
  const proposed = proposal.date!;
  const [date, setDate] = useState(proposed);
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const [isOpen, setOpen] = useState(false);
  const main = useDecidingButton();
  const why = useRef<HTMLInputElement>(null);
  useHotkeys(runKeys.schools.keys, () => setOpen((open) => !open), { preventDefault: true });
  const isOther = date !== proposed;
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        const refusal = act({
          type: 'interval-decided',
          next: date,
          proposed,
          reason: isOther ? reason.trim() : proposal.reason.slice(0, 500),
          ...(proposal.school ? { school: proposal.school } : {}),
        });
        setFault(refusal?.message ?? '');
        if (refusal && isOther) why.current?.focus();
      }}
    >
      <h2 className="text-lg">Next calibration</h2>
      <p className="figure text-4xl font-bold">{date || '–'}</p>
      <p>
        {proposal.school && <span className="font-bold">{schoolTitles[proposal.school]}. </span>}
        {proposal.reason}
      </p>
      {proposal.sure && (
        <details className="text-sm">
          <summary className="cursor-pointer">What it rests on</summary>
          <p className="mt-1 text-soft">{proposal.sure}.</p>
          <p className="text-soft">{proposal.assumes}</p>
        </details>
      )}
      {isAlone && (
        <p className="caution text-sm">The server does not answer: only the months of record and procedure were asked.</p>
      )}
      <label>
        <span className="block text-sm text-soft">Another date</span>
        <input {...dayField} value={date} onChange={(e) => setDate(e.target.value)} className="figure w-full" />
      </label>
      {isOther && (
        <label>
          <span className="block text-sm text-soft">Reason for this date in place of {proposed}</span>
          <input ref={why} value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
        </label>
      )}
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button {...main} className="button button-main min-h-13 !text-lg">
        Set this date
      </button>
      {others.length > 0 && (
        <div>
          <button type="button" className="button w-full" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            What the other methods say <span className="key">{runKeys.schools.shown}</span>
          </button>
          {isOpen && (
            <ul className="ruled border border-t-0 border-rule bg-sheet">
              {others.map((p) => (
                <li key={p.school} className="px-3 py-2">
                  <div className="flex items-baseline justify-between gap-3">
                    <span className="font-bold">{schoolTitles[p.school]}</span>
                    {p.date === null ? (
                      <span className="text-sm text-soft">says nothing</span>
                    ) : (
                      <button
                        type="button"
                        className="button !min-h-9 !py-1"
                        onClick={() => {
                          // Drawn at once, so that the next key meets the question for the reason.
                          flushSync(() => setDate(p.date!));
                          (why.current ?? main.ref.current)?.focus();
                        }}
                      >
                        <span className="figure">{p.date}</span>
                      </button>
                    )}
                  </div>
                  <p className="text-sm">{p.reason}</p>
                  {p.date !== null && <p className="text-sm text-soft">{p.sure}</p>}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </form>
  );
}
