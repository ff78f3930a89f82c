import { describe, expect, it } from 'vitest';
import { certificateOf } from '../certificate/certificate';
import { actWords } from '../acts/words';
import { readDocument } from '../document/read-document';
import { isSameSetting, settingsLeft, settingsNow } from '../steps/settings';
import type { StepContext } from '../steps/step-context';
import { setup, showing } from './fixtures/made';
import { TestBench } from './fixtures/bench';
import { contextOf, nextItem } from './next-step';

const settings = [
  { id: 'unit', title: 'Unit', want: 'mV', options: ['mV', '°C'] },
  { id: 'cutoff', title: 'Cut-off', want: { is: 'instrument.span / 3' }, unit: 'V', step: 0.1, hint: 'Menu, Filter' },
  { id: 'firmware', title: 'Firmware' },
];
const document = {
  steps: [
    { kind: 'settings', id: 'hold', title: 'Settings', settings, sets: ['as-found', 'as-left'] },
    { kind: 'settings', id: 'back', title: 'Put back', settings, restores: 'hold', after: 'run' },
  ],
  series: [
    {
      id: 'main',
      title: 'Main',
      points: { unit: 'V', list: [5] },
      observe: [{ id: 'R', title: 'Reading', of: 'instrument', unit: 'V' }],
      computed: [{ id: 'd', unit: 'V', is: 'R - point.nominal + 0 * step.hold.cutoff' }],
      results: [
        {
          symbol: 'E',
          title: 'Error',
          unit: 'V',
          model: 'd + r',
          quantities: [
            { symbol: 'd', unit: 'V', distribution: { type: 'constant', value: { is: 'd' } } },
            { symbol: 'r', unit: 'V', distribution: { type: 'rectangular', mean: 0, halfWidth: 0.01 } },
          ],
          tolerance: { terms: [{ absolute: 0.1 }] },
        },
      ],
    },
  ],
};
const begun = (known?: Record<string, string>) => {
  const made = setup(document);
  return new TestBench({ ...made, instrument: { ...made.instrument, ...(known ? { settings: known } : {}) } });
};
const shown = { unit: 'mV', cutoff: '3.3', firmware: '2.14b' };
const tell = (bench: TestBench, texts: Record<string, string>, more: object = {}) =>
  bench.try({ type: 'step-done', set: 'as-found', id: 'hold', value: numbers(texts), shown: texts, ...more });
const numbers = (texts: Record<string, string>): Record<string, number> =>
  Object.fromEntries(
    Object.entries(texts).flatMap(([id, t]) => (/^[-−\d.,]+$/.test(t) ? [[id, Number(t.replace(',', '.'))]] : [])),
  );

