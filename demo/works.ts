import type { Budget } from '../src/core/uncertainty/budget-schema';
import type { StandardItem } from '../src/core/run/event-schema';
import { seededRandom, normalDeviate } from './random';

/** The invented works: everything here is made up. */
export const laboratory = { name: 'Quillmere Bell & Organ Works, Measuring Room', address: 'Foundry Yard, Quillmere' };

export const people = ['Maud Ellery', 'Tobias Wrenfield', 'Ines Calderstone'];

/** Nominal sizes of a 47-piece set, in mm. */
export function nominalsOf47(): number[] {
  const steps = (from: number, to: number, step: number) =>
    Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => Math.round((from + i * step) * 1e4) / 1e4);
  return [1.005, ...steps(1.01, 1.09, 0.01), ...steps(1.1, 1.9, 0.1), ...steps(1, 24, 1), 25, 50, 75, 100];
}

/** Block lengths as a certificate might give them: deviations of a few hundredths to tenths of a micrometre. */
export function certifiedBlocks(nominals: number[], seed: number, prefix: string): StandardItem[] {
  const random = seededRandom(seed);
  return nominals.map((nominal) => {
    const spread = 0.00006 + 0.0000012 * nominal;
    const certified = Math.round((nominal + spread * Math.max(-2, Math.min(2, normalDeviate(random)))) * 1e5) / 1e5;
    const expandedUncertainty = Math.round((0.00005 + 0.0000005 * nominal) * 1e6) / 1e6;
    return {
      id: `${prefix}-${nominal}`,
      nominal,
      certified,
      expandedUncertainty,
      coverageFactor: 2,
      expansionCoefficient: 1.15e-5,
      marking: String(nominal),
    };
  });
}

/** Days relative to the day the demo is made. */
export const standards = [
  {
    id: 'gb-47',
    identification: 'QM-GB-47',
    designation: 'Gauge blocks, steel, grade 1, 47 pieces',
    place: 'Measuring room, cabinet 2',
    issuer: 'Ostrel Length Institute',
    number: 'OLI 25-30718',
    issuedDaysAgo: 402,
    dueInDays: 328,
    nominals: nominalsOf47(),
    seed: 47,
  },
  {
    id: 'gb-m10',
    identification: 'QM-GB-M10',
    designation: 'Micrometer check blocks, steel, grade 2, 10 pieces',
    place: 'Measuring room, bench drawer',
    issuer: 'Pellamy & Oake Calibration',
    number: 'PO-11874/25',
    issuedDaysAgo: 348,
    dueInDays: 17,
    nominals: [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8, 25],
    seed: 10,
  },
  {
    id: 'gb-old',
    identification: 'QM-GB-32',
    designation: 'Gauge blocks, steel, grade 2, old foundry set',
    place: 'Bell shop',
    issuer: 'Ostrel Length Institute',
    number: 'OLI 23-20455',
    issuedDaysAgo: 790,
    dueInDays: -60,
    nominals: nominalsOf47().filter((n) => n <= 25),
    seed: 32,
  },
];

/** Budgets of the works: a calliper on bell rims, and a tuning weight. */
export const budgets: Budget[] = [
  {
    format: 'just-twice/budget',
    version: 1,
    name: 'Bell rim thickness by calliper at 150 mm',
    output: { symbol: 'E', unit: 'mm' },
    model: 'L_i - L_s + L_s*alpha*dt + d_i + d_M',
    quantities: [
      {
        symbol: 'L_i',
        name: 'Indication',
        unit: 'mm',
        source: 'Five readings, all alike',
        distribution: { type: 'constant', value: 150.1 },
      },
      {
        symbol: 'L_s',
        name: 'Gauge block',
        unit: 'mm',
        source: 'Certificate OLI 25-30718',
        distribution: { type: 'normal', mean: 150.0002, expandedUncertainty: 0.0006, coverageFactor: 2 },
      },
      {
        symbol: 'alpha',
        name: 'Expansion coefficient',
        unit: 'K-1',
        source: 'Steel',
        distribution: { type: 'rectangular', mean: 1.15e-5, halfWidth: 1e-6 },
      },
      {
        symbol: 'dt',
        name: 'Block and calliper differ by',
        unit: 'K',
        source: 'After an hour on the plate',
        distribution: { type: 'rectangular', mean: 0, halfWidth: 2 },
      },
      {
        symbol: 'd_i',
        name: 'Resolution',
        unit: 'mm',
        source: 'Step of 0.05 mm',
        distribution: { type: 'rectangular', mean: 0, halfWidth: 0.025 },
      },
      {
        symbol: 'd_M',
        name: 'Mechanical effects',
        unit: 'mm',
        source: 'Play and jaw error, from experience',
        distribution: { type: 'rectangular', mean: 0, halfWidth: 0.05 },
      },
    ],
    coverage: { probability: 0.9545 },
  },
  {
    format: 'just-twice/budget',
    version: 1,
    name: 'Tuning weight of 2 kg against the shop standard',
    output: { symbol: 'm_X', unit: 'g' },
    model: 'm_S + dm + d_drift + d_air',
    quantities: [
      {
        symbol: 'm_S',
        name: 'Standard',
        unit: 'g',
        source: 'Certificate',
        distribution: { type: 'normal', mean: 2000.0031, expandedUncertainty: 0.01, coverageFactor: 2 },
      },
      {
        symbol: 'dm',
        name: 'Difference, substituted',
        unit: 'g',
        source: 'Four cycles',
        distribution: { type: 'readings', values: [0.012, 0.015, 0.011, 0.014] },
      },
      {
        symbol: 'd_drift',
        name: 'Drift of the standard',
        unit: 'g',
        source: 'Its last three certificates',
        distribution: { type: 'triangular', mean: 0, halfWidth: 0.006 },
      },
      {
        symbol: 'd_air',
        name: 'Air buoyancy',
        unit: 'g',
        source: 'Not corrected',
        distribution: { type: 'rectangular', mean: 0, halfWidth: 0.004 },
      },
    ],
    coverage: { probability: 0.9545 },
  },
];

