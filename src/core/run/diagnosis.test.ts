import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { normalDeviate, seededRandom } from '../../bench/random';
import { causes } from '../diagnose/diagnose-schema';
import { readDocument } from '../document/read-document';
import { DocumentError } from '../faults';
import { adjustmentAdvice } from './adjustment-advice';
import { diagnose, openQuestions, probabilityOf, scatterIn, takeAnswer, unmendable } from './diagnosis';
import { errorsTogether } from './errors-together';
import { procedureNamed, setups, TestBench } from './fixtures/bench';
import { judged } from './fixtures/judged';
import { errorOf, reads, setup as made } from './fixtures/made';
import { placedPoint } from '../state/run-state';
import type { JudgedPoint } from './judged-points';
import { nextItem } from './next-step';
import { toRuleOut } from './rule-out';

/** Points of 1 to n mm with their repeats, in µm, and limits. */
const points = (repeats: number[][], resolution: number | null): JudgedPoint[] =>
  repeats.map((r, i) => ({
    place: { set: 'as-found', series: 'error', point: `p${i + 1}` },
    title: `${i + 1} mm`,
    value: r.reduce((a, b) => a + b, 0) / r.length,
    result: { limits: { lower: -4, upper: 4 } } as JudgedPoint['result'],
    nominal: i + 1,
    resolution,
    repeats: r,
  }));
const scatter = (repeats: number[][], resolution: number | null = 1) =>
  scatterIn({ all: points(repeats, resolution), unit: 'um', shownIn: 'um' });
const limit = 0.004;

describe('a point that scatters', () => {
  const steady = [0, 1, 2, 3, 4].map((v) => [v, v, v]);
  it('is not one whose display shows a step to either side of its middle; three steps are', () => {
    expect(scatter([...steady, [5, 6, 7]])).toBeNull();
    expect(scatter([...steady, [4, 6, 8]])!.sentence).toContain('6 mm scatter far more');
  });
  it('nor one that differs by the one step in which all differ, whoever states the display', () => {
    expect(scatter([...steady, [5, 5, 6]], null)).toBeNull();
    expect(
      scatter(
        [
          [0, 0.31, 0.02],
          [1, 1.22, 1.13],
          [2.3, 2, 2.1],
          [9, 3, 6.1],
        ],
        null,
      )!.scatter,
    ).toContain('4 mm (s = 3.0 µm');
  });
  it('is told where it is by a third of the limit, and not among three points', () => {
    const wide = [
      [0, 3],
      [1, 4],
      [2, 5],
      [3, 6],
    ];
    expect(scatter(wide, 0)!.sentence).toContain('scatter by 2.1 µm (s)');
    expect(scatter(wide.slice(0, 3), 0)).toBeNull();
  });
});

