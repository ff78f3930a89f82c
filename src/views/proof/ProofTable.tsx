import type { ReactNode } from 'react';

/** A section of Proof: its heading and a table whose last column says whether computed and published agree. */
export function ProofTable(props: { title: string; label: string; what: string; hasDifference?: boolean; children: ReactNode }) {
  const numbers = ['Published', 'Computed', ...(props.hasDifference ? ['Difference'] : []), 'Allowed'];
  return (
    <section className="mt-6">
      <h2>{props.title}</h2>
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={props.label}>
        <table className="mt-2 w-full border-collapse bg-sheet text-sm">
          <thead>
            <tr className="border-y border-rule-strong [&>th]:px-3 [&>th]:py-1.5">
              <th scope="col">Source</th>
              <th scope="col">{props.what}</th>
              {numbers.map((title) => (
                <th key={title} scope="col" className="text-right">
                  {title}
                </th>
              ))}
              <th scope="col">Agrees</th>
            </tr>
          </thead>
          <tbody>{props.children}</tbody>
        </table>
      </div>
    </section>
  );
}
