import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { connect } from './connect';
import { connectSchema, type ConnectQuestion } from './connect-schema';

const end = (text: string) => {
  const [family, gender] = text.split('/');
  return { family, gender: gender === 'm' ? 'male' : gender === 'f' ? 'female' : null };
};
const adapter = (id: string, a: string, b: string, more: object = {}) => ({ id, ends: [end(a), end(b)], ...more });
const ask = (from: string, to: string, adapters: object[], more: object = {}) =>
  connect(connectSchema.parse({ from: end(from), to: end(to), adapters, ...more }));

/** Every way there is, by trying them all: what the search is held against. */
function allWays(q: ConnectQuestion): { ids: string[]; variance: number } | null {
  const pair = (pairs: readonly (readonly string[])[], a: string, b: string) =>
    pairs.some((p) => (p[0] === a && p[1] === b) || (p[0] === b && p[1] === a));
  type End = ConnectQuestion['from'];
  const fits = (a: End, b: End) =>
    (a.gender === null ? b.gender === null : b.gender !== null && a.gender !== b.gender) &&
    (a.family === b.family || pair(q.mates, a.family, b.family)) &&
    !pair(q.never, a.family, b.family);
  let best: { ids: string[]; variance: number } | null = null;
  const less = (a: NonNullable<typeof best>, b: NonNullable<typeof best>) =>
    a.ids.length !== b.ids.length
      ? a.ids.length < b.ids.length
      : Math.abs(a.variance - b.variance) > 1e-9
        ? a.variance < b.variance
        : a.ids.join('\n') < b.ids.join('\n');
  const walk = (open: End, ids: string[], variance: number) => {
    if (fits(open, q.to) && (!best || less({ ids, variance }, best))) best = { ids, variance };
    if (ids.length >= (q.most ?? 99) || (best && ids.length >= best.ids.length)) return;
    for (const a of q.adapters)
      if (!ids.includes(a.id))
        for (const [near, far] of [a.ends, [a.ends[1], a.ends[0]]] as const)
          if (fits(open, near)) walk(far, [...ids, a.id], variance + a.standardUncertainty ** 2);
  };
  walk(q.from, [], 0);
  return best;
}

describe('the way from one connector to another', () => {
  it('is none where they mate: opposite genders of one family, or both without', () => {
    expect(ask('N/f', 'N/m', [])).toEqual({ chain: [], delay: 0, loss: 0, standardUncertainty: 0 });
    expect(ask('APC', 'APC', [])).toMatchObject({ chain: [] });
    expect(ask('N/f', 'N/f', [])).toMatchObject({ chain: null });
  });
  it('families that mate are said, either way round; those that would do damage are refused even then', () => {
    const mates = [['3.5 mm', 'SMA']];
    expect(ask('SMA/f', '3.5 mm/m', [], { mates })).toMatchObject({ chain: [] });
    expect(ask('SMA/f', '3.5 mm/m', [], { mates, never: [['SMA', '3.5 mm']] })).toMatchObject({ chain: null });
  });
  it('takes an adapter either way round, adds delays and losses, and uncertainties in quadrature', () => {
    const answer = ask('N/f', '2.92/f', [
      adapter('B', '2.92/m', 'SMA/f', { delay: 40, loss: 0.1, standardUncertainty: 0.3 }),
      adapter('A', 'N/m', 'SMA/m', { delay: 92, loss: 0.05, standardUncertainty: 0.4 }),
    ]);
    expect(answer).toMatchObject({ chain: ['A', 'B'], delay: 132, standardUncertainty: 0.5 });
    expect((answer as { loss: number }).loss).toBeCloseTo(0.15, 12);
  });
  it('of the same number takes the less uncertain, then the first by its id', () => {
    const two = (u: number) => [
      adapter('a9', 'N/m', 'SMA/f', { standardUncertainty: u }),
      adapter('a10', 'N/m', 'SMA/f', { standardUncertainty: 0.2 }),
    ];
    expect(ask('N/f', 'SMA/m', two(0.1))).toMatchObject({ chain: ['a9'] });
    expect(ask('N/f', 'SMA/m', two(0.2))).toMatchObject({ chain: ['a10'] });
  });
  it('uses each adapter once, and says which one would do where there is no way', () => {
    const back = [adapter('A', 'N/m', 'X/m'), adapter('B', 'X/f', 'X/f')];
    expect(ask('N/f', 'N/f', back)).toEqual({
      chain: null,
      why: 'One adapter with N male at one end and N male at the other would do.',
    });
    expect(ask('N/f', 'N/f', [...back, adapter('C', 'N/m', 'X/m')])).toMatchObject({ chain: ['A', 'B', 'C'] });
    expect(ask('N/f', 'N/f', [...back, adapter('C', 'N/m', 'X/m')], { most: 2 })).toMatchObject({ chain: null });
  });
  it('is the best of all ways that there are', () => {
    let state = 7;
    const random = (n: number) => ((state = (state * 48271) % 2147483647), state % n);
    const families = ['N', 'SMA', '3.5', 'K'];
    const anyEnd = () => ({
      family: families[random(4)]!,
      gender: (['male', 'female', null] as const)[random(8) === 0 ? 2 : random(2)]!,
    });
    let found = 0;
    for (let i = 0; i < 600; i++) {
      const question = connectSchema.parse({
        from: anyEnd(),
        to: anyEnd(),
        mates: random(2) ? [['3.5', 'SMA']] : [],
        never: random(3) === 0 ? [['K', '3.5']] : [],
        adapters: Array.from({ length: random(8) }, (_, k) => ({
          id: `a${(k * 7) % 11}`,
          ends: [anyEnd(), anyEnd()],
          standardUncertainty: random(3) / 10,
        })),
        ...(random(3) ? {} : { most: random(4) }),
      });
      const best = allWays(question);
      const answer = connect(question);
      expect(answer.chain, JSON.stringify(question)).toEqual(best?.ids ?? null);
      if (best && best.ids.length > 0) found++;
    }
    expect(found).toBeGreaterThan(60);
  });
  it('is told quickly among hundreds of adapters of a few kinds', () => {
    const many = Array.from({ length: 400 }, (_, i) =>
      adapter(`a${i}`, `F${i % 9}/m`, `F${(i % 9) + 1}/f`, { standardUncertainty: (i % 13) / 100 }),
    );
    expect(ask('F0/f', 'F9/m', many)).toMatchObject({ chain: expect.any(Array) as string[] });
    expect((ask('F0/f', 'F9/m', many) as { chain: string[] }).chain).toHaveLength(9);
  });
  it('at the door: an id that is there twice is refused', async () => {
    const twice = { from: end('N/f'), to: end('N/f'), adapters: [adapter('A', 'N/m', 'N/m'), adapter('A', 'N/m', 'N/m')] };
    expect(await answerVerb('connect', JSON.stringify(twice))).toMatchObject({
      refusal: { error: { path: ['adapters', 1, 'id'] } },
    });
    expect(await answerVerb('connect', JSON.stringify({ ...twice, adapters: twice.adapters.slice(1) }))).toMatchObject({
      document: { chain: ['A'] },
    });
  });
  it('refuses names that are longer than any connector has, wherever they stand', async () => {
    const long = 'N'.repeat(61);
    const plain = { from: end('N/m'), to: end('N/f'), adapters: [] };
    for (const more of [{ from: { family: long, gender: null } }, { mates: [['N', long]] }, { never: [[long, 'N']] }])
      expect(await answerVerb('connect', JSON.stringify({ ...plain, ...more }))).toMatchObject({ ok: false });
  });
});
