import { useState } from 'react';
import { howManyMore } from '../../core/run/how-many';
import { useRun } from './run-context';

/** So many points that more readings would tell are named, and the nearest of those that they would not. */
const most = 3;

/** Points that are neither clearly inside nor clearly outside, and how many more readings would tell: offered, never demanded. */
export function InDoubt({ set }: { set: string }) {
  const { state, act } = useRun();
  const [fault, setFault] = useState('');
  const all = howManyMore(state, set);
  const telling = all.filter((d) => d.more !== null);
  const [hopeless] = all.filter((d) => d.more === null);
  const doubts = [...telling.slice(0, most), ...(hopeless ? [hopeless] : [])];
  if (doubts.length === 0) return null;
  return (
    <div>
      <p className="text-sm text-soft">In doubt</p>
      <ul className="ruled mt-1 border-y border-rule">
        {doubts.map(({ place, more, words }) => (
          <li key={JSON.stringify(place)} className="flex items-center justify-between gap-3 py-1">
            <span className="text-sm leading-snug">{words}.</span>
            {more !== null && (
              <button
                type="button"
                className="button min-h-11 shrink-0"
                onClick={() => setFault(act({ type: 'more-asked', ...place, count: more })?.message ?? '')}
              >
                Take {more} more
              </button>
            )}
          </li>
        ))}
      </ul>
      {all.length > doubts.length && <p className="text-sm text-soft">and {all.length - doubts.length} more</p>}
      {fault && <p className="fault">{fault}</p>}
    </div>
  );
}