export type DemoInstrument = {
  identification: string;
  designation: string;
  owner: string;
  place: string;
  lower: number;
  mpe: number | null;
  adjustable: boolean;
  months: number | null;
  runs: number;
  /** Days from the demo day to the next due date. */
  dueInDays: number;
};

const shop = 'Quillmere Works';
const m = (
  identification: string,
  designation: string,
  owner: string,
  place: string,
  lower: number,
  runs: number,
  dueInDays: number,
  more: Partial<DemoInstrument> = {},
): DemoInstrument => ({
  identification,
  designation,
  owner,
  place,
  lower,
  runs,
  dueInDays,
  mpe: null,
  adjustable: true,
  months: null,
  ...more,
});

export const instruments: DemoInstrument[] = [
  m('QM-0112', 'Tammet M25, digital', shop, 'Pipe metal shop', 0, 5, -9),
  m('QM-0113', 'Tammet M25, digital', shop, 'Pipe metal shop', 0, 5, 41),
  m('QM-0118', 'Lindquill 7A, vernier to 0.001', shop, 'Reed voicing room', 0, 6, -31),
  m('QM-0121', 'Lindquill 7A, vernier to 0.001', shop, 'Reed voicing room', 0, 4, 16, { months: 6 }),
  m('QM-0126', 'Tammet M25, digital', shop, 'Action shop', 0, 3, 88),
  m('QM-0131', 'Ovrel Prior 25, digital', shop, 'Bell tuning shop', 0, 6, 4),
  m('QM-0132', 'Ovrel Prior 50, digital', shop, 'Bell tuning shop', 25, 5, 4),
  m('QM-0133', 'Ovrel Prior 75, digital', shop, 'Bell tuning shop', 50, 4, 130, { mpe: 0.005 }),
  m('QM-0134', 'Ovrel Prior 100, digital', shop, 'Bell tuning shop', 75, 4, 130, { mpe: 0.005 }),
  m('QM-0140', 'Tammet M50, digital', shop, 'Clapper forge', 25, 3, 201),
  m('QM-0147', 'Lindquill 9, vernier to 0.001', shop, 'Pattern shop', 0, 2, 265),
  m('QM-0151', 'Tammet M25, digital', shop, 'Measuring room', 0, 6, 52, { months: 6 }),
  m('QM-0152', 'Tammet M25, digital', shop, 'Measuring room', 0, 2, 310),
  m('FW-03', 'Ovrel Prior 25, digital', 'Fenwater Clock Repairs', 'Taken in', 0, 4, 23),
  m('FW-04', 'Lindquill 7A, vernier to 0.001', 'Fenwater Clock Repairs', 'Taken in', 0, 3, -2, { adjustable: false }),
  m('SH-MIC-1', 'Brannock Steady 25, digital', 'Sallowby Harness Makers', 'Taken in', 0, 2, 177),
  m('SH-MIC-2', 'Brannock Steady 25, digital', 'Sallowby Harness Makers', 'Taken in', 0, 3, 12, { adjustable: false }),
  m('TR-107', 'Brannock Steady 50, digital', 'Tarn Ridge Turbines', 'Taken in', 25, 5, 240),
  m('TR-108', 'Brannock Steady 75, digital', 'Tarn Ridge Turbines', 'Taken in', 50, 4, 240, { mpe: 0.005 }),
  m('TR-112', 'Lindquill 12, vernier to 0.001', 'Tarn Ridge Turbines', 'Taken in', 0, 5, 71),
];
