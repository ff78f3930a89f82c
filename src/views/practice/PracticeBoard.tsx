import { faultKinds, faultTitles } from '../../core/practice/debrief-shape';
import { guarded } from '../../ui/guarded';
import { BeginCase } from './BeginCase';

type Case = { id: string; title: string; discipline: string; level: string; procedure: string; solved: number; tried: number };
type Progress = { person: string; kind: string; met: number; found: number };
type Props = {
  person: string;
  cases: Case[];
  open: { id: string; title: string; startedAt: string }[];
  progress: Progress[];
  recent: { id: string; person: string; title: string; endedAt: string; isSolved: boolean }[];
};

/** Cases to practise on, and how everybody has come on. */
export const PracticeBoard = guarded(function PracticeBoard({ person, cases, open, progress, recent }: Props) {
  const disciplines = [...new Set(cases.map((c) => c.discipline))].sort();
  return (
    <>
      <h1>Practice</h1>
      <p className="mt-1 max-w-3xl text-soft">
        Made-up instruments with hidden faults, on the screens of the bench. Find what is wrong and mend it, or see that nothing
        is; sizes and places are drawn anew each time, and nothing enters the records.
      </p>
      {open.length > 0 && (
        <p className="caution mt-4">
          On the practice bench:{' '}
          {open.map((p) => (
            <a key={p.id} className="mr-4" href={`/practice/${p.id}`}>
              {p.title}
            </a>
          ))}
        </p>
      )}
      {cases.length === 0 && <p className="mt-4">There is no procedure in the library that a case is made for.</p>}
      <div className="mt-6 gap-x-12 lg:columns-2">
        {disciplines.map((discipline) => (
          <section key={discipline} className="mb-6 break-inside-avoid">
            <h2>{discipline}</h2>
            <ul className="mt-1">
              {cases
                .filter((c) => c.discipline === discipline)
                .map((c) => (
                  <li
                    key={c.id}
                    className="grid items-center gap-x-4 border-t border-rule py-1.5 sm:grid-cols-[minmax(0,1fr)_4rem_7rem_5.5rem]"
                  >
                    <span>
                      {c.title}
                      <span className="block text-sm text-soft">{c.procedure}</span>
                    </span>
                    <span className="text-sm">{c.level}</span>
                    <span className="text-sm text-soft">{c.tried === 0 ? '' : `solved ${c.solved} of ${c.tried}`}</span>
                    <BeginCase caseId={c.id} person={person}>
                      Begin
                    </BeginCase>
                  </li>
                ))}
            </ul>
          </section>
        ))}
      </div>
      {progress.length > 0 && <ProgressTable progress={progress} />}
      {recent.length > 0 && (
        <section className="mt-8">
          <h2>Gone through lately</h2>
          <ul className="mt-1">
            {recent.map((p) => (
              <li key={p.id} className="flex flex-wrap gap-x-5 border-t border-rule py-1">
                <span className="figure text-sm">{p.endedAt.slice(0, 10)}</span>
                <a href={`/practice/${p.id}`}>{p.title}</a>
                <span>{p.person}</span>
                <span className={p.isSolved ? 'text-verdigris' : 'text-brick'}>{p.isSolved ? 'solved' : 'not solved'}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
});

/** Of each person and each kind of fault how often it was met, found and said: what a supervisor goes by. */
function ProgressTable({ progress }: { progress: Progress[] }) {
  const people = [...new Set(progress.map((p) => p.person))].sort();
  const kinds = [...faultKinds, 'nothing' as const].filter((k) => progress.some((p) => p.kind === k));
  const titleOf = (kind: (typeof kinds)[number]) => (kind === 'nothing' ? 'Nothing was wrong' : faultTitles[kind]);
  return (
    <section className="mt-8 overflow-x-auto">
      <h2>Who has found what</h2>
      <table className="mt-2">
        <thead>
          <tr>
            <th className="pr-6">Fault</th>
            {people.map((p) => (
              <th key={p} className="px-3 !text-right">
                {p}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {kinds.map((kind) => (
            <tr key={kind} className="border-t border-rule">
              <td className="py-1 pr-6">{titleOf(kind)}</td>
              {people.map((who) => {
                const count = progress.find((p) => p.person === who && p.kind === kind);
                return (
                  <td key={who} className="px-3 text-right">
                    {count && (
                      <>
                        <span className="figure">
                          {count.found} of {count.met}
                        </span>
                        <svg viewBox="0 0 60 5" width="60" height="5" aria-hidden className="ml-auto block">
                          <rect width="60" height="5" className="fill-rule" />
                          <rect width={(60 * count.found) / count.met} height="5" className="fill-verdigris" />
                        </svg>
                      </>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
