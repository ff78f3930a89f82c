import type { ConnectorEnd, ConnectQuestion } from './connect-schema';

export type ConnectAnswer =
  { chain: string[]; delay: number; loss: number; standardUncertainty: number } | { chain: null; why: string };

type Adapter = ConnectQuestion['adapters'][number];
/** Adapters with the same two ends: which of them is used makes no difference to where the way leads. */
type Group = { ends: readonly [ConnectorEnd, ConnectorEnd]; members: Adapter[] };
/** A way so far: the groups in their order, and the end that is still open. */
type Way = { groups: number[]; open: ConnectorEnd };

const opposite = { male: 'female', female: 'male' } as const;
const endKey = ({ family, gender }: ConnectorEnd): string => `${family}|${gender ?? ''}`;

/** Whether two ends may be put together. */
export function mates(a: ConnectorEnd, b: ConnectorEnd, { mates, never }: Pick<ConnectQuestion, 'mates' | 'never'>): boolean {
  const isPair = (pairs: readonly (readonly [string, string])[]) =>
    pairs.some(([x, y]) => (x === a.family && y === b.family) || (x === b.family && y === a.family));
  const isOpposite = a.gender === null ? b.gender === null : b.gender === opposite[a.gender];
  return isOpposite && (a.family === b.family || isPair(mates)) && !isPair(never);
}

/** Of each group those of least uncertainty first, then by their ids. */
function groupsOf(adapters: readonly Adapter[]): Group[] {
  const groups = new Map<string, Group>();
  for (const a of adapters) {
    const key = a.ends.map(endKey).sort().join('\n');
    const group = groups.get(key) ?? { ends: a.ends, members: [] };
    groups.set(key, group);
    group.members.push(a);
  }
  for (const { members } of groups.values())
    members.sort((a, b) => a.standardUncertainty - b.standardUncertainty || (a.id < b.id ? -1 : 1));
  return [...groups.values()];
}

/** The adapters of a way: of each group as many of the best as it uses, their ids in order along the way. */
function adaptersOf({ groups: indices }: Way, groups: readonly Group[]): Adapter[] {
  const waiting = new Map<number, Adapter[]>();
  for (const i of new Set(indices)) {
    const used = groups[i]!.members.slice(0, indices.filter((k) => k === i).length);
    waiting.set(
      i,
      used.sort((a, b) => (a.id < b.id ? -1 : 1)),
    );
  }
  return indices.map((i) => waiting.get(i)!.shift()!);
}

const varianceOf = (adapters: readonly Adapter[]): number => adapters.reduce((sum, a) => sum + a.standardUncertainty ** 2, 0);

/** Orders ways of one length: less uncertainty first, then by the ids, as text. */
function isBetter(a: readonly Adapter[], b: readonly Adapter[]): boolean {
  const [va, vb] = [varianceOf(a), varianceOf(b)];
  // Sums in another order differ in their last bits: that is no difference.
  if (Math.abs(va - vb) > 1e-12 * Math.max(va, vb)) return va < vb;
  const at = a.findIndex(({ id }, i) => id !== b[i]!.id);
  return at >= 0 && a[at]!.id < b[at]!.id;
}

/** More ways than this of one length are not followed. */
const mostWays = 20_000;

/**
 * The shortest way from one connector to another: fewest adapters, then least uncertainty, then by the ids in their order. Each adapter
 * is used once, either way round. Delays and losses add, uncertainties in quadrature.
 * @example connect({ from: { family: 'N', gender: 'male' }, to: { family: 'N', gender: 'female' }, mates: [], never: [], adapters: [] }).chain // []
 */
export function connect(question: ConnectQuestion): ConnectAnswer {
  const { from, to, adapters } = question;
  const fits = (a: ConnectorEnd, b: ConnectorEnd) => mates(a, b, question);
  if (fits(from, to)) return { chain: [], delay: 0, loss: 0, standardUncertainty: 0 };
  const most = Math.min(question.most ?? Infinity, adapters.length);
  const groups = groupsOf(adapters);
  const turns = groups.flatMap(({ ends: [a, b] }, group) => [
    { group, near: a, far: b },
    { group, near: b, far: a },
  ]);
  const left = stepsLeft(turns, to, fits);
  let ways: Way[] = [{ groups: [], open: from }];
  for (let length = 1; length <= most && ways.length > 0; length++) {
    let best: Adapter[] | null = null;
    const next = new Map<string, Way>();
    for (const way of ways)
      for (const { group, near, far } of turns) {
        const used = way.groups.filter((g) => g === group).length;
        const toGo = left.get(endKey(far));
        if (used >= groups[group]!.members.length || toGo === undefined || length + toGo > most || !fits(way.open, near))
          continue;
        const made = { groups: [...way.groups, group], open: far };
        if (toGo === 0) {
          const chain = adaptersOf(made, groups);
          if (!best || isBetter(chain, best)) best = chain;
          continue;
        }
        const key = `${[...made.groups].sort((a, b) => a - b).join()}|${endKey(far)}`;
        const known = next.get(key);
        if (!known || isBetter(adaptersOf(made, groups), adaptersOf(known, groups))) next.set(key, made);
      }
    if (best)
      return {
        chain: best.map((a) => a.id),
        delay: best.reduce((sum, a) => sum + a.delay, 0),
        loss: best.reduce((sum, a) => sum + a.loss, 0),
        standardUncertainty: Math.sqrt(varianceOf(best)),
      };
    ways = [...next.values()];
    if (ways.length > mostWays)
      ways = ways.sort((a, b) => varianceOf(adaptersOf(a, groups)) - varianceOf(adaptersOf(b, groups))).slice(0, mostWays);
  }
  return {
    chain: null,
    why: `One adapter with ${matingEnd(from)} at one end and ${matingEnd(to)} at the other would do.`,
  };
}

const matingEnd = ({ family, gender }: ConnectorEnd): string => (gender === null ? family : `${family} ${opposite[gender]}`);

/** For each open end: how many more adapters the goal takes at the least, each used as often as one likes; absent where it cannot be reached. */
function stepsLeft(
  turns: readonly { near: ConnectorEnd; far: ConnectorEnd }[],
  to: ConnectorEnd,
  fits: (a: ConnectorEnd, b: ConnectorEnd) => boolean,
): Map<string, number> {
  const known = new Map(turns.filter(({ far }) => fits(far, to)).map(({ far }) => [endKey(far), 0]));
  for (let steps = 1, isMore = true; isMore; steps++) {
    // Ends that mate with an adapter whose other end is one step nearer.
    const reached = turns.filter(
      ({ far }) => !known.has(endKey(far)) && turns.some((t) => known.get(endKey(t.far)) === steps - 1 && fits(far, t.near)),
    );
    for (const { far } of reached) known.set(endKey(far), steps);
    isMore = reached.length > 0;
  }
  return known;
}
