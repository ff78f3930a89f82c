import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { caseSchema, type Case } from '../evaluate/case-schema';
import { evaluate } from '../evaluate/evaluate';
import { settingOf } from '../evaluate/setting-of';
import { noScope, numberOf, pointsOf } from '../evaluate/setting';
import { isDetermined } from '../evaluate/undetermined';
import { planRun } from '../plan/run-plan';
import { readDocument } from './read-document';

/*
 * What the documents that ship say at the bench, worked out by hand from the instrument's own physics: each begins with the worked
 * example of its document and changes one thing.
 */

type Raw = { instrument: Record<string, unknown>; observations: Observation[]; [member: string]: unknown };
type Observation = {
  series: string;
  point?: string;
  each?: string;
  sweep?: string;
  steps?: Record<string, number>;
  readings: Record<string, string | number>[];
};

function example(id: string) {
  const raw = JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as { example: { input: Raw } | { input: Raw }[] };
  return { document: readDocument(raw), input: structuredClone([raw.example].flat()[0]!.input) };
}

const found = (id: string, change: (input: Raw) => void) => {
  const { document, input } = example(id);
  change(input);
  return evaluate(document, caseSchema.parse(input));
};

/** Results of a series by point, as they are estimated; null where one is not determined. */
const estimates = (evaluation: ReturnType<typeof evaluate>, series: string, symbol: string) =>
  evaluation.series
    .filter((s) => s.id === series)
    .flatMap((s) => s.points.flatMap((p) => p.results[symbol] ?? []))
    .map((r) => (isDetermined(r) ? r.estimate : null));

const verdicts = (evaluation: ReturnType<typeof evaluate>, series: string) =>
  evaluation.series
    .filter((s) => s.id === series)
    .flatMap((s) => s.points.flatMap((p) => Object.values(p.results).map((r) => r.verdict)));

const aggregate = (evaluation: ReturnType<typeof evaluate>, series: string, id: string) =>
  evaluation.series.flatMap((s) => (s.id === series ? s.aggregates : [])).find((a) => a.id === id)!;

/** Nominal values of the points of a series by instance, as they are planned for an instrument. */
function planned(id: string, series: string, change: (input: Raw) => void): Map<string | null, (number | undefined)[]> {
  const { document, input } = example(id);
  change(input);
  const s = settingOf(document, caseSchema.parse({ ...input, observations: [] }), { planning: true });
  const found = s.series.get(series)!;
  return new Map(found.instances.map((i) => [i.id, pointsOf(s, found, i).map((p) => p.nominal)]));
}

const nominals = (id: string, series: string, instrument: Record<string, unknown>) =>
  [...planned(id, series, (input) => Object.assign(input.instrument, instrument)).values()][0]!;

