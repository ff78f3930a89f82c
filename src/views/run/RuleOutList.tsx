import { useState } from 'react';
import { isIn, noScope } from '../../core/evaluate/setting';
import { settingIn } from '../../core/run/run-results';
import { useRun } from './run-context';

/** Causes in the order of cost, each a button: after it a new set of readings begins; the first stays as evidence. */
export function RuleOutList({ set }: { set: string }) {
  const { state, act } = useRun();
  const [fault, setFault] = useState('');
  const causes = state.procedure.ruleOut.filter((r) => isIn(settingIn(state, set), r.when, noScope(set)));
  if (causes.length === 0) return null;
  return (
    <div>
      <p className="text-sm text-soft">
        Rule out first, then read again. Was the cause ours, the new readings count as found; those before stay in the record.
      </p>
      <ul className="ruled mt-1 border-y border-rule">
        {causes.map((r) => (
          <li key={r.id} className="flex items-center justify-between gap-3 py-1">
            <span className="text-sm leading-snug">
              <strong>{r.title}.</strong> {r.instruction}
              {r.caution && <span className="caution mt-1 block">{r.caution}</span>}
            </span>
            <button
              type="button"
              className="button min-h-11 shrink-0"
              onClick={() => setFault(act({ type: 'ruling-out', set, id: r.id, note: r.title })?.message ?? '')}
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
