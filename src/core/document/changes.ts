/** One difference between two revisions: where, and what stood and stands there; undefined where nothing did or does. */
export type Change = { path: string[]; before: unknown; after: unknown };

type Member = Record<string, unknown>;
const isMember = (value: unknown): value is Member => typeof value === 'object' && value !== null && !Array.isArray(value);

/** What tells one entry of a list from the others; null where only its place does. */
const nameOf = (value: unknown): string | null => {
  if (!isMember(value)) return null;
  for (const key of ['id', 'symbol', 'role', 'label']) if (typeof value[key] === 'string') return value[key];
  return null;
};

/** A list whose entries have names, as a member by name; null where they have none, or two have the same. */
function byName(list: unknown): Member | null {
  if (!Array.isArray(list)) return null;
  const names = list.map(nameOf);
  if (names.some((n) => n === null) || new Set(names).size !== names.length) return null;
  return Object.fromEntries(list.map((entry, i) => [names[i]!, entry]));
}

/** What is not a change of the procedure: its number, and its worked example. */
const passedOver = new Set(['revision', 'example']);

/**
 * What differs between two revisions of a procedure, in the order of the later one. Entries of lists are told by their names, so that
 * one put in between changes nothing of the others.
 * @example changesBetween({ title: 'A' }, { title: 'B' }) // [{ path: ['title'], before: 'A', after: 'B' }]
 */
export function changesBetween(before: unknown, after: unknown, path: string[] = []): Change[] {
  if (JSON.stringify(before) === JSON.stringify(after)) return [];
  const [a, b] = [byName(before) ?? before, byName(after) ?? after];
  if (!isMember(a) || !isMember(b)) return [{ path, before, after }];
  const keys = [...Object.keys(b), ...Object.keys(a).filter((key) => !(key in b))];
  return keys
    .filter((key) => path.length > 0 || !passedOver.has(key))
    .flatMap((key) => (key in a && key in b ? changesBetween(a[key], b[key], [...path, key]) : changed(a, b, key, path)));
}

const changed = (a: Member, b: Member, key: string, path: string[]): Change[] => [
  { path: [...path, key], before: a[key], after: b[key] },
];