describe('what the errors of a run look like', () => {
  const random = seededRandom(11);
  const own = () => 0.0001 * normalDeviate(random);
  const faults: [string, (nominal: number) => number, string][] = [
    ['a constant', () => 0.9 * limit, 'offset'],
    ['a slope', (n) => (1.3 * limit * n) / 25, 'slope'],
    ['a bend', (n) => (1.2 * limit * 4 * n * (25 - n)) / 625, 'curve'],
    ['one block', (n) => (Math.abs(n - 12.9) < 0.1 ? 1.2 * limit : 0), 'odd-point'],
  ];
  it.each(faults)('%s is called what it is', (_, error, kind) => {
    const { state } = TestBench.micrometer().readAll((nominal) => error(nominal) + own());
    const told = diagnose(state, 'as-found');
    expect(told.kind).toBe(kind);
    expect(told.looks[0]!.probability).toBeGreaterThan(0.8);
    expect(told.looks.reduce((sum, l) => sum + l.probability, 0)).toBeCloseTo(1, 9);
    expect(told.unexplained!).toBeLessThan(0.3 * limit);
  });
  it('says how large it is, and in words of the trade what it mostly is', () => {
    const { looks } = diagnose(judged(() => 0.9, 0.02, 3).state, 'as-found');
    expect(Math.abs(looks[0]!.size['offset']! - 0.9 * limit)).toBeLessThan(0.1 * limit);
    expect(looks[0]!.sentence).toMatch(
      /^All errors lie near \+3\.\d µm: a constant offset\..* Most often: dirt between the faces/,
    );
    expect(looks[0]!.effect).toHaveLength(30);
  });
  it('nothing is said to be wrong with a sound one', () => {
    const told = diagnose(TestBench.micrometer().readAll(own).state, 'as-found');
    expect(told.kind).toBe('quiet');
    expect(told.looks[0]!.cause).toBe('none');
    expect(told.looks.length).toBeGreaterThan(5);
  });
  it('a point that stands apart is named, and nothing is adjusted for it', () => {
    const { state } = TestBench.micrometer().readAll((n) => (Math.abs(n - 12.9) < 0.1 ? 1.4 * limit : 0) + own());
    const told = diagnose(state, 'as-found');
    expect(told.looks[0]!.at.map((p) => p.nominal)).toEqual([12.9]);
    expect(told.sentence).toMatch(/^Outside.*12\.9 mm.*stands apart at \+[56]\.\d µm/);
    expect(unmendable(told)).toBeGreaterThan(0.9);
    expect(probabilityOf(told, ['offset', 'span'])).toBeLessThan(0.05);
    expect(adjustmentAdvice(state, 'as-found')).toMatchObject({
      adjustment: null,
      reason: expect.stringContaining('Look for the cause') as string,
    });
  });
  it('limits on one side are judged, and no pattern is told of them', () => {
    const bench = new TestBench(setups['outside-micrometer']!()).prepared().playTo('judge');
    expect(errorsTogether(bench.state, 'as-found').map((g) => [g.series.id, g.result.symbol, g.each])).toEqual([
      ['error', 'E', null],
    ]);
  });
  it('of a thousand values some are asked about, the worst among them', () => {
    const series = {
      id: 'line',
      title: 'Line',
      points: { unit: 'V', from: 1, to: 10, step: 0.02 },
      observe: [reads()],
      results: [errorOf('R', 0.2)],
    };
    const many = new TestBench(made({ series: [series] }));
    many.shown.reading = (state, slot) => {
      const nominal = placedPoint(state, slot)!.nominal!;
      return (nominal + (Math.abs(nominal - 7.36) < 0.001 ? 0.3 : 0)).toFixed(2);
    };
    many.playTo('judge');
    const [of] = errorsTogether(many.state, 'as-found');
    expect(of!.all.length).toBeGreaterThan(400);
    expect(of!.question.points.length).toBeLessThanOrEqual(60);
    expect(diagnose(many.state, 'as-found').looks[0]).toMatchObject({
      cause: 'odd-point',
      at: [{ nominal: expect.closeTo(7.36, 9) as number }],
    });
  });
  it('an answer worked out elsewhere is taken, and not asked for again', () => {
    const { state } = judged(() => 0.5, 0.05, 77);
    const [question] = openQuestions(state, 'as-found');
    takeAnswer(question!, [
      {
        cause: 'none',
        probability: 1,
        sentence: '',
        evidence: 0,
        prior: 0,
        effect: question!.points.flatMap((p) => p.readings.map(() => 0)),
      },
    ]);
    expect(openQuestions(state, 'as-found')).toEqual([]);
    expect(diagnose(state, 'as-found').looks.map((l) => [l.cause, l.probability])).toEqual([['none', 1]]);
  });
});