describe('a length', () => {
  it('of warm steel by ultrasound: a right gauge reads thick by 1.4 in 10⁴ for a kelvin, and no velocity is to be changed', () => {
    const thickness: Record<string, number> = { p1: 5.003, p2: 9.998, p3: 15.004, p4: 20.001, p5: 24.996 };
    const right = found('ultrasonic-thickness-gauge', (input) => {
      input['conditions'] = { air: 30, block: 30 };
      for (const o of input.observations) o.readings = [1, 2, 3].map(() => ({ R: (thickness[o.point!]! * 1.0014).toFixed(4) }));
    });
    for (const E of estimates(right, 'error', 'E')) expect(Math.abs(E!)).toBeLessThan(2e-4);
    expect(right.adjustments!.find((a) => a.id === 'both')!.proposed['velocity']).toBe(5920);
  });
  it('of gauge blocks is judged at its highest and lowest corner too, and a stiffer block reads long', () => {
    const corner = found('gauge-blocks-by-comparison', (input) => {
      for (const o of input.observations) if (o.series === 'variation' && o.point === 'p3') o.readings[0]!['Z'] = '0.40';
    });
    expect(corner.series[0]!.points[2]!.results['E']!.verdict).toBe('pass');
    expect(estimates(corner, 'variation', 'H')[2]).toBeCloseTo(estimates(corner, 'length', 'E')[2]! + 0.35, 6);
    expect(corner.verdict).toBe('fail');
    const of = (modulus: number, poisson: number) =>
      estimates(
        found('gauge-blocks-by-comparison', (input) => {
          input['conditions'] = { air: 20, plate: 20 };
          const { pieces } = input.instrument['lists'] as { pieces: Record<string, number>[] };
          for (const piece of pieces) Object.assign(piece, { modulus, poisson });
        }),
        'length',
        'E',
      )[0]!;
    // Hertz, a ball of 1.5 mm and 600 GPa pressed on with 0.63 N above and 0.32 N below: micrometres that the faces give way.
    const flattening = (modulus: number, poisson: number) =>
      [0.63, 0.32]
        .map((F) => ((9 * F ** 2) / 16 / 0.0015) * ((1 - poisson ** 2) / (modulus * 1e9) + (1 - 0.22 ** 2) / 600e9) ** 2)
        .reduce((sum, cube) => sum + 1e6 * Math.cbrt(cube), 0);
    const carbide = of(610, 0.22) - of(206, 0.29);
    expect(carbide).toBeLessThan(-0.09);
    expect(carbide).toBeCloseTo(flattening(610, 0.22) - flattening(206, 0.29), 9);
  });
  it('by a dial whose hand stands off zero has no error for that', () => {
    const off = found('dial-indicator', (input) => {
      for (const o of input.observations)
        if (o.series === 'error') o.readings = o.readings.map((r) => ({ R: (Number(r['R']) + 0.019).toFixed(3) }));
    });
    const as = found('dial-indicator', () => undefined);
    expect(off.verdict).toBe('pass');
    estimates(off, 'error', 'E').forEach((E, i) => expect(E).toBeCloseTo(estimates(as, 'error', 'E')[i]!, 9));
  });
  it('by a dial of ten millimetres is read at no more than some forty places each way', () => {
    const points = nominals('dial-indicator', 'error', { upper: 10, usedUpper: 10 });
    expect(points.length).toBeLessThanOrEqual(41);
    expect(points.at(-1)).toBe(10);
  });
  it('by a dial is read by tenths of a turn over two turns and more coarsely beyond; by a display by its travel', () => {
    const long = nominals('dial-indicator', 'error', { upper: 10, usedUpper: 10 });
    expect(long.slice(0, 3)).toEqual([0, 0.05, 0.1]);
    expect(long[20]).toBeCloseTo(1, 9);
    const beyond = long.slice(21).map((x, i) => x! - long[20 + i]!);
    for (const step of beyond) expect(step).toBeCloseTo(0.5, 9);
    const { document, input } = example('dial-indicator');
    Object.assign(input.instrument, { upper: 10, usedUpper: 10 });
    const display = caseSchema.parse({ ...input, choices: { kind: 'display' }, observations: [] });
    const s = settingOf(document, display, { planning: true });
    const series = s.series.get('error')!;
    expect(pointsOf(s, series, series.instances[0]!).map((p) => p.nominal)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
  });
  it('by a calliper lies off the multiples of five millimetres, in inches within its six inches', () => {
    const inside = nominals('calliper', 'outside', {});
    expect(inside).toHaveLength(5);
    const inches = nominals('calliper', 'outside', { unit: '[in_i]', upper: 6, usedUpper: 6, resolution: 0.0005 });
    expect(Math.max(...inches.map((n) => n!))).toBeGreaterThan(140);
    expect(Math.max(...inches.map((n) => n!))).toBeLessThanOrEqual(6 * 25.4);
  });
  it('along the diagonals of a machine is planned from its travels', () => {
    const lines = planned('coordinate-measuring-machine', 'length', () => undefined);
    const longest = (each: string) => Math.max(...lines.get(each)!.map((n) => n!));
    const diagonal = Math.hypot(510, 400, 380);
    expect(longest('x')).toBeGreaterThan(0.66 * 510);
    for (const d of ['d1', 'd2', 'd3', 'd4']) expect(longest(d)).toBeGreaterThan(0.66 * diagonal);
  });
});

describe('a mass and a volume', () => {
  it('a balance of twenty grams is planned within its range, its corners at about a third of its capacity', () => {
    const small = (input: Raw) => {
      Object.assign(input.instrument, { upper: 21, usedUpper: 20, resolution: 0.0001 });
      const { weights } = input['standards'] as { weights: { items: Record<string, unknown>[] } };
      const [one] = weights.items;
      weights.items = [1, 2, 2, 5, 10].map((n, i) => ({ ...one, id: `w${i}`, marking: `${n}.${i}`, nominal: n, certified: n }));
    };
    const at = (series: string) => [...planned('balance', series, small).values()][0]!;
    expect(at('linearity')).toEqual([0, 5, 10, 15, 20]);
    expect(new Set(at('corners'))).toEqual(new Set([7]));
    expect(at('repeatability')).toEqual([2, 18]);
  });
  it('a balance that changed nothing but its display in a corner fails by its corners', () => {
    const tilted = found('balance', (input) => {
      for (const o of input.observations) if (o.series === 'corners' && o.point === 'backLeft') o.readings = [{ I: 50.007 }];
    });
    expect(aggregate(tilted, 'corners', 'greatest').verdict).toBe('fail');
    expect(tilted.verdict).toBe('fail');
  });
  it('a pipette is judged by its nominal volume, whatever range is used, and a fixed one at that alone', () => {
    const used = found('piston-pipette-by-weighing', (input) => {
      input.instrument['usedUpper'] = 500;
    });
    const [first] = used.series.flatMap((s) => s.points);
    expect(first!.results['E']).toMatchObject({ limits: { lower: -8, upper: 8 } });
    expect(
      nominals('piston-pipette-by-weighing', 'volume', { lower: 1000, usedLower: 1000 }).filter((n) => n !== undefined),
    ).toEqual([1000]);
  });
  it('evaporation that was weighed is added to what was delivered', () => {
    const losing = (mg: number) =>
      found('piston-pipette-by-weighing', (input) => {
        // Of a small one; of the rest it says nothing.
        Object.assign(input.instrument, { lower: 10, usedLower: 10, upper: 100, usedUpper: 100 });
        const dummies = [0, 1, 2, 3].map(() => ({ B: '20000.00', A: (20000 - mg).toFixed(2) }));
        input.observations.unshift({ series: 'evaporation', point: 'p1', readings: dummies });
      });
    const gain = estimates(losing(0.2), 'volume', 'E')[0]! - estimates(losing(0), 'volume', 'E')[0]!;
    expect(gain).toBeGreaterThan(0.2);
    expect(gain).toBeLessThan(0.202);
  });
});

describe('what stands beside', () => {
  it('a bar is measured by the scale of its machine where no reference bar is chosen', () => {
    const { document, input } = example('length-bar');
    const raw = JSON.parse(readFileSync('procedures/length-bar.json', 'utf8')) as { example: { input: Raw }[] };
    const plan = (given: Raw) => planRun(document, caseSchema.parse({ ...given, observations: [] })).plan;
    const of = (given: Raw) => new Set(plan(given).flatMap((i) => (i.type === 'reading' ? [i.series] : [])));
    expect(of(input)).toEqual(new Set(['length']));
    expect(of(raw.example[1]!.input)).toEqual(new Set(['byScale']));
  });
  it('a sound calibrator is compared with one of its own level, or the analyser carries it across', () => {
    const at124 = (choice: string) =>
      found('sound-calibrator', (input) => {
        const [reference] = (input['standards'] as { reference: { items: { nominal: number; certified: number }[] }[] })
          .reference;
        reference!.items = [{ ...reference!.items[0]!, nominal: 124, certified: 124.03 }];
        input['choices'] = { against: choice };
        input['steps'] = { sameFrequency: 0, linearity: 0.02, response: -0.01 };
        for (const o of input.observations)
          if (o.series === 'level') o.readings = o.readings.map((r) => ({ ...r, B: (Number(r['B']) - 30).toFixed(2) }));
      });
    expect(verdicts(at124('same'), 'level')).toEqual(['not-determined']);
    const same = estimates(
      found('sound-calibrator', () => undefined),
      'level',
      'E',
    )[0]!;
    expect(estimates(at124('between'), 'level', 'E')[0]!).toBeCloseTo(same + 0.02 - 0.01, 9);
  });
  it('a heavy, fine weight that came cold lies longer beside its comparator than a light, coarse one', () => {
    const minutes = (usedUpper: number, apart: number, choice: string) => {
      const { document, input } = example('weights-by-substitution');
      Object.assign(input.instrument, { usedUpper, upper: usedUpper });
      const hours = document.steps.find((s) => s.id === 'hours')!;
      const given = { ...input, choices: { class: choice }, steps: { apart }, observations: [] };
      const s = settingOf(document, caseSchema.parse(given), { planning: true });
      return numberOf(s, { is: hours.kind === 'check' ? hours.is : '' }, noScope('as-found', []));
    };
    // 1.5 h · ∛(mass in kg) · ln(difference / what may be left of it): 50 kg of E2 from 10 K, 1 kg of M1 from 20 K.
    expect(minutes(50_000, 10, 'E2')).toBeCloseTo(1.5 * Math.cbrt(50) * Math.log(200), 9);
    expect(minutes(1000, 20, 'M1')).toBeCloseTo(1.5 * Math.log(2), 9);
    expect(minutes(0.001, 0.01, 'E1')).toBe(0);
  });
  it('a bore gauge is preset in the ring nearest to its work', () => {
    const presets = (work: number) => {
      const evaluation = found('bore-gauge', (input) => {
        input.instrument['characteristics'] = { work };
        // 15, 25 and 35 µm long from the smallest ring to the largest.
        for (const o of input.observations)
          o.readings = o.readings.map((r) => ({ R: (Number(r['R']) + 0.005 + 0.01 * Number(o.point!.slice(1))).toFixed(3) }));
      });
      const wanted = evaluation.adjustments.filter((a) => a.wanted);
      return { ids: wanted.map((a) => a.id), offset: wanted.at(-1)!.proposed['offset'], E: estimates(evaluation, 'error', 'E') };
    };
    const middle = presets(38);
    expect(middle.ids).toEqual(['presetWork']);
    expect(middle.offset).toBeCloseTo(-middle.E[1]!, 2);
    expect(presets(25).offset).toBeCloseTo(-middle.E[0]!, 2);
    expect(presets(0).ids).toEqual(['preset', 'presetLargest']);
  });
  it('each weight lies on the smallest comparator that carries it', () => {
    const { document, input } = example('weights-by-substitution');
    const { comparator } = input['standards'] as { comparator: Record<string, unknown>[] };
    comparator.push({
      ...comparator[0],
      identification: 'QM-CMP-3',
      resolution: 0.000001,
      items: [{ id: 'c3', marking: 'QM-CMP-3', nominal: 111, certified: 111 }],
    });
    const s = settingOf(document, caseSchema.parse(input));
    const series = s.series.get('mass')!;
    const steps = pointsOf(s, series, series.instances[0]!).map((point) =>
      numberOf(s, { is: 'comparator.resolution' }, { ...noScope('as-found', []), series, instance: series.instances[0]!, point }),
    );
    expect(steps).toEqual([0.000001, 0.00001]);
  });
  it('a meter whose statement has run out is measured and not judged', () => {
    const { document } = example('multimeter');
    const step = document.steps.find((x) => x.id === 'term')!;
    const left = (limits: string, since: number) => {
      const { input } = example('multimeter');
      const given = { ...input, choices: { limits }, steps: { since }, observations: [] };
      const s = settingOf(document, caseSchema.parse(given), { planning: true });
      return numberOf(s, { is: step.kind === 'check' ? step.is : '' }, noScope('as-found', []));
    };
    expect(left('statement', 11)).toBe(1);
    expect(left('statement', 13)).toBe(-1);
    expect(left('none', 13)).toBeGreaterThan(0);
    const none = found('multimeter', (input) => (input['choices'] = { limits: 'none' }));
    const judged = found('multimeter', () => undefined);
    expect(estimates(none, 'dcv', 'E')).toEqual(estimates(judged, 'dcv', 'E'));
    expect(judged.verdict).not.toBeNull();
    expect(none.verdict).toBeNull();
  });
  it('a source whose statement has run out is not taken for a reference without a word', () => {
    const { document, input } = example('multimeter');
    const left = (date: string) => {
      const s = settingOf(document, caseSchema.parse({ ...input, date, observations: [] }), { planning: true });
      const step = document.steps.find((x) => x.id === 'sourceTerm')!;
      return numberOf(s, { is: step.kind === 'check' ? step.is : '' }, noScope('as-found', []));
    };
    const { date } = (input['standards'] as { source: { certificate: { date: string } }[] }).source[0]!.certificate;
    const later = (days: number) => new Date(Date.parse(date) + days * 86_400_000).toISOString().slice(0, 10);
    expect(left(later(300))).toBeGreaterThan(0);
    expect(left(later(400))).toBeLessThan(0);
  });
});

describe('a temperature', () => {
  it('by a thermometer made for partial immersion needs no correction while its stem is as warm as it was made for', () => {
    const partial = found('liquid-in-glass-thermometer', (input) => {
      input.instrument['characteristics'] = { statedStem: 25, immersion: 1, line: 76 };
      for (const o of input.observations) {
        const bath = Number(o.readings[0]!['S']);
        o.steps = { surface: -10, stem: 25 };
        o.readings = o.readings.map(() => ({ S: bath.toFixed(3), R: bath.toFixed(2) }));
      }
    });
    for (const E of estimates(partial, 'error', 'E')) expect(Math.abs(E!)).toBeLessThan(0.03);
    expect(partial.verdict).toBe('pass');
  });
  it('of a junction in ice charges the cable that crosses from the room, of one at the terminals none', () => {
    const u = (junction: string, at: number) => {
      const evaluation = found('thermocouple-indicator', (input) => {
        input['choices'] = { type: 'K', junction };
        input['conditions'] = { air: 22, junction: at };
      });
      const result = evaluation.series[0]!.points[2]!.results['E']!;
      if (!isDetermined(result)) throw new Error(result.why);
      return result.contributions.find((c) => c.symbol === 'lead')!.contribution;
    };
    expect(Math.abs(u('ice', 0.02))).toBeGreaterThan(0.2);
    expect(u('terminal', 22)).toBeCloseTo(0, 12);
  });
  it('of a reference liquid is judged by R, r and the number of flashes, never by the whole of R', () => {
    const { limits } = found('flash-point-tester', () => undefined).series.at(-1)!.points[0]!.results['F'] as {
      limits: { upper: number };
    };
    expect(limits.upper).toBeCloseTo((63.2 * Math.sqrt(0.071 ** 2 - 0.029 ** 2 / 2)) / Math.SQRT2, 9);
    expect(limits.upper).toBeLessThan((63.2 * 0.071) / Math.SQRT2);
  });
});

describe('an electrical, acoustic or other quantity', () => {
  it('a digit of flicker at a place is no scatter that triples U', () => {
    const U = (input: (n: number) => string) => {
      const evaluation = found('multimeter', (given) => {
        for (const o of given.observations)
          o.readings = o.readings.map((r, i) => ({ ...r, ...(typeof r['R'] === 'string' && i === 0 ? { R: r['R'] } : {}) }));
        const [first] = given.observations;
        const at = Number(first!.readings[0]!['R']);
        const decimals = String(first!.readings[0]!['R']).split('.')[1]?.length ?? 0;
        first!.readings = first!.readings.map((r, i) => ({
          ...r,
          R: (at + Number(input(i)) * 10 ** -decimals).toFixed(decimals),
        }));
      });
      const result = evaluation.series[0]!.points[0]!.results['E']!;
      return isDetermined(result) ? result.expandedUncertainty : NaN;
    };
    expect(U((i) => String(i % 2)) / U(() => '0')).toBeLessThan(2);
  });
  it('a constant offset of a sound-level meter is no error of its linearity', () => {
    const off = found('sound-level-meter', (input) => {
      for (const o of input.observations)
        if (o.series === 'linearity')
          o.readings = o.readings.map((r) =>
            Object.fromEntries(Object.entries(r).map(([id, v]) => [id, (Number(v) + 3).toFixed(1)])),
          );
    });
    const as = found('sound-level-meter', () => undefined);
    estimates(off, 'linearity', 'N').forEach((N, i) => expect(N).toBeCloseTo(estimates(as, 'linearity', 'N')[i]!, 9));
    expect(verdicts(off, 'linearity')).not.toContain('fail');
  });
  it('places in the jaws of a clamp are judged against the current that was there', () => {
    const at = (placeCurrent: number) =>
      aggregate(
        found('clamp-meter', (i) => (i['steps'] = { placeCurrent })),
        'place',
        'away',
      );
    expect(at(300).verdict).toBe('pass');
    expect(at(100).verdict).toBe('fail');
  });
  it('the middle standard of water activity is the one that the set names, not the one nearest a half', () => {
    const evaluation = found('water-activity-meter', (input) => {
      const [solutions] = (
        input['standards'] as { solutions: { items: { nominal: number; certified: number; properties: object }[] }[] }
      ).solutions;
      solutions!.items[1] = { ...solutions!.items[1]!, nominal: 0.76, certified: 0.7601 };
      for (const o of input.observations) if (o.series === 'middle') o.readings = o.readings.map((r) => ({ ...r, R: '0.7605' }));
    });
    expect(Math.abs(estimates(evaluation, 'middle', 'E')[0]!)).toBeLessThan(0.002);
  });
  it('a shaft that leans to the side is seen by its second bearing', () => {
    const lean = found('stirred-vessel-station', (input) => {
      for (const o of input.observations)
        if (o.series === 'centring' && o.each === '1')
          o.readings = o.readings.map((r) => ({ ...r, side: '4.90', quarter: o.point === 'upper' ? '5.00' : '6.60' }));
    });
    expect(aggregate(lean, 'centring', 'tilt')).toMatchObject({
      value: expect.closeTo((Math.atan(1.6 / 80) * 180) / Math.PI, 6) as number,
    });
    expect(aggregate(lean, 'centring', 'tilt').verdict).toBe('fail');
  });
  it('a torque transducer is read in torque, and no force serves it', () => {
    const { standards } = example('torque-transducer-with-indicator').document;
    expect(standards.map((r) => r.unit)).toEqual(['N.m', 'N.m']);
    const ofForce = example('transducer-with-indicator').document.standards.flatMap((r) => r.kinds ?? []);
    expect(standards.flatMap((r) => r.kinds ?? []).filter((k) => ofForce.includes(k))).toEqual([]);
    expect(() => found('torque-transducer-with-indicator', (input) => (input.instrument['unit'] = 'kN'))).toThrow(/in N·m/);
  });
  it('a transducer without equivalents from its certificate is not calibrated by invented ones', () => {
    const { document, input } = example('transducer-with-indicator');
    const bare = { ...input, instrument: { ...input.instrument, characteristics: {} } } as unknown as Case;
    expect(() => evaluate(document, caseSchema.parse(bare))).toThrow('does not state Shunt equivalent');
    expect(planRun(document, caseSchema.parse({ ...input, observations: [] })).readings).toBeGreaterThan(40);
  });
  it('loads are taken as the reference shows them, never as exactly nominal', () => {
    const moved = found('transducer-with-indicator', (input) => {
      for (const o of input.observations)
        if (o.series === 'load')
          o.readings = o.readings.map((r) => ({
            ...r,
            F: (Number(r['F']) + 0.05).toFixed(3),
            R: (Number(r['R']) + 0.05).toFixed(3),
          }));
    });
    const as = found('transducer-with-indicator', () => undefined);
    // The correction of the reference changes by no more than its slope over 0.05 kN.
    estimates(moved, 'load', 'E').forEach((E, i) => expect(Math.abs(E! - estimates(as, 'load', 'E')[i]!)).toBeLessThan(2e-3));
  });
});

describe('limits and conditions', () => {
  it('of a balance by bands grow with the load in steps of the verification interval, and are doubled in service', () => {
    const evaluation = found('balance', (input) => {
      input['choices'] = { use: 'general', limits: 'bands', class: 'II' };
      input.instrument['characteristics'] = { verificationInterval: 0.01 };
    });
    const limits = evaluation.series
      .filter((s) => s.id === 'linearity')
      .flatMap((s) => s.points.flatMap((p) => p.results['E'] ?? []))
      .map((r) => (isDetermined(r) ? r.limits!.upper! : NaN));
    // Class II: half an interval to 5000 of them, one to 20 000; twice that in service.
    for (const [i, load] of [0, 50, 100, 150, 200].entries()) expect(limits[i]).toBeCloseTo(load / 0.01 <= 5000 ? 0.01 : 0.02, 9);
  });
  it('of a junction are those of its method: ice is near zero, terminals are near the room', () => {
    const allowed = (junction: string) => {
      const { document, input } = example('thermocouple-indicator');
      const s = settingOf(document, caseSchema.parse({ ...input, choices: { type: 'K', junction }, observations: [] }), {
        planning: true,
      });
      const { lower, upper } = document.conditions.find((c) => c.id === 'junction')!;
      const at = noScope('as-found', []);
      return [numberOf(s, lower!, at), numberOf(s, upper!, at)];
    };
    expect(allowed('ice')).toEqual([-0.5, 0.5]);
    expect(allowed('terminal')).toEqual([10, 40]);
  });
  it('a piece beyond its limit by more than its uncertainty fails, whatever the ratio', () => {
    const light = found('weights-by-substitution', (input) => {
      for (const o of input.observations)
        o.readings = o.readings.map((r) => ({ ...r, T1: Number(r['T1']) - 5, T2: Number(r['T2']) - 5 }));
    });
    expect(new Set(verdicts(light, 'mass'))).toEqual(new Set(['fail']));
    expect(light.verdict).toBe('fail');
  });
  it('inside jaws that are left out ask for no ring, and are not said to be calibrated', () => {
    const without = found('calliper', () => undefined);
    expect(without.series.map((s) => s.id)).not.toContain('inside');
    expect(() => found('calliper', (input) => (input['choices'] = { inside: 'yes' }))).toThrow('Nobody fills the role ring');
  });
});

describe('what is found goes into the budget', () => {
  const uncertainty = (id: string, change: (input: Raw) => void, series: string, symbol: string) => {
    const entry = found(id, change).series.find((s) => s.id === series)!;
    const result = entry.points.flatMap((p) => p.results[symbol] ?? [])[0]!;
    return isDetermined(result) ? result.standardUncertainty : NaN;
  };
  it('a dry block is as uncertain as its axis, holes and load were found, not as their limits', () => {
    const axis = (P: string) =>
      uncertainty(
        'dry-block-calibrator',
        (input) => {
          for (const o of input.observations)
            if (o.series === 'depth' && o.point === 'p3')
              o.readings = [
                { S: '299.951', P },
                { S: '299.950', P },
              ];
        },
        'error',
        'E',
      );
    // A whole kelvin along the axis: ±1 K, that is 0.58 K.
    expect(axis('298.940')).toBeGreaterThan(0.55);
    expect(axis('299.930')).toBeLessThan(0.06);
  });
  it('faces of a micrometer count as their bands show', () => {
    const U = (bands: number) =>
      uncertainty('outside-micrometer', (input) => (input['steps'] = { flatness: bands, parallelism: 0 }), 'error', 'E');
    const share = (Math.sqrt(U(20) ** 2 - U(0) ** 2) * Math.sqrt(3)) / 20;
    expect(share).toBeCloseTo(0.00015, 8);
  });
  it('a length bar is compared there and back: a steady drift of the machine cancels, and the round is to close', () => {
    const drifting = (each: number) =>
      found('length-bar', (input) => {
        for (const o of input.observations)
          o.readings = o.readings.map((r, i) =>
            Object.fromEntries(['A1', 'B1', 'B2', 'A2'].map((id, n) => [id, (Number(r[id]) + each * (4 * i + n)).toFixed(2)])),
          );
      });
    const [still, moving] = [drifting(0), drifting(0.1)];
    estimates(moving, 'length', 'E').forEach((E, i) => expect(E).toBeCloseTo(estimates(still, 'length', 'E')[i]!, 6));
    expect(aggregate(still, 'length', 'closing').verdict).toBe('pass');
    expect(aggregate(moving, 'length', 'closing').verdict).toBe('fail');
  });
});

describe('what is chosen or stated decides', () => {
  it('the statement of a source: that for ninety days is narrower, and both are shown', () => {
    const limit = (limits: string) => {
      const [first] = found('source-calibrator', (input) => (input['choices'] = { limits })).series[0]!.points;
      return (first!.results['E'] as { limits: { upper: number } }).limits.upper;
    };
    expect(limit('days')).toBeLessThan(limit('year'));
  });
  it('the cut-off of a specimen: its certificate, else the spacing of its grooves, else its Ra (ISO 4288)', () => {
    const { document, input } = example('roughness-tester');
    const cutOff = (properties: Record<string, number>, item: number) => {
      const changed = structuredClone(input) as Raw & { standards: { specimens: { items: { properties?: object }[] }[] } };
      const all = changed.standards.specimens[0]!.items;
      all[item]!.properties = { ...all[item]!.properties, ...properties };
      const s = settingOf(document, caseSchema.parse(changed));
      const ra = s.series.get('ra')!;
      const instance = ra.instances[item]!;
      const step = ra.doc.steps.find((x) => x.id === 'cutOff')!;
      const scope = { ...noScope('as-found', []), series: ra, instance, point: pointsOf(s, ra, instance)[0]! };
      return numberOf(s, { is: (step as { is: string }).is }, scope);
    };
    expect(cutOff({ cutOff: 2.5, spacing: 0.1 }, 0)).toBe(2.5);
    expect(cutOff({ cutOff: 0, spacing: 0.1 }, 0)).toBe(0.25);
    expect(cutOff({ cutOff: 0, spacing: 0 }, 0)).toBe(0.8);
    expect(cutOff({ cutOff: 0, spacing: 0 }, 1)).toBe(2.5);
  });
  it('turns are those of the coil on the bench: the fewest that reach the range', () => {
    const [a60, a600] = found('clamp-meter', () => undefined).series.filter((s) => s.id === 'alternating');
    const turns = (entry: typeof a60) =>
      (entry!.points[0]!.results['E'] as { contributions: { symbol: string; sensitivity: number }[] }).contributions.find(
        (c) => c.symbol === 'c',
      )!.sensitivity;
    expect(Math.abs(turns(a60))).toBeCloseTo(10, 3);
    expect(Math.abs(turns(a600))).toBeCloseTo(50, 3);
  });
  it('an unmatched probe is compared by the class that was ordered', () => {
    const U = (limits: string) => {
      const [, middle] = found('matched-probe-and-transmitter', (input) => {
        input['choices'] = { order: 'match', equation: 'AB', limits };
      }).series[0]!.points;
      return (middle!.results['W'] as { standardUncertainty: number }).standardUncertainty;
    };
    expect(U('iecB') ** 2 - U('iecA') ** 2).toBeCloseTo((0.675 ** 2 - 0.3 ** 2) / 3, 6);
  });
  it('corrections of the manual are added to what a sound-level meter shows by electricity', () => {
    const at = (correction: number) =>
      estimates(
        found('sound-level-meter', (input) => {
          const { responses } = (input.instrument as { lists: { responses: { nominal: number; correction: number }[] } }).lists;
          responses.find((r) => r.nominal === 8000)!.correction = correction;
        }),
        'weighting',
        'D',
      );
    const moved = at(0.4).map((D, i) => D! - at(0)[i]!);
    expect(moved.filter((d) => Math.abs(d - 0.4) < 1e-9)).toHaveLength(3);
    expect(moved.filter((d) => Math.abs(d) > 1e-9)).toHaveLength(3);
  });
  it('a multimeter is read at zero before it is zeroed, and at both ends of its frequencies', () => {
    const off = found('multimeter', (input) => {
      for (const o of input.observations) if (o.series === 'zeroVolts') o.readings = [{ R: '0.004' }];
    });
    expect(verdicts(off, 'zeroVolts')).toContain('fail');
    const acv = example('multimeter').document.series.find((s) => s.id === 'acv')!;
    expect(acv.points!.table!.map((r) => (r['frequency'] as { is: string }).is)).toEqual([
      'each.low',
      'each.middle',
      'each.middle',
      'each.middle',
      'each.high',
    ]);
  });
});
