import { useState } from 'react';
import type { StandardImpact } from '../../core/certificate/impact';
import { ask } from '../../ui/ask-server';
import { dayField } from '../../ui/date-input';
import { guarded } from '../../ui/guarded';
import { LongWork, useLongWork } from '../../ui/LongWork';
import { unbroken } from '../../ui/unbroken';

type Props = {
  standard: string;
  certificate: string;
  /** The day on which it was last known to be right. */ known: string;
};

/** What the certificate as it stands now makes of the calibrations that used another; none of them is rewritten. */
export const ImpactPanel = guarded(function ImpactPanel({ standard, certificate, known }: Props) {
  const [since, setSince] = useState(known);
  const { outcome, ...looking } = useLongWork((asking) =>
    ask('POST /api/standards/[id]/impact', { id: standard, body: { since } }, asking),
  );

  return (
    <div>
      <p className="text-sm text-soft">
        Calibrations that used it with other values are worked out anew with those of {certificate}. What was issued stays; a
        correction is begun from the record.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-sm text-soft">Since it was last known to be right</span>
          <input {...dayField} value={since} onChange={(e) => setSince(e.target.value)} className="figure" />
        </label>
        <LongWork {...looking} title="Work out what used it" of="runs" />
      </div>
      {outcome && <Found impact={outcome as unknown as StandardImpact} />}
    </div>
  );
});

const pair = ([before, after]: [string, string]): string => (before === after ? before : `${before} → ${after}`);

function Found({ impact: { looked, same, affected, failed, chain } }: { impact: StandardImpact }) {
  const other = affected.filter((a) => a.isJudgedOtherwise).length;
  return (
    <div className="mt-4" role="status">
      <p className="font-bold">
        {looked === 0
          ? 'No calibration used it with other values.'
          : `${looked} worked out anew: ${other} judged otherwise, ${affected.length - other} with other numbers, ${same} the same.`}
      </p>
      <ul className="mt-2 border-b border-rule">
        {affected.map((a) => (
          <li key={a.run} className="border-t border-rule py-2">
            <details>
              <summary className="flex cursor-pointer flex-wrap gap-x-4">
                <span className="ident font-bold">{a.identification}</span>
                <a href={`/runs/${a.run}`} className="ident">
                  {a.certificate}
                </a>
                <span className="figure text-soft">{a.day}</span>
                <span className={a.isJudgedOtherwise ? 'font-bold' : ''}>
                  as found {pair(a.verdicts.found)}, as left {pair(a.verdicts.left)}
                </span>
                <span className="text-soft">
                  {a.changes.length + a.more} {a.changes.length + a.more === 1 ? 'change' : 'changes'}
                </span>
              </summary>
              <table className="mt-2 w-full text-sm">
                <tbody>
                  {a.changes.map((c) => (
                    <tr key={c.what} className="border-t border-rule align-top">
                      <td className="py-1 pr-4">{c.what}</td>
                      <td className="figure py-1 pr-4 text-soft">{unbroken(c.before)}</td>
                      <td className="figure py-1">{unbroken(c.after)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {a.more > 0 && <p className="mt-1 text-sm text-soft">and {a.more} more</p>}
            </details>
          </li>
        ))}
        {failed.map((f) => (
          <li key={f.run} className="border-t border-rule py-2">
            <a href={`/runs/${f.run}`} className="ident font-bold">
              {f.identification}
            </a>{' '}
            cannot be worked out with it: {f.why}
          </li>
        ))}
      </ul>
      {chain.length > 0 && (
        <div className="mt-4">
          <h3>What rests on these in turn</h3>
          <ul className="mt-1">
            {chain.map((c) => (
              <li key={c.standard} style={{ paddingLeft: `${c.step - 1}rem` }}>
                <a href={`/standards/${c.standard}`} className="ident">
                  {c.identification}
                </a>{' '}
                by certificate {c.certificate}: {c.runs} {c.runs === 1 ? 'calibration' : 'calibrations'} used it. Enter its
                corrected certificate, then work these out.
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
