import { describe, expect, it } from 'vitest';
import { certificateOf } from '../core/certificate/certificate';
import { TestBench } from '../core/run/fixtures/bench';
import { sameResults } from '../core/certificate/same-results';

const issued = certificateOf(TestBench.micrometer().playTo('end').state, { name: 'Room', address: '' });
/** The same, with one thing in it other than it was. */
const spoilt = (change: (c: typeof issued) => void) => {
  const copy = structuredClone(issued);
  change(copy);
  return copy;
};

describe('what was issued, held against its log', () => {
  it.each<[string, (c: typeof issued) => void]>([
    ['a remark', (c) => c.remarks.push('Soak on the plate was ended early: since yesterday')],
    ['where the limits come from', (c) => (c.limitsFrom = 'By the procedure.')],
    ['the title of a result', (c) => (c.tables[0]!.result = 'Error of indication')],
    ['the name of a point', (c) => (c.tables[0]!.rows[0]!.point = 'Smallest length')],
    ['the reason of the next date', (c) => (c.next.reason = 'Fixed.')],
  ])('may be worded otherwise: %s', (_, change) => expect(sameResults(issued, spoilt(change))).toBe(true));
  it.each<[string, (c: typeof issued) => void]>([
    ['a result', (c) => (c.tables[0]!.rows[0]!.found!.value = '+9.99')],
    ['two rows exchanged', (c) => c.tables[0]!.rows.reverse()],
    ['a verdict', (c) => (c.asFound.verdict = 'fail')],
    ['whether it is complete', (c) => (c.asFound.incomplete = 'Not complete.')],
    ['the number', (c) => (c.number = 'C99-0001')],
    ['the instrument', (c) => (c.instrument.identification = 'QM-9999')],
    ['the certificate of a standard', (c) => (c.standards[0]!.certificate = 'X')],
    ['the next date', (c) => (c.next.date = '2099-01-01')],
    ['the day of issue', (c) => (c.issued = '2020-01-01')],
    ['who measured', (c) => (c.persons.measuredBy = ['Somebody'])],
  ])('is not to differ in %s', (_, change) => expect(sameResults(issued, spoilt(change))).toBe(false));
});
