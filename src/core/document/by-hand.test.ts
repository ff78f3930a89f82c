import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { caseSchema } from '../evaluate/case-schema';
import { evaluate } from '../evaluate/evaluate';
import { isDetermined } from '../evaluate/undetermined';
import { readDocument } from './read-document';

/* Further cases of documents that ship, each reckoned by hand beside the worked example of its document. */

type Input = { observations: unknown[]; standards: Record<string, unknown>; [member: string]: unknown };

const documentOf = (id: string) => {
  const raw = JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as { example: { input: Input } | { input: Input }[] };
  return { document: readDocument(raw), input: structuredClone([raw.example].flat()[0]!.input) };
};

function estimateIn(document: ReturnType<typeof readDocument>, input: Input, series: string, symbol: string) {
  const entry = evaluate(document, caseSchema.parse(input)).series.find((s) => s.id === series)!;
  const result = entry.points.flatMap((p) => p.results[symbol] ?? [])[0];
  return result && isDetermined(result) ? result : undefined;
}

describe('a loop', () => {
  const { document, input } = documentOf('pressure-transmitter');
  const loop: Input = {
    ...input,
    choices: { what: 'loop', displays: 'two' },
    observations: [{ series: 'error', point: 'p3', sweep: 'up', readings: [{ P: 300, I: '12.026', V: '300.6', W: '301.2' }] }],
  };
  const result = (symbol: string) => estimateIn(document, loop, 'error', symbol);
  // The standard shows 300 kPa and is low by 0.04 · 300/350; the meter shows 12.026 mA and is high by 0.0012026 mA.
  const pressure = 300 + (0.04 * 300) / 350;
  const current = 12.026 - 0.0012026;
  it('is read with its current and both displays, each against the pressure', () => {
    expect(result('F')!.estimate).toBeCloseTo((100 * (300.6 - pressure)) / 600, 9);
    expect(result('H')!.estimate).toBeCloseTo((100 * (301.2 - pressure)) / 600, 9);
    expect(result('C')!.estimate).toBeCloseTo(100 * ((current - 4) / 16 - pressure / 600), 9);
  });
  it('is judged by its displays: the current is told, and has no verdict of its own', () => {
    expect(result('F')!.verdict).not.toBeNull();
    expect(result('H')!.verdict).not.toBeNull();
    expect(result('C')!.verdict ?? null).toBeNull();
    expect(result('E')).toBeUndefined();
  });
  it('has one display where nothing else is chosen', () => {
    const one = [{ series: 'error', point: 'p3', sweep: 'up', readings: [{ P: 300, I: '12.026', V: '300.6' }] }];
    const alone: Input = { ...loop, choices: { what: 'loop' }, observations: one };
    expect(estimateIn(document, alone, 'error', 'F')).toBeDefined();
    expect(estimateIn(document, alone, 'error', 'H')).toBeUndefined();
  });
});

describe('a sound-level meter', () => {
  it('is checked as it is calibrated: pressure and field are taken off what the calibrator states', () => {
    const { document, input } = documentOf('sound-level-meter');
    const checker = {
      format: 'just-twice/standard',
      version: 1,
      identification: 'B',
      kind: 'check-calibrator',
      designation: 'Calibrator',
      certificate: { issuer: 'Institute', number: '1', date: '2026-02-10', due: '2027-02-10' },
      unit: 'dB',
      properties: { pressureCoefficient: -0.01 },
      items: [{ id: 'c', marking: '94', nominal: 94, certified: 94.05, expandedUncertainty: 0.1, coverageFactor: 2 }],
    };
    const reading = { V: '93.9' };
    const check: Input = {
      ...input,
      set: 'check',
      standards: { ...input.standards, checker: [checker] },
      conditions: { air: 23, pressure: 963.25, humidity: 50 },
      observations: [{ series: 'check', point: 'p1', readings: [reading, reading, reading] }],
    };
    const freeField = document.instrument.characteristics.find((c) => c.id === 'freeField')!.default as number;
    // 5 kPa below the reference pressure its level is higher by 0.05 dB.
    expect(estimateIn(document, check, 'check', 'Q')!.estimate).toBeCloseTo(93.9 - (94.05 + 0.05 + freeField), 9);
  });
});
