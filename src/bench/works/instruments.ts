import type { InstrumentRow } from '../../store/register';
import { families } from './families';
import { moreInstruments } from './more-instruments';
import { windChests } from './wind-chests';
import { balanceTruth, micrometerTruth, thermometerTruth, transmitterTruth, type Truth } from '../truths';

export type DemoInstrument = {
  row: Partial<InstrumentRow> &
    Pick<InstrumentRow, 'identification' | 'designation' | 'owner' | 'place' | 'lower' | 'upper' | 'resolution'>;
  kind: string;
  unit: string;
  procedure: string;
  /** Standards by the role that they fill. */ standards: Record<string, string[]>;
  choices: Record<string, string>;
  /** How many runs are in its history. */ runs: number;
  /** Days from the demo day to the next due date. */ dueInDays: number;
  truth: (random: () => number) => Truth;
  /** Before which of its runs, from 0, something happened to it. */ spoilsBefore?: number;
  /** Which of its possible pasts is shown; the first where none is named. */ draw?: number;
};

const shop = 'Quillmere Works';

const micrometer = (
  identification: string,
  designation: string,
  owner: string,
  place: string,
  lower: number,
  runs: number,
  dueInDays: number,
  more: { limit?: number; adjustable?: boolean; months?: number } = {},
): DemoInstrument => ({
  kind: 'outside-micrometer',
  unit: 'mm',
  procedure: 'outside-micrometer',
  standards: { blocks: ['gb-47'] },
  choices: {},
  runs,
  dueInDays,
  truth: micrometerTruth,
  row: {
    identification,
    designation,
    owner,
    place,
    lower,
    upper: lower + 25,
    resolution: 0.001,
    ...(more.limit === undefined ? {} : { characteristics: { limit: more.limit } }),
    adjustmentAllowed: more.adjustable ?? true,
    intervalMonths: more.months ?? null,
  },
});

const micrometers: DemoInstrument[] = [
  micrometer('QM-0112', 'Tammet M25, digital', shop, 'Pipe metal shop', 0, 5, -9),
  micrometer('QM-0113', 'Tammet M25, digital', shop, 'Pipe metal shop', 0, 5, 41),
  micrometer('QM-0118', 'Lindquill 7A, vernier to 0.001', shop, 'Reed voicing room', 0, 6, -31),
  micrometer('QM-0121', 'Lindquill 7A, vernier to 0.001', shop, 'Reed voicing room', 0, 4, 16, { months: 6 }),
  micrometer('QM-0126', 'Tammet M25, digital', shop, 'Action shop', 0, 3, 88),
  micrometer('QM-0131', 'Ovrel Prior 25, digital', shop, 'Bell tuning shop', 0, 6, 4),
  micrometer('QM-0132', 'Ovrel Prior 50, digital', shop, 'Bell tuning shop', 25, 5, 4),
  micrometer('QM-0133', 'Ovrel Prior 75, digital', shop, 'Bell tuning shop', 50, 4, 130, { limit: 0.005 }),
  micrometer('QM-0134', 'Ovrel Prior 100, digital', shop, 'Bell tuning shop', 75, 4, 130, { limit: 0.005 }),
  micrometer('QM-0140', 'Tammet M50, digital', shop, 'Clapper forge', 25, 3, 201),
  micrometer('QM-0147', 'Lindquill 9, vernier to 0.001', shop, 'Pattern shop', 0, 2, 265),
  micrometer('QM-0151', 'Tammet M25, digital', shop, 'Measuring room', 0, 6, 52, { months: 6 }),
  micrometer('QM-0152', 'Tammet M25, digital', shop, 'Measuring room', 0, 2, 310),
  micrometer('FW-03', 'Ovrel Prior 25, digital', 'Fenwater Clock Repairs', 'Taken in', 0, 4, 23),
  micrometer('FW-04', 'Lindquill 7A, vernier to 0.001', 'Fenwater Clock Repairs', 'Taken in', 0, 3, -2, { adjustable: false }),
  micrometer('SH-MIC-1', 'Brannock Steady 25, digital', 'Sallowby Harness Makers', 'Taken in', 0, 2, 177),
  micrometer('SH-MIC-2', 'Brannock Steady 25, digital', 'Sallowby Harness Makers', 'Taken in', 0, 3, 12, { adjustable: false }),
  micrometer('TR-107', 'Brannock Steady 50, digital', 'Tarn Ridge Turbines', 'Taken in', 25, 5, 240),
  micrometer('TR-108', 'Brannock Steady 75, digital', 'Tarn Ridge Turbines', 'Taken in', 50, 4, 240, { limit: 0.005 }),
  micrometer('TR-112', 'Lindquill 12, vernier to 0.001', 'Tarn Ridge Turbines', 'Taken in', 0, 5, 251),
];

