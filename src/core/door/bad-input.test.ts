import type { Evaluation } from '../evaluate/evaluation';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { disciplineFunctions } from '../disciplines/registry';
import { answerVerb } from './verbs';

/** As much of a case and of a procedure as is spoilt here. */
type Input = {
  conditions: Record<string, number>;
  instrument: { lists: Record<string, { nominal: number }[]> };
  observations: { series: string; readings: Record<string, string>[] }[];
};
type Raw = {
  example: { input: Input } | { input: Input }[];
  series: {
    uses: Record<string, object>;
    points: unknown;
    results: { tolerances: { tolerance: { terms: { range?: unknown }[] } }[] }[];
  }[];
};

/** The worked example of a procedure with something wrong in it, asked at the door. */
async function asked(id: string, spoil: (input: Input, procedure: Raw) => void) {
  const procedure = JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as Raw;
  const input = structuredClone([procedure.example].flat()[0]!.input);
  spoil(input, procedure);
  return answerVerb('evaluate', JSON.stringify({ procedure, ...input }));
}
/** Why results are not determined, where nothing is refused and the set does not pass. */
async function untoldIn(id: string, spoil: Parameters<typeof asked>[1]): Promise<string> {
  const answer = await asked(id, spoil);
  if (!answer.ok) throw new Error(`It was refused: ${answer.refusal.error.message}`);
  const { verdict, series } = answer.document as Evaluation;
  expect(['not-determined', 'conditional-fail', 'fail']).toContain(verdict);
  return series
    .flatMap((s) => s.points.flatMap((p) => Object.values(p.results).flatMap((r) => ('why' in r ? [r.why] : []))))
    .join(' ');
}

async function refusalOf(id: string, spoil: Parameters<typeof asked>[1]): Promise<string> {
  const answer = await asked(id, spoil);
  if (answer.ok) throw new Error(`It was taken: ${JSON.stringify(answer.document).slice(0, 200)}`);
  expect(answer.refusal.error.message).not.toMatch(/NaN|Infinity|undefined/);
  return `${answer.refusal.error.path.join('.')}: ${answer.refusal.error.message}`;
}
const readingsOf = (input: Input, series: string) =>
  input.observations.filter((o) => o.series === series).flatMap((o) => o.readings);

describe('what a bench can hand in by mistake is refused in words, discipline by discipline', () => {
  it('temperature: a voltage that no temperature of the type gives', async () =>
    expect(
      await refusalOf('thermocouple-indicator', (input) => {
        readingsOf(input, 'typeK')[0]!['V'] = '95.000';
      }),
    ).toMatch(/type K|temperatureK|mV|certificate|beyond/i));
  it('temperature: a resistance outside the equation leaves the points undetermined', async () =>
    expect(
      await untoldIn('resistance-thermometer-indicator', (input) => {
        for (const r of readingsOf(input, 'error')) if (r['X']) r['X'] = '5.00';
      }),
    ).toMatch(/resistance|certificate|beyond|outside/i));
  it('humidity: 130 % of it', async () => {
    const dewPoint = disciplineFunctions.get('dewPoint')!;
    expect(() => dewPoint.evaluate([20, 130])).toThrow(/humidity|%/i);
    expect(
      await refusalOf('piston-pipette-by-weighing', (input) => {
        input.conditions['humidity'] = 130;
      }),
    ).toMatch(/humidity|%/i);
  });
  it('pressure in another unit: 1.003 bar typed where hPa are wanted', async () =>
    expect(
      await refusalOf('piston-pipette-by-weighing', (input) => {
        input.conditions['pressure'] = 1.003;
      }),
    ).toMatch(/hPa|pressure/i));
  it('pressure: a standard in a unit of another kind', async () =>
    expect(
      await refusalOf('pressure-transmitter', (_input, procedure) => {
        procedure.series[0]!.uses = Object.fromEntries(
          Object.entries(procedure.series[0]!.uses).map(([k, u]) => [k, { ...u, unit: 'Cel' }]),
        );
      }),
    ).toMatch(/^standards\.\w+: .*one cannot become the other/));
  it('mass: a negative one where weights are stacked', async () =>
    expect(
      await untoldIn('moisture-balance', (_input, procedure) => {
        procedure.series[0]!.points = { unit: 'g', list: [-10, 25, 50, 100] };
      }),
    ).toMatch(/-10|negative|add to/));
  it('acoustics: a level below its background', async () =>
    expect(
      await refusalOf('sound-level-meter', (input) => {
        for (const r of readingsOf(input, 'checkLevel')) r['B'] = '96.0';
      }),
    ).toMatch(/above|background|level/i));
  it('lengths: a block that the set does not have', async () =>
    expect(
      await untoldIn('gauge-blocks-by-comparison', (input) => {
        input.instrument.lists['pieces']![0]!.nominal = 7;
      }),
    ).toMatch(/no item for 7/));
  it('lengths: points that lie on no sphere', async () =>
    expect(
      await refusalOf('coordinate-measuring-machine', (input) => {
        readingsOf(input, 'probing')[0]!['points'] = '1 2 3\n4 5 6';
      }),
    ).toMatch(/at least 4 points/));
  it('radio frequency: a file with its frequencies out of order', async () =>
    expect(
      await refusalOf('network-analyser', (input) => {
        readingsOf(input, 'openLine')[0]!['trace'] = '# GHz S MA R 50\n2 0.9 10\n1 0.8 20\n3 0.7 30';
      }),
    ).toMatch(/order|ascending|rise/i));
  it('electricity: an accuracy statement without its range', async () =>
    expect(
      await refusalOf('source-calibrator', (_input, procedure) => {
        delete procedure.series[0]!.results[0]!.tolerances[0]!.tolerance.terms[1]!.range;
      }),
    ).toBe('procedure.series.0.results.0.tolerances.0.tolerance.terms.1.range: This is missing.'));
  it('anywhere: a reading that is no number', async () =>
    expect(
      await refusalOf('bore-gauge', (input) => {
        readingsOf(input, 'error')[0]!['R'] = '25.00l';
      }),
    ).toMatch(/number/i));
});
