import { useEffect, useState } from 'react';
import { instanceTitle } from '../../core/run/place-words';
import { ask } from '../../ui/ask-server';
import { useRun } from './run-context';

type Gain = { adjustment: string; each: string | null; months: number; without: number; with: number; visits: number };

/** How often it is asked until everything recorded here has come to the server, and how long between, in ms. */
const mostAsked = 10;
const between = 400;

/** What the adjustments of a procedure would gain; nothing while that is not known, or cannot be. */
function useGains(run: string, set: string, sequence: number): readonly Gain[] {
  const [gains, setGains] = useState<readonly Gain[]>([]);
  useEffect(() => {
    let isOver = false;
    const askOften = async () => {
      for (let i = 0; i < mostAsked && !isOver; i++) {
        const got = await ask('GET /api/runs/[id]/gains', { id: run, query: { set } });
        if (isOver || !got.ok) return;
        if (got.body.sequence === sequence) return setGains(got.body.gains);
        await new Promise((resolve) => setTimeout(resolve, between));
      }
    };
    void askOften();
    return () => {
      isOver = true;
    };
  }, [run, set, sequence]);
  return gains;
}

const percent = (share: number): string =>
  share > 0.995 ? 'over 99 %' : share < 0.005 ? 'below 1 %' : `${Math.round(100 * share)} %`;

/** What adjusting gains and costs: how probable it is that everything is inside at the next date, with it and without. */
export function GainNote({ set }: { set: string }) {
  const { run, state } = useRun();
  const gains = useGains(run, set, state.sequence);
  const [first] = gains;
  if (!first) return null;
  const titleOf = (g: Gain): string => {
    const doc = state.procedure.adjustments.find((a) => a.id === g.adjustment);
    const each = g.each && doc ? `${instanceTitle(state, doc.of[0]!, g.each)}: ` : '';
    return `${each}${doc?.title ?? g.adjustment}`;
  };
  const lines = [{ title: 'Left as it is', share: first.without }, ...gains.map((g) => ({ title: titleOf(g), share: g.with }))];
  return (
    <figure className="text-sm" aria-label="What adjusting gains">
      <figcaption className="text-soft">
        Everything inside in {first.months} months, by its drift over {first.visits} calibrations. An adjustment breaks that
        record.
      </figcaption>
      <ul className="mt-1">
        {lines.map(({ title, share }) => (
          <li key={title} className="grid grid-cols-[minmax(0,1fr)_5rem_4.6rem] items-center gap-3 py-0.5">
            <span className="truncate" title={title}>
              {title}
            </span>
            <svg viewBox="0 0 100 8" preserveAspectRatio="none" className="h-2 w-full" aria-hidden>
              <rect width="100" height="8" className="fill-rule" />
              <rect width={100 * share} height="8" className="fill-verdigris" />
            </svg>
            <span className="figure text-right">{percent(share)}</span>
          </li>
        ))}
      </ul>
    </figure>
  );
}