describe('settings that the instrument must hold', () => {
  it('are asked for as they are wanted, a number rounded as it is taken, with what the register has from last time', () => {
    const bench = begun({ unit: '°C', firmware: '2.13' });
    const item = nextItem(bench.state) as Parameters<typeof contextOf>[1];
    const now = settingsNow(contextOf(bench.state, item as never, bench.at) as StepContext<'settings'>);
    expect(now.map((s) => [s.id, s.wanted, s.last])).toEqual([
      ['unit', 'mV', '°C'],
      ['cutoff', '3.3', null],
      ['firmware', null, '2.13'],
    ]);
    expect(now[1]).toMatchObject({ hint: 'Menu, Filter', unit: 'V' });
  });
  it('each must be typed, as one it can hold', () => {
    const bench = begun();
    expect(tell(bench, { unit: 'mV', cutoff: '3.3' })).toContain('Firmware: type what the instrument shows');
    expect(tell(bench, { ...shown, unit: 'bar' })).toContain('it can hold mV, °C');
    expect(tell(bench, { ...shown, cutoff: 'three' })).toContain('type a number in V');
    expect(tell(bench, { ...shown, wires: '4' })).toContain('not asked for');
    expect(bench.try({ type: 'step-done', set: 'as-found', id: 'hold', value: { cutoff: 9 }, shown })).toContain(
      'not those shown',
    );
    expect(tell(bench, { ...shown, unit: ' MV ', cutoff: '3,30' })).toBeNull();
  });
  it('as found a difference is recorded and left, with a reason; it stands in the record and on the certificate', () => {
    const bench = begun();
    const off = { ...shown, cutoff: '0.8' };
    const refusal = tell(bench, off)!;
    expect(refusal).toContain('Cut-off shows 0.8 V, 3.3 V is wanted');
    expect(refusal).toContain('leave it until it is decided');
    expect(tell(bench, off, { reason: 'Owner uses the short filter' })).toBeNull();
    const { act } = bench.events.at(-1)!;
    expect(actWords(act, bench.state)).toBe('Settings: Unit mV; Cut-off 0.8 V; Firmware 2.14b: Owner uses the short filter');
    showing(bench, (n) => n).playTo('end');
    expect(certificateOf(bench.state, { name: 'Room', address: '' }).remarks.join(' ')).toContain('Owner uses the short filter');
  });
  it('what was found is wanted again at the end, and the register holds what it was left with', () => {
    const bench = begun({ volume: '3' });
    tell(bench, { ...shown, unit: '°C' }, { reason: 'As it came' });
    showing(bench, (n) => n).playTo('judge');
    bench.do({ type: 'adjustment-decided', set: 'as-found', adjustment: null, proposed: null, reason: '' });
    const item = nextItem(bench.state)!;
    expect(item).toMatchObject({ type: 'step', id: 'back' });
    const now = settingsNow(contextOf(bench.state, item as never, bench.at) as StepContext<'settings'>);
    expect(now.map((s) => s.wanted)).toEqual(['°C', '3.3', '2.14b']);
    const left = { ...shown, firmware: '2.14c' };
    expect(
      bench.try({ type: 'step-done', set: 'as-found', id: 'back', value: numbers(left), shown: left, reason: 'Updated' }),
    ).toBeNull();
    expect(settingsLeft(bench.state)).toEqual({ volume: '3', unit: 'mV', cutoff: '3.3', firmware: '2.14c' });
  });
  it.each([
    ['0.80', '0,8', true],
    ['Low', 'low ', true],
    ['-1', '−1', true],
    ['0.8', '0.25', false],
    ['4 wires', '4', false],
  ])('%s and %s are the same: %s', (a, b, same) => expect(isSameSetting(a, b)).toBe(same));
});

describe('a document with settings', () => {
  const read = (change: (steps: Record<string, unknown>[]) => void) => {
    const steps = structuredClone(document.steps) as unknown as Record<string, unknown>[];
    change(steps);
    return () => readDocument({ ...setup(document).procedure, steps });
  };
  it('is refused where a wanted value is none of its options, two have one id, or what is restored is no such step', () => {
    expect(read((s) => (s[0]!['settings'] = [{ ...settings[0], want: 'bar' }]))).toThrow('not one of the options');
    expect(read((s) => (s[0]!['settings'] = [settings[2], settings[2]]))).toThrow('firmware');
    expect(read((s) => (s[1]!['restores'] = 'main'))).toThrow('not a step that looks at settings');
    expect(read((s) => (s[0]!['settings'] = [{ ...settings[1], want: { is: 'moon' } }]))).toThrow('moon');
  });
});

describe('numbers that are keyed in', () => {
  const keyed = {
    ...document,
    steps: [
      {
        kind: 'do',
        id: 'key',
        title: 'Key in',
        instruction: 'Key these in.',
        show: [
          { id: 'full', title: 'Full scale', unit: 'V', is: 'instrument.span * 1.00004', step: 0.001 },
          { title: 'Zero', unit: 'V', is: '-0.25' },
        ],
      },
    ],
    series: [
      { ...document.series[0]!, computed: [{ id: 'd', unit: 'V', is: 'R - point.nominal + (step.key.full - 10) * 0.001' }] },
    ],
  };
  it('are recorded as keyed, each of them, and what was keyed is what formulas reckon with', () => {
    const bench = new TestBench(setup(keyed));
    const act = (value: unknown, shownThere?: Record<string, string>) =>
      bench.try({ type: 'step-done', set: 'as-found', id: 'key', value, ...(shownThere ? { shown: shownThere } : {}) } as never);
    expect(act(true)).toContain('Tick each number');
    expect(act({ full: 10 }, { full: '10.001', '2': '−0.25' })).toContain('has changed to 10.000');
    expect(act({ full: 9 }, { full: '10.000', '2': '−0.25' })).toContain('not those shown');
    expect(act({ full: 10 }, { full: '10.000', '2': '−0.25' })).toBeNull();
    expect(actWords(bench.events.at(-1)!.act, bench.state)).toBe('Key in: keyed in: Full scale 10.000; Zero −0.25');
    showing(bench, (n) => n).playTo('judge');
  });
});
