import { useState } from 'react';
import type { NewAct } from '../../core/acts/registry';
import { placeTitle } from '../../core/run/place-words';
import { rungPlace } from '../../core/run/rungs';
import { toRuleOut, type CauseCounts, type ToRuleOut } from '../../core/run/rule-out';
import { useRun } from './run-context';

const percent = (share: number): string => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);

/** @example 3 of 4 times */
const timesOf = ({ tried, helped }: CauseCounts[string]): string => `${helped} of ${tried} ${tried === 1 ? 'time' : 'times'}`;

/**
 * Causes in the order in which looking for them pays. After each, where the set stands at its judgement, the point that was outside is read
 * once; what helped is followed by a new set, and so is any other when it is wanted: the first stays as evidence.
 */
export function RuleOutList({ set, isJudged = false }: { set: string; isJudged?: boolean }) {
  const { state, known, act } = useRun();
  const [fault, setFault] = useState('');
  const causes = toRuleOut(state, set, known.causes);
  if (causes.length === 0) return null;
  const place = isJudged ? rungPlace(state, set) : null;
  const where = place ? placeTitle(state, place) || 'it' : '';
  const found = causes.find((c) => c.tried?.outcome?.helped);
  const take = (one: NewAct) => setFault(act(one)?.message ?? '');
  const readAgain = ({ doc }: ToRuleOut) => take({ type: 'ruling-out', set, id: doc.id, note: doc.title });
  const lookFor = ({ doc }: ToRuleOut) =>
    take({ type: 'rung-tried', ...place!, series: place!.series!, point: place!.point!, id: doc.id, note: doc.title });
  return (
    <div>
      <p className="text-sm text-soft">
        {found
          ? 'Looked for:'
          : place
            ? `Rule out first, and read ${where} once after each: only where it helps is everything read again.`
            : 'Rule out first, then read again: first what is most probable for the time it takes.'}
        {!found && ' Was the cause ours, the new readings count as found; those before stay in the record.'}
      </p>
      <ul className="ruled mt-1 border-y border-rule">
        {causes.map((cause) => {
          const { doc, probability, times, tried } = cause;
          const isRung = place !== null && tried === null;
          return (
            <li key={doc.id} className="flex items-center justify-between gap-3 py-1">
              <span className="text-sm leading-snug">
                <strong>{doc.title}.</strong> {doc.instruction}
                {tried?.outcome ? (
                  <span className={`block ${tried.outcome.helped ? 'font-semibold' : 'text-soft'}`}>{tried.outcome.words}</span>
                ) : (
                  <span className="block text-soft">
                    {[
                      ...(times > 0 || tried ? ['looked for already'] : []),
                      ...(probability === null ? [] : [percent(probability)]),
                      ...(doc.minutes === undefined ? [] : [`${doc.minutes} min`]),
                      ...(known.causes[doc.id] ? [`it was this ${timesOf(known.causes[doc.id]!)}`] : []),
                    ].join(' · ')}
                  </span>
                )}
                {doc.caution && <span className="caution mt-1 block">{doc.caution}</span>}
              </span>
              <button
                type="button"
                className={`button min-h-11 shrink-0 ${tried ? 'button-quiet' : ''}`}
                onClick={() => (isRung ? lookFor(cause) : readAgain(cause))}
              >
                {tried ? 'Read all again' : isRung ? 'Look for it' : 'Do it'}
              </button>
            </li>
          );
        })}
      </ul>
      {fault && <p className="fault">{fault}</p>}
    </div>
  );
}
