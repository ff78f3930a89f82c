import { formulasIn, namesOf } from '../formula/formula';
import type { ProcedureDocument } from '../procedure/document-schema';

export type InstrumentDeclaration = {
  kind: string;
  /** The unit in which its procedures see the register; missing where they name none. */ unit?: string;
  characteristics: ProcedureDocument['instrument']['characteristics'];
  lists: ProcedureDocument['instrument']['lists'];
  parts: ProcedureDocument['instrument']['parts'];
  /** Stored values that a formula starts from; what is stored for each instance is known from adjustments only. */
  stored: ProcedureDocument['adjustments'][number]['stored'];
};
export type StandardDeclaration = {
  kind: string;
  title: string;
  properties: ProcedureDocument['standards'][number]['properties'];
  /** What its certified values are picked by, beside their nominal: the frequency of a voltage. */ columns: string[];
  /** Parts that procedures read, each with its unit where they name one. */ parts: { id: string; unit: string }[];
};

const byId = <T extends { id: string }>(list: readonly T[]): T[] => [...new Map(list.map((x) => [x.id, x])).values()];

function storedInFormulas(document: ProcedureDocument) {
  const names = new Set(formulasIn(document).flatMap(namesOf));
  const named = (id: string) => names.has(`stored.${id}`);
  return document.adjustments.flatMap((a) => (a.separately ? [] : a.stored.filter((s) => named(s.id))));
}

/** What procedures ask a register to state of instruments, kind by kind. @example instrumentDeclarations([document]).length // 1 */
export function instrumentDeclarations(documents: readonly ProcedureDocument[]): InstrumentDeclaration[] {
  const kinds = [...new Set(documents.flatMap((d) => d.instrument.kinds))].sort();
  return kinds.map((kind) => {
    const followed = documents.filter((d) => d.instrument.kinds.includes(kind));
    const own = followed.map((d) => d.instrument);
    const unit = own.find((i) => i.unit !== undefined)?.unit;
    return {
      kind,
      ...(unit === undefined ? {} : { unit }),
      characteristics: byId(own.flatMap((i) => i.characteristics)),
      lists: byId(own.flatMap((i) => i.lists)),
      parts: byId(own.flatMap((i) => i.parts)),
      stored: byId(followed.flatMap(storedInFormulas)),
    };
  });
}

/** What they ask it to state of standards, kind by kind. @example standardDeclarations([document]).length // 1 */
export function standardDeclarations(documents: readonly ProcedureDocument[]): StandardDeclaration[] {
  const roles = documents.flatMap((d) => d.standards);
  const kinds = [...new Set(roles.flatMap((r) => r.kinds ?? []))].sort();
  return kinds.map((kind) => {
    const own = roles.filter((r) => r.kinds?.includes(kind));
    const uses = documents.flatMap((d) => {
      const ids = d.standards.filter((r) => r.kinds?.includes(kind)).map((r) => r.role);
      const all = d.series.flatMap((s) => Object.entries(s.uses));
      return all.flatMap(([use, u]) => (ids.includes(u.role ?? use) ? [u] : []));
    });
    return {
      kind,
      title: own[0]!.title,
      properties: byId(own.flatMap((r) => r.properties)),
      columns: [...new Set(uses.flatMap((u) => Object.keys(u.where ?? {})))],
      parts: byId(uses.flatMap((u) => (u.part === undefined ? [] : [{ id: u.part, unit: u.unit ?? '' }]))),
    };
  });
}

const namesStored = (text: string): boolean => namesOf(text).some((name) => name.startsWith('stored.'));

/**
 * Whether a value is how far something is moved and not one that the instrument holds: a shift that starts from no stored value. Of it
 * there is nothing to read before, and nothing to read back.
 * @example isMove({ kind: 'offset', stored: [] }) // false
 */
export const isMove = (
  { kind, stored }: Pick<ProcedureDocument['adjustments'][number], 'kind' | 'stored'>,
  id: string,
): boolean => {
  const proposed = stored.find((s) => s.id === id)?.proposed;
  return kind === 'offset' && proposed !== undefined && !formulasIn(proposed).some(namesStored);
};
