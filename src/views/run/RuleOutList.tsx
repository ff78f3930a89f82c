import { useState } from 'react';
import { toRuleOut } from '../../core/run/rule-out';
import { useRun } from './run-context';

const percent = (share: number): string => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);

/** Causes in the order in which looking for them pays, each a button: after it a new set of readings begins; the first stays as evidence. */
export function RuleOutList({ set }: { set: string }) {
  const { state, act } = useRun();
  const [fault, setFault] = useState('');
  const causes = toRuleOut(state, set);
  if (causes.length === 0) return null;
  return (
    <div>
      <p className="text-sm text-soft">
        Rule out first, then read again: first what is most probable for the time it takes. Was the cause ours, the new readings
        count as found; those before stay in the record.
      </p>
      <ul className="ruled mt-1 border-y border-rule">
        {causes.map(({ doc, probability, times }) => (
          <li key={doc.id} className="flex items-center justify-between gap-3 py-1">
            <span className="text-sm leading-snug">
              <strong>{doc.title}.</strong> {doc.instruction}
              <span className="block text-soft">
                {[
                  ...(times > 0 ? ['looked for already'] : []),
                  ...(probability === null ? [] : [percent(probability)]),
                  ...(doc.minutes === undefined ? [] : [`${doc.minutes} min`]),
                ].join(' · ')}
              </span>
              {doc.caution && <span className="caution mt-1 block">{doc.caution}</span>}
            </span>
            <button
              type="button"
              className="button min-h-11 shrink-0"
              onClick={() => setFault(act({ type: 'ruling-out', set, id: doc.id, note: doc.title })?.message ?? '')}
            >
              Do it
            </button>
          </li>
        ))}
      </ul>
      {fault && <p className="fault">{fault}</p>}
    </div>
  );
}
