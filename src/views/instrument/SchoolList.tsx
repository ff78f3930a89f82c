import { schoolTitles, type Proposal } from '../../core/interval/proposal';

/** What every school says, the chosen one first; each opens to what it rests on. */
export function SchoolList({ all, chosen, isOpen = false }: { all: readonly Proposal[]; chosen: Proposal; isOpen?: boolean }) {
  const ordered = [chosen, ...all.filter((p) => p.school !== chosen.school)];
  return (
    <ul className="ruled border-y border-rule bg-sheet">
      {ordered.map((p, i) => (
        <li key={p.school}>
          <details open={isOpen && i === 0}>
            <summary className="grid cursor-pointer grid-cols-[1fr_auto] items-baseline gap-x-4 px-4 py-2.5 sm:grid-cols-[15rem_7rem_1fr]">
              <span className={i === 0 ? 'font-bold' : ''}>{schoolTitles[p.school]}</span>
              <span className={`figure text-right sm:text-left ${i === 0 ? 'font-bold' : ''}`}>{p.date ?? '–'}</span>
              <span className="col-span-2 text-sm sm:col-span-1">{p.reason}</span>
            </summary>
            <dl className="grid gap-1 px-4 pb-3 text-sm text-soft sm:grid-cols-[15rem_1fr]">
              <dt>What it takes for granted</dt>
              <dd>{p.assumes}</dd>
              <dt>How sure it is</dt>
              <dd>{p.sure}</dd>
            </dl>
          </details>
        </li>
      ))}
    </ul>
  );
}