const thermometer = (
  identification: string,
  serialNumber: string,
  place: string,
  runs: number,
  dueInDays: number,
): DemoInstrument => ({
  kind: 'thermometer',
  unit: 'Cel',
  procedure: 'thermometer-in-bath',
  standards: { reference: ['prt-3'], bath: ['bath-1'] },
  choices: { liquid: 'water' },
  runs,
  dueInDays,
  truth: thermometerTruth,
  row: {
    identification,
    serialNumber,
    designation: 'Calda Probe 2, digital',
    owner: shop,
    place,
    lower: -30,
    upper: 150,
    usedLower: 10,
    usedUpper: 90,
    resolution: 0.01,
    parts: { probe: `${serialNumber}-P` },
    stored: { offset: 0 },
  },
});

const balance = (
  identification: string,
  place: string,
  capacity: number,
  resolution: number,
  runs: number,
  dueInDays: number,
): DemoInstrument => ({
  kind: 'balance',
  unit: 'g',
  procedure: 'balance',
  standards: { weights: ['weights-e'] },
  choices: {},
  runs,
  dueInDays,
  truth: balanceTruth,
  row: {
    identification,
    designation: `Wendell Beam ${capacity}`,
    owner: shop,
    place,
    lower: 0,
    upper: capacity * 1.05,
    usedLower: 0,
    usedUpper: capacity,
    resolution,
  },
});

const transmitter = (
  identification: string,
  place: string,
  upper: number,
  runs: number,
  dueInDays: number,
  what: string,
): DemoInstrument => ({
  kind: 'pressure-transmitter',
  unit: 'kPa',
  procedure: 'pressure-transmitter',
  standards: { pressure: ['pressure-1'], meter: ['meter-4'] },
  choices: what === 'loop' ? { what, displays: 'two' } : { what },
  runs,
  dueInDays,
  truth: transmitterTruth,
  row: {
    identification,
    designation: 'Norrick PT 4-20',
    owner: shop,
    place,
    lower: 0,
    upper: 700,
    usedLower: 0,
    usedUpper: upper,
    resolution: 0.1,
    stored: { lowTrim: 0, highTrim: 0 },
  },
});

export const instruments: DemoInstrument[] = [
  ...micrometers,
  thermometer('QT-11', 'CP2-40871', 'Bell metal furnace', 3, 38),
  thermometer('QT-12', 'CP2-40872', 'Glue room', 2, 120),
  { ...thermometer('QT-14', 'CP2-41006', 'Measuring room', 2, 191), spoilsBefore: 1 },
  balance('QB-02', 'Alloy room', 200, 0.001, 3, 26),
  balance('QB-03', 'Varnish room', 200, 0.001, 2, 95),
  { ...balance('QB-05', 'Alloy room', 500, 0.001, 2, 176), spoilsBefore: 1 },
  transmitter('QP-21', 'Blower room, wind trunk', 600, 3, 61, 'transmitter'),
  { ...transmitter('QP-22', 'Blower room, reservoir', 300, 2, 515, 'transmitter'), spoilsBefore: 1 },
  transmitter('QP-25', 'Console, wind display', 600, 2, 19, 'loop'),
  ...moreInstruments,
  ...families.slice(0, -1).flatMap((f) => f.instruments),
  thermometer('QT-21', 'CP2-41220', 'Organ case, swell', 2, 14),
  thermometer('QT-22', 'CP2-41221', 'Organ case, great', 2, 14),
  thermometer('QT-23', 'CP2-41222', 'Organ case, pedal', 2, 14),
  ...windChests,
  // What came to the works last stands last: those before it keep their pasts.
  ...families.slice(-1).flatMap((f) => f.instruments),
];
