import { describe, expect, it } from 'vitest';
import { actWords } from '../acts/words';
import { certificateOf } from '../certificate/certificate';
import type { ProcedureDocument } from '../procedure/document-schema';
import { procedureNamed, TestBench } from './fixtures/bench';
import { nextItem, sentenceOf, stageOf } from './next-step';
import { toRuleOut, type CauseCounts } from './rule-out';
import { reviewPoints } from './review-points';
import { evaluationIn, setAsFound, verdictAsFound } from './run-results';
import { lookedAt, outcomeOf, rungPlace } from './rungs';

/** A micrometer that is 6 µm off at 7.7 mm and nowhere else, with a scatter of repeats. */
const dirty = (repeats: readonly number[] = [0, 0, 0]) =>
  TestBench.micrometer().readAll((nominal, repeat) => (nominal === 7.7 ? 0.006 : 0) + repeats[repeat]!);

const at = (bench: TestBench) => {
  const { series, point, ...place } = rungPlace(bench.state, 'as-found')!;
  return { ...place, series: series!, point: point! };
};
const lookFor = (bench: TestBench, id: string, note = 'Dirt') => bench.do({ type: 'rung-tried', ...at(bench), id, note });
const reads = (bench: TestBench, id: string, text: string) =>
  bench.try({
    type: 'looked',
    ...at(bench),
    id,
    texts: text === '' ? {} : { [lookedAt(bench.state, at(bench))[0]!.observation]: text },
  });

