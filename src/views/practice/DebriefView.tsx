import { CircleCheck, CircleX } from 'lucide-react';
import type { Debrief, FaultTold } from '../../core/practice/debrief-shape';
import { guarded } from '../../ui/guarded';
import { BeginCase } from './BeginCase';

const remedies: Record<FaultTold['remedy'], string> = {
  look: 'Looking for it takes it away; an adjustment only hides it.',
  adjust: 'It is the instrument’s own, and an adjustment takes it away.',
  none: 'It is the instrument’s own, and nothing that is done here takes it away: leave it outside, or break off as damaged.',
};

type Props = { caseId: string; title: string; procedure: string; person: string; by: string; debrief: Debrief };

/** How a practice run went: what it was, what was done, what somebody with experience would have done. */
export const DebriefView = guarded(function DebriefView({ caseId, title, procedure, person, by, debrief: d }: Props) {
  return (
    <>
      <p className="text-sm text-soft">
        Practice of {by} · {procedure}
      </p>
      <h1>{title}</h1>
      <p className={`mt-3 flex items-center gap-2 text-2xl ${d.isSolved ? 'text-verdigris' : 'text-brick'}`}>
        {d.isSolved ? <CircleCheck aria-hidden /> : <CircleX aria-hidden />} {d.isSolved ? 'Solved' : 'Not solved'}
      </p>
      <div className="mt-5 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <section>
          <h2>What it was</h2>
          {d.faults.length === 0 && <p className="mt-2">Nothing: instrument, standards and bench were in order.</p>}
          <ul className="mt-2 flex flex-col gap-3">
            {d.faults.map((f) => (
              <li key={f.kind} className="border-t border-rule pt-2">
                <strong>{f.title}.</strong> {f.behind === null ? 'The instrument itself.' : `Behind it: ${f.behind}.`}{' '}
                {remedies[f.remedy]}
                <span className="mt-1 flex flex-wrap gap-x-5 text-sm">
                  <Mark is={f.isFound} yes="Dealt with" no="Not dealt with" />
                  <Mark is={f.isNamed} yes="Said" no="Not said" />
                </span>
              </li>
            ))}
          </ul>
          {d.mistakes.length > 0 && (
            <ul className="fault mt-4 flex flex-col gap-1">
              {d.mistakes.map((m) => (
                <li key={m}>{m}</li>
              ))}
            </ul>
          )}
          {d.isLeftInside !== null && (
            <p className="mt-4">As it was left it really is {d.isLeftInside ? 'inside its limits' : 'outside its limits'}.</p>
          )}
        </section>
        <section>
          <h2>What it took</h2>
          <table className="mt-2 w-full max-w-md">
            <thead>
              <tr>
                <th />
                <th className="!text-right">{by}</th>
                <th className="!text-right">With experience</th>
              </tr>
            </thead>
            <tbody>
              <Row title="Minutes" own={d.spent.minutes} expert={d.expert.minutes} />
              <Row title="Readings" own={d.spent.readings} expert={d.expert.readings} />
            </tbody>
          </table>
          {d.faults.length > 0 && <Told told={d.told} />}
          <h3 className="mt-5">Somebody with experience</h3>
          <ol className="mt-1 list-decimal pl-5">
            {d.expert.decisions.map((words, i) => (
              <li key={`${i} ${words}`}>{words}</li>
            ))}
          </ol>
        </section>
      </div>
      <div className="mt-8 flex flex-wrap gap-3">
        <BeginCase caseId={caseId} person={person} isMain>
          Again, drawn anew
        </BeginCase>
        <a className="button" href="/practice">
          Another case
        </a>
      </div>
    </>
  );
});

function Mark({ is, yes, no }: { is: boolean; yes: string; no: string }) {
  return (
    <span className={`inline-flex items-center gap-1 ${is ? 'text-verdigris' : 'text-brick'}`}>
      {is ? <CircleCheck size={15} aria-hidden /> : <CircleX size={15} aria-hidden />} {is ? yes : no}
    </span>
  );
}

function Row({ title, own, expert }: { title: string; own: number; expert: number }) {
  return (
    <tr className="border-t border-rule">
      <td className="py-1">{title}</td>
      <td className="figure text-right">{own}</td>
      <td className="figure text-right">{expert}</td>
    </tr>
  );
}

/** Where in the row of readings the first fault could be told from them alone. */
function Told({ told }: { told: Debrief['told'] }) {
  if (!told) return <p className="mt-4">The readings as found alone do not tell the first of these: it has to be looked for.</p>;
  const at = (100 * told.after) / told.of;
  return (
    <figure className="mt-4 max-w-md">
      <svg viewBox="0 0 300 26" className="w-full" role="img" aria-label={`Told after ${told.after} of ${told.of} readings`}>
        <rect x="0" y="14" width="300" height="6" className="fill-rule" />
        <rect x={3 * at} y="14" width={300 - 3 * at} height="6" className="fill-verdigris" />
        <path d={`M${3 * at} 4v20`} className="stroke-ink" strokeWidth="2" />
      </svg>
      <figcaption className="text-sm">
        The readings said so after {told.after} of {told.of}.
      </figcaption>
    </figure>
  );
}
