import { CircleCheck, CircleX } from 'lucide-react';
import type { FunctionComparison } from '../../core/proof/published-functions';
import { plainDecimal } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { ProofTable } from './ProofTable';

const shown = (value: number, digits = 8) => plainDecimal(Number(value.toPrecision(digits))).replace('-', '−');

const asCall = ({ function: name, args }: FunctionComparison): string =>
  `${name}(${args.map((a) => String(a).replace('-', '−')).join(', ')})`;

type Props = {
  title: string;
  /** Title of the column that says what was asked. */ what: string;
  lines: FunctionComparison[];
  call?: (line: FunctionComparison) => string;
};

/** Functions against published values, one call a line. */
export function FunctionProof({ title, what, lines, call = asCall }: Props) {
  const agreeing = lines.filter((l) => l.agrees).length;
  return (
    <ProofTable
      title={`${title}: ${agreeing === lines.length ? `all ${agreeing} values agree` : `${lines.length - agreeing} of ${lines.length} values differ`}`}
      label={title}
      what={what}
    >
      {lines.map((l, i) => (
        <tr key={i} className="border-t border-rule">
          <td className="max-w-72 px-3 py-1">{i === 0 || lines[i - 1]!.source !== l.source ? l.source : ''}</td>
          <td className="px-3 py-1 font-mono text-xs">{call(l)}</td>
          <td className="figure px-3 text-right">
            {shown(l.value)} {printedUnit(l.unit)}
          </td>
          <td className="figure px-3 text-right">
            {shown(l.computed)} {printedUnit(l.unit)}
          </td>
          <td className="figure px-3 text-right text-soft">
            {shown(l.within, 2)} {printedUnit(l.unit)}
          </td>
          <td className="px-3">
            <span className={`inline-flex items-center gap-1 font-bold ${l.agrees ? 'text-verdigris' : 'text-brick'}`}>
              {l.agrees ? <CircleCheck size={15} aria-hidden /> : <CircleX size={15} aria-hidden />} {l.agrees ? 'yes' : 'no'}
            </span>
          </td>
        </tr>
      ))}
    </ProofTable>
  );
}
