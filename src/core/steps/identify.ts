import { codeIn } from '../register/label-code';
import { refuse } from '../state/refusal';
import { itemsAt } from '../state/run-case';
import type { Slot } from '../state/run-state';
import { columnOf, type StepContext, type StepKind } from './step-context';

/** What a marking is compared by: letters and digits; case, blanks and hyphens are not engraved alike everywhere. */
const plain = (text: string): string =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}.,]/gu, '');

/**
 * Texts of the record of which the typed one must be one; empty where the record has none.
 * @example recorded(contextOf(began, nextItem(began))).texts // ['M-1']
 */
export function recorded(c: StepContext<'identify'>): { texts: string[]; certified: number[] } {
  const { state, step, place } = c;
  const nothing = { texts: [], certified: [] };
  if (step.what === 'instrument')
    return { texts: [state.instrument.identification, state.instrument.serialNumber].filter(Boolean), certified: [] };
  if (step.what.startsWith('each.')) {
    const text = columnOf(state, step.what.slice('each.'.length), place);
    return text === undefined ? nothing : { texts: [String(text)], certified: [] };
  }
  const standards = state.standards[step.what];
  if (!standards) {
    const part = state.instrument.parts[step.what];
    return part ? { texts: [part], certified: [] } : nothing;
  }
  const items = itemsHere(c);
  if (items.length)
    return { texts: items.map((i) => i.marking || String(i.nominal)), certified: items.flatMap((i) => i.certified ?? []) };
  return { texts: standards.map((s) => s.document.identification), certified: [] };
}

/** Items of the role that are used where the step stands. */
function itemsHere({ state, step, place }: StepContext<'identify'>) {
  const series = state.procedure.series.find((s) => s.id === place.series);
  if (!series || place.point === undefined) return [];
  const uses = Object.entries(series.uses).filter(([use, doc]) => (doc.role ?? use) === step.what);
  const all = (state.standards[step.what] ?? []).flatMap((s) => [
    ...(s.document.items ?? []),
    ...(s.document.parts ?? []).flatMap((p) => p.items ?? []),
  ]);
  const ids = uses.flatMap(([use]) => itemsAt(state, { ...place, repeat: 1, observation: '' } as Slot, use) ?? []);
  return ids.flatMap((id) => all.find((i) => i.id === id) ?? []);
}

/** What is before the person is compared with the record by what is typed from it. */
export const identify: StepKind<'identify'> = {
  admit: (c, act) => {
    if (typeof act.value !== 'string' || act.value.trim() === '')
      return refuse('Type what is engraved or printed on it.', 'value');
    const { texts, certified } = recorded(c);
    // A stack is identified item by item, with blanks or plus signs between.
    const typed = codeIn(act.value);
    if (c.step.typed === 'certified') {
      const values = typed.split(/[\s;+]+/).map((t) => Number(t.replace(',', '.')));
      const matches =
        values.length === certified.length &&
        values.every((v, i) => Math.abs(v - certified[i]!) <= 1e-9 * Math.abs(certified[i]!));
      if (certified.length === 0 || matches) return null;
      return refuse(
        `The record has ${certified.join(' and ')}, not ${typed}. Compare the certificate and the standard; a mixed-up standard is the commonest mistake.`,
        'value',
      );
    }
    if (texts.length === 0) return null;
    const isOne = texts.some((t) => plain(t) === plain(typed));
    const isEach = texts.length > 1 && plain(texts.join('')) === plain(typed);
    if (isOne && (c.step.what === 'instrument' || texts.length === 1)) return null;
    if (isEach || (isOne && itemsHere(c).length === 0)) return null;
    return refuse(
      `The record says ${texts.join(c.step.what === 'instrument' ? ' or ' : ' and ')}, not ${typed}. Look again, or put the right one on the bench.`,
      'value',
    );
  },
  sentence: ({ step }) => step.ask,
  said: (_step, { value }) => String(value),
};
