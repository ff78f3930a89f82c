import { describe, expect, it } from 'vitest';
import { exampleSetup, procedureNamed, TestBench } from './fixtures/bench';
import { notServed } from './not-served';

describe('an instrument that its procedure cannot serve', () => {
  const of = (id: string, more: Record<string, unknown> = {}) => {
    const { procedure, instrument } = exampleSetup(id);
    return notServed(procedure, { ...instrument, ...more });
  };
  it('of another quantity is refused by its unit', () => {
    expect(of('outside-micrometer', { unit: 'kPa' })).toMatchObject({
      field: 'unit',
      why: expect.stringContaining('mm') as string,
    });
    expect(of('outside-micrometer', { unit: '[in_i]' })).toBeNull();
  });
  it('with more points than anybody could read is refused by its range', () => {
    const { instrument, procedure } = exampleSetup('dial-indicator');
    const series = procedure.series.map((s) =>
      s.id === 'error' ? { ...s, points: { unit: 'mm', from: 0, to: 30, step: 0.01 } } : s,
    );
    expect(notServed({ ...procedure, series }, instrument)).toMatchObject({
      field: 'usedUpper',
      why: expect.stringContaining('3001 points') as string,
    });
  });
  it('whose range holds no point is refused by its range', () => {
    const { instrument, procedure } = exampleSetup('dial-indicator');
    const table = [{ nominal: 50, when: { positive: 'instrument.usedUpper - 50' } }];
    const series = procedure.series.flatMap((s) => (s.id === 'error' ? [{ ...s, points: { unit: 'mm', table } }] : []));
    expect(notServed({ ...procedure, series }, instrument)).toMatchObject({ field: 'usedUpper' });
    expect(notServed({ ...procedure, series }, { ...instrument, upper: 60, usedUpper: 60 })).toBeNull();
  });
  it('is not refused for what is still to be chosen or typed', () => {
    expect(of('weights-by-substitution', { lists: {} })).toBeNull();
    expect(of('multimeter', { lists: {}, characteristics: {} })).toBeNull();
    expect(of('bore-gauge')).toBeNull();
    const { instrument } = exampleSetup('transducer-with-indicator');
    expect(notServed(procedureNamed('transducer-with-indicator'), { ...instrument, characteristics: {} })).toBeNull();
  });
});

describe('a run of more readings than a page can hold', () => {
  it('is refused at its start, while one of thousands begins', () => {
    const { procedure, ...setup } = exampleSetup('dial-indicator');
    const begin = (repeats: number) =>
      new TestBench({ ...setup, procedure: { ...procedure, series: procedure.series.map((s) => ({ ...s, repeats })) } });
    expect(() => begin(500)).toThrow('more than 20000 things to do');
    expect(begin(200).state.plan.filter((i) => i.type === 'reading').length).toBeGreaterThan(8000);
  });
});

describe('what the register does not state', () => {
  const begin = (id: string, more: Record<string, unknown>) => {
    const setup = exampleSetup(id);
    return () => new TestBench({ ...setup, instrument: { ...setup.instrument, ...more } });
  };
  it('stops a run at its start where a formula needs it: a shunt equivalent has no usual value', () => {
    const { characteristics } = exampleSetup('transducer-with-indicator').instrument;
    expect(begin('transducer-with-indicator', {})).not.toThrow();
    expect(begin('transducer-with-indicator', { characteristics: { ...characteristics, minusEquivalent: undefined } })).toThrow(
      'The register does not state “Shunt equivalent, negative',
    );
  });
  it('is a whole list where the points are in it', () =>
    expect(begin('coating-thickness-gauge', { lists: {} })).toThrow(
      'The register lists nothing under “Thicknesses to be checked, up to nine; 0 is the bare base”',
    ));
  it('is wanted of every row of a list, but for what only a limit names', () => {
    const without = (id: string, list: string, column: string) => {
      const { lists } = exampleSetup(id).instrument;
      const [first, ...rest] = lists[list]!;
      return begin(id, { lists: { ...lists, [list]: [{ ...first!, [column]: undefined }, ...rest] } });
    };
    expect(without('gauge-blocks-by-comparison', 'pieces', 'modulus')).toThrow('“Young’s modulus” for every row of “Blocks”');
    expect(without('source-calibrator', 'voltRanges', 'ofReading90')).not.toThrow();
  });
});