describe('a cause is looked for at one point', () => {
  it('that was outside; then the point is read once, and the set is judged as it stands', () => {
    const bench = lookFor(dirty(), 'wipe');
    const item = nextItem(bench.state)!;
    expect(item).toMatchObject({ type: 'look', set: 'as-found', id: 'wipe' });
    expect(stageOf(bench.state, item)).toBe('judge');
    expect(sentenceOf(bench.state, item, bench.at)).toBe('7.7 mm: read it once more. Was it that?');
    const before = evaluationIn(bench.state, 'as-found');
    expect(reads(bench, 'wipe', '7,7')).toBeNull();
    expect(nextItem(bench.state)!.type).toBe('judge');
    expect(evaluationIn(bench.state, 'as-found')).toEqual(before);
    expect(verdictAsFound(bench.state)).toBe('fail');
  });
  it('helped where the point is inside now; everything is read again as a new set, and its steps are not done twice', () => {
    const bench = lookFor(dirty(), 'wipe');
    reads(bench, 'wipe', '7.700');
    const [rung] = bench.state.rungs;
    expect(outcomeOf(bench.state, rung!)).toEqual({
      helped: true,
      moved: true,
      words: expect.stringMatching(/^7\.7 mm: Error \+5\.98 µm before, −0\.02 µm now: inside$/) as string,
    });
    expect(toRuleOut(bench.state, 'as-found')[0]).toMatchObject({
      doc: { id: 'wipe' },
      times: 0,
      tried: { outcome: { helped: true } },
    });
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'wipe', note: 'Dirt' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'begin', set: 'as-found-2' });
    bench.readAll(() => 0);
    expect(nextItem(bench.state)).toMatchObject({ type: 'judge', set: 'as-found-2' });
    // Dirt on the instrument was the instrument's own: what was found stays.
    expect(setAsFound(bench.state)).toBe('as-found');
  });
  it('did not help where it reads as before: that cause comes later, and is not looked for twice in the same readings', () => {
    const bench = dirty();
    const order = () => toRuleOut(bench.state, 'as-found').map((r) => r.doc.id);
    const first = order()[0]!;
    lookFor(bench, first, 'first');
    reads(bench, first, '7.706');
    expect(outcomeOf(bench.state, bench.state.rungs[0]!)).toMatchObject({ helped: false });
    expect(outcomeOf(bench.state, bench.state.rungs[0]!)!.words).toMatch(/as before$/);
    expect(toRuleOut(bench.state, 'as-found').find((r) => r.doc.id === first)).toMatchObject({ times: 1 });
    expect(order()[0]).not.toBe(first);
    expect(bench.try({ type: 'rung-tried', ...at(bench), id: first, note: 'again' })).toContain('looked for in these readings');
  });
  it('what it was elsewhere is looked for sooner, what it never was later', () => {
    const { state } = dirty();
    const order = (elsewhere: CauseCounts) => toRuleOut(state, 'as-found', elsewhere).map((r) => r.doc.id);
    const all = order({});
    expect(order({ [all.at(-1)!]: { tried: 4000, helped: 4000 }, [all[0]!]: { tried: 4000, helped: 0 } })[0]).not.toBe(all[0]);
    const before = toRuleOut(state, 'as-found').find((r) => r.doc.id === 'wipe')!.probability!;
    const after = toRuleOut(state, 'as-found', { wipe: { tried: 4, helped: 1 } }).find((r) => r.doc.id === 'wipe')!.probability!;
    // Of six, two: against one of two.
    expect(after / before).toBeCloseTo(2 / 3, 9);
  });
  it('whether it was that is kept with what was read', () => {
    const bench = lookFor(dirty(), 'wipe');
    reads(bench, 'wipe', '7.700');
    expect(bench.events.at(-1)!.act).toMatchObject({ type: 'looked', helped: true });
    const unread = lookFor(dirty(), 'wipe');
    reads(unread, 'wipe', '');
    expect(unread.events.at(-1)!.act).not.toHaveProperty('helped');
  });
  it('moved, and is still outside, or is inside by no more than its scatter: neither counts as found', () => {
    const moved = lookFor(dirty(), 'wipe');
    reads(moved, 'wipe', '7.712');
    expect(outcomeOf(moved.state, moved.state.rungs[0]!)).toMatchObject({
      helped: false,
      words: expect.stringMatching(/moved, still outside$/) as string,
    });
    const restless = lookFor(dirty([-0.003, 0, 0.003]), 'wipe');
    reads(restless, 'wipe', '7.702');
    expect(outcomeOf(restless.state, restless.state.rungs[0]!)).toMatchObject({
      helped: false,
      words: expect.stringMatching(/by no more than its scatter$/) as string,
    });
  });
  it('with steps of its own: an answer leaves other causes out, and the steps are not done again for the new set', () => {
    const procedure = procedureNamed('outside-micrometer');
    const step = {
      kind: 'choose',
      id: 'seen',
      title: 'Seen',
      ask: 'Is anything on the faces?',
      options: [
        { id: 'dirt', title: 'Dirt' },
        { id: 'nothing', title: 'Nothing' },
      ],
    } as const;
    const own = {
      ...procedure,
      ruleOut: [
        { id: 'look', title: 'Look at the faces', minutes: 1, steps: [step] },
        { id: 'wipe', title: 'Wipe them', minutes: 3, when: { step: 'seen', is: 'dirt' } },
        { id: 'stack', title: 'Another block', minutes: 2, when: { step: 'seen', is: 'nothing' } },
      ],
    } as ProcedureDocument;
    const bench = TestBench.micrometer({}, own).readAll((nominal) => (nominal === 7.7 ? 0.006 : 0));
    lookFor(bench, 'look', 'Look at the faces');
    expect(nextItem(bench.state)).toMatchObject({ type: 'step', id: 'seen', of: 'look' });
    bench.do({ type: 'step-done', set: 'as-found', id: 'seen', value: 'dirt' });
    reads(bench, 'look', '7.706');
    expect(toRuleOut(bench.state, 'as-found').map((r) => r.doc.id)).toEqual(['wipe', 'look']);
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'look', note: 'Look at the faces' });
    expect(nextItem(bench.state)!.type).toBe('begin');
  });
  it('and may be left unread: nothing is said of it then', () => {
    const bench = lookFor(dirty(), 'wipe');
    expect(reads(bench, 'wipe', '')).toBeNull();
    expect(outcomeOf(bench.state, bench.state.rungs[0]!)).toBeNull();
    expect(toRuleOut(bench.state, 'as-found').find((r) => r.doc.id === 'wipe')).toMatchObject({
      times: 1,
      tried: { outcome: null },
    });
  });
  it('stands in the record, the review and the certificate', () => {
    const bench = lookFor(dirty(), 'wipe');
    reads(bench, 'wipe', '7.700');
    const words = bench.events.slice(-2).map((e) => actWords(e.act, bench.state));
    expect(words[0]).toContain('Looked for: Dirt; then 7.7 mm again');
    expect(words[1]).toContain('7.7 mm, read once more: ');
    const said = expect.stringMatching(/^Looked for \(Dirt\), one point read again: 7\.7 mm/) as string;
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'wipe', note: 'Dirt' }).readAll(() => 0);
    bench.playTo('end');
    expect(certificateOf(bench.state, { name: 'Works', address: '', statements: [] } as never).remarks).toContainEqual(said);
    expect(reviewPoints(bench.state, bench.events)).toContainEqual(said);
  });
});

describe('it is refused', () => {
  it('where the display cannot show it, nothing was typed, or another step is next', () => {
    const bench = dirty();
    expect(reads(bench, 'wipe', '7.7')).toContain('not what comes next');
    lookFor(bench, 'wipe');
    expect(reads(bench, 'wipe', '7.70004')).toContain('more digits than it can show');
    expect(reads(bench, 'wipe', 'seven')).not.toBeNull();
    expect(reads(bench, 'wipe', '  ')).toContain('what does it read now');
    expect(bench.try({ type: 'rung-tried', ...at(bench), id: 'unit', note: 'x' })).toContain('not what comes next');
    expect(bench.state.rungs[0]!.look).toBeNull();
  });
  it('for a cause that the procedure does not have, or a point that it does not read', () => {
    const bench = dirty();
    expect(bench.try({ type: 'rung-tried', ...at(bench), id: 'gremlins', note: 'x' })).toContain('no such cause');
    expect(bench.try({ type: 'rung-tried', ...at(bench), point: 'p99', id: 'wipe', note: 'x' })).toContain('reads nothing there');
  });
  it('no point is offered where nothing failed', () => {
    expect(rungPlace(TestBench.micrometer().readAll(() => 0).state, 'as-found')).toBeNull();
  });
});