describe('what is ruled out first', () => {
  const odd = () => TestBench.micrometer().readAll((n) => (Math.abs(n - 12.9) < 0.1 ? 1.4 * limit : 0));
  it('is what pays: the probability that it is the cause, over the minutes that it takes', () => {
    const all = toRuleOut(odd().state, 'as-found');
    // Another block takes two minutes to rule out, dirt five: of one point that stands apart the first was it in half, the second in 0.4.
    expect(all.map((r) => r.doc.id)).toEqual(['stack', 'wipe', 'unit']);
    expect(all[0]!.probability! / all[1]!.probability!).toBeCloseTo(0.5 / 0.4, 1);
    const offset = toRuleOut(TestBench.micrometer().readAll(() => 1.3 * limit).state, 'as-found');
    expect(offset.map((r) => r.doc.id)).toEqual(['unit', 'wipe', 'stack']);
  });
  it('comes later once it was looked for', () => {
    const bench = odd();
    expect(bench.refusal({ type: 'ruling-out', set: 'as-found', id: 'stack', note: 'Another block' })).toBeNull();
    bench.playTo('reading');
    while (nextItem(bench.state)?.type !== 'judge')
      bench.playTo('reading').readAll((n) => (Math.abs(n - 12.9) < 0.1 ? 1.4 * limit : 0));
    const again = toRuleOut(bench.state, 'as-found-2');
    expect(again.map((r) => [r.doc.id, r.times])).toEqual([
      ['wipe', 0],
      ['stack', 1],
      ['unit', 0],
    ]);
  });
  it('stays in the order of the document where that says nothing of what explains what', () => {
    const { state } = odd();
    const silent = { ...state.procedure, ruleOut: state.procedure.ruleOut.map(({ explains: _, ...r }) => r) };
    expect(toRuleOut({ ...state, procedure: silent }, 'as-found').map((r) => [r.doc.id, r.probability])).toEqual([
      ['unit', null],
      ['stack', null],
      ['wipe', null],
    ]);
  });
});

describe('what a document says its errors look like', () => {
  const refused = (looks: object): (string | number)[] => {
    try {
      readDocument({ ...(JSON.parse(readFileSync('procedures/outside-micrometer.json', 'utf8')) as object), looks });
      return [];
    } catch (error) {
      if (error instanceof DocumentError) return error.path;
      throw error;
    }
  };
  it('weighs what is expected: a pattern that it rules out is not named', () => {
    const document = procedureNamed('outside-micrometer');
    const bend = (n: number) => (1.2 * limit * 4 * n * (25 - n)) / 625;
    const usual = TestBench.micrometer().readAll(bend);
    const never = TestBench.micrometer({}, { ...document, looks: { priors: { curvature: 0 } } }).readAll(bend);
    expect(diagnose(usual.state, 'as-found').kind).toBe('curve');
    expect(diagnose(never.state, 'as-found').looks.map((l) => l.cause)).not.toContain('curvature');
  });
  it('may expect all that there is, or nothing of it: something is said all the same', () => {
    const document = procedureNamed('outside-micrometer');
    const told = (priors: object) =>
      diagnose(TestBench.micrometer({}, { ...document, looks: { priors } }).readAll(() => 0.9 * limit).state, 'as-found').kind;
    expect(told({ none: 0.5, offset: 0.5 })).toBe('offset');
    expect(told(Object.fromEntries(causes.map((c) => [c, 0])))).toBe('offset');
  });
  it('is refused where it expects more than all, or a pattern that there is not', () => {
    expect(refused({ priors: { offset: 0.7, span: 0.4 } })).toEqual(['looks', 'priors']);
    expect(refused({ means: { wobble: 'a loose screw.' } }).slice(0, 2)).toEqual(['looks', 'means']);
    expect(refused({ priors: { offset: 0.7, span: 0.2 }, means: { span: 'the pitch.' } })).toEqual([]);
  });
  it('a doubtful cause is said to be one', () => {
    // Small errors, half of which lie to one side: an offset, or nothing.
    const told = Array.from({ length: 12 }, (_, seed) => diagnose(judged(() => 0.42, 0.14, 200 + seed).state, 'as-found'));
    const doubtful = told.filter((d) => d.kind === 'offset' && d.looks[0]!.probability < 0.8);
    expect(doubtful.length).toBeGreaterThan(0);
    for (const d of doubtful) expect(d.sentence).toMatch(/Not sure: “.+” has \d+ %\.$/);
    for (const d of told) if (d.looks[0]!.probability >= 0.8) expect(d.sentence).not.toContain('Not sure');
  });
});
