import { withMinus, withPrintedUnit } from '../run/shown-value';
import type { Certificate, CertificateSet } from './certificate';
import type { CertificateTable } from './certificate-tables';
import { verdictWords } from './certificate-words';

/** Something that another issue of a certificate says otherwise. */
export type CertificateChange = { what: string; before: string; after: string };

const cellWords = (cell: { value: string; expandedUncertainty: string } | null | undefined, unit: string): string =>
  cell ? `${withMinus(cell.value)} ± ${withPrintedUnit(cell.expandedUncertainty, unit)}` : '–';

const judged = (set: CertificateSet | null): string =>
  !set ? 'nothing adjusted' : set.verdict ? verdictWords(set.verdict) : 'not judged';

/** Lines of a table by what names them. */
const rowsOf = ({ rows, ...table }: CertificateTable) =>
  new Map(
    rows.map((row) => [
      [table.result, table.of, row.sweep, row.point || row.reference].filter(Boolean).join(', '),
      {
        found: cellWords(row.found, table.units.value),
        left: cellWords(row.left, table.units.value),
      },
    ]),
  );

/**
 * What one issue says otherwise than another: verdicts, results with their uncertainties, who it is for, dates, conditions, standards.
 * Sentences are not compared.
 */
export function changesBetween(before: Certificate, after: Certificate): CertificateChange[] {
  const changes: CertificateChange[] = [];
  const compare = (what: string, a: string, b: string) => a !== b && changes.push({ what, before: a || '–', after: b || '–' });
  compare('As found', judged(before.asFound), judged(after.asFound));
  compare('As left', judged(before.asLeft), judged(after.asLeft));
  compare('Owner', before.owner, after.owner);
  compare('Identification', before.instrument.identification, after.instrument.identification);
  const conditions = (c: Certificate) => c.asFound.conditions.map((x) => `${x.title} ${x.value}`).join(', ');
  compare('Conditions', conditions(before), conditions(after));
  const standards = (c: Certificate) => c.standards.map((s) => `${s.identification} ${s.certificate}`).join(', ');
  compare('Standards', standards(before), standards(after));
  compare('Next calibration', before.next.date, after.next.date);
  const [old, now] = [before, after].map((c) => new Map(c.tables.flatMap((t) => [...rowsOf(t)])));
  for (const what of new Set([...old!.keys(), ...now!.keys()])) {
    const [a, b] = [old!.get(what), now!.get(what)];
    compare(`${what}, as found`, a?.found ?? '–', b?.found ?? '–');
    compare(`${what}, as left`, a?.left ?? '–', b?.left ?? '–');
  }
  return changes;
}
