import {
  findingKinds,
  findingOutcomes,
  findingSchema,
  takesOutOfUse,
  uncoveredSince,
  type Finding,
} from '../../core/register/finding';
import { LineForm } from './LineForm';

type Props = {
  instrument: string;
  /** Latest first. */ findings: readonly Finding[];
  lastCalibrated: string | null;
  today: string;
};

/** Damage, worn parts, maintenance and repairs of an instrument, apart from its calibrations, with what followed. */
export function Findings({ instrument, findings, lastCalibrated, today }: Props) {
  const uncovered = uncoveredSince([...findings].reverse(), lastCalibrated);
  const options = (titles: Record<string, string>) => Object.entries(titles).map(([value, title]) => ({ value, title }));
  return (
    <section aria-label="Findings">
      <h2>Findings beside calibration</h2>
      {uncovered && (
        <p className="caution mt-2">
          Repaired on {uncovered.day}, since its last calibration: what was certified before does not cover it. Calibrate it
          before it is used.
        </p>
      )}
      {findings.length > 0 && (
        <ul className="ruled mt-2 border-y border-rule bg-sheet">
          {findings.map((f, i) => (
            <li key={i} className="grid gap-x-4 px-4 py-2 sm:grid-cols-[7rem_8rem_1fr_14rem]">
              <span className="figure">{f.day}</span>
              <span className="font-bold">{findingKinds[f.kind]}</span>
              <span>{f.text}</span>
              <span className={takesOutOfUse(f.outcome) ? 'text-brick' : 'text-soft'}>
                {findingOutcomes[f.outcome]}
                <span className="block text-sm text-soft">{f.person}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <LineForm
        said={findings.length === 0 ? 'None noted.' : 'Another:'}
        instrument={instrument}
        to="POST /api/instruments/[id]/findings"
        schema={findingSchema}
        initially={{ day: today, kind: 'damage', text: '', outcome: 'none' }}
        fields={[
          { name: 'kind', title: 'What', type: 'choice', options: options(findingKinds) },
          { name: 'text', title: 'Found or done', type: 'text', longest: 500 },
          { name: 'outcome', title: 'What follows', type: 'choice', options: options(findingOutcomes) },
          { name: 'day', title: 'on', type: 'day' },
        ]}
        does="Note it"
      />
    </section>
  );
}
