import { addDays, addMonths, format, parseISO, subMonths } from 'date-fns';
import type { StandardDocument } from '../../core/standard/standard-schema';
import { families } from './families';
import { moreStandards } from './more-standards';
import { normalDeviate, seededRandom } from '../random';

/** Standards of the invented works; days relative to the day the demo is made. */
export type DemoStandard = {
  id: string;
  place: string;
  /** Null: it needs no certificate. */
  certificate: { issuer: string; number: string; issuedDaysAgo: number; dueInDays: number; monthsValid: number } | null;
  document: Omit<StandardDocument, 'certificate' | 'format' | 'version' | 'designation'> & { designation: string };
};

const day = (date: Date): string => format(date, 'yyyy-MM-dd');
const round = (value: number, decimals: number): number => Number(value.toFixed(decimals));

/** Nominal sizes of a 47-piece set, in mm. */
function nominalsOf47(): number[] {
  const steps = (from: number, to: number, step: number) =>
    Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => round(from + i * step, 4));
  return [1.005, ...steps(1.01, 1.09, 0.01), ...steps(1.1, 1.9, 0.1), ...steps(1, 24, 1), 25, 50, 75, 100];
}

type Items = NonNullable<StandardDocument['items']>;

/** Block lengths as a certificate might give them: deviations of a few hundredths to tenths of a micrometre. */
function certifiedBlocks(nominals: number[], seed: number, prefix: string): Items {
  const random = seededRandom(seed);
  return nominals.map((nominal) => {
    const spread = 0.00006 + 0.0000012 * nominal;
    return {
      id: `${prefix}-${nominal}`,
      marking: String(nominal),
      nominal,
      certified: round(nominal + spread * Math.max(-2, Math.min(2, normalDeviate(random))), 5),
      expandedUncertainty: round(0.00005 + 0.0000005 * nominal, 6),
      coverageFactor: 2,
      properties: { expansionCoefficient: 1.15e-5 },
    };
  });
}

/** Weights as a certificate might give them, in g. */
function certifiedWeights(nominals: number[], seed: number): Items {
  const random = seededRandom(seed);
  return nominals.map((nominal, i) => {
    const U = round(0.00003 + 0.0000012 * nominal, 6);
    return {
      id: `w${nominal}${nominals.indexOf(nominal) < i ? 'b' : ''}`,
      marking: `${nominal}${nominals.indexOf(nominal) < i ? '*' : ''}`,
      nominal,
      certified: round(nominal + 1.2 * U * Math.max(-2, Math.min(2, normalDeviate(random))), 6),
      expandedUncertainty: U,
      coverageFactor: 2,
    };
  });
}

const blocks = (id: string, identification: string, designation: string, nominals: number[], seed: number) => ({
  identification,
  kind: 'gauge-block-set',
  designation,
  unit: 'mm',
  items: certifiedBlocks(nominals, seed, id),
});

export const standards: DemoStandard[] = [
  {
    id: 'gb-47',
    place: 'Measuring room, cabinet 2',
    certificate: {
      issuer: 'Ostrel Length Institute',
      number: 'OLI 25-30718',
      issuedDaysAgo: 402,
      dueInDays: 328,
      monthsValid: 24,
    },
    document: blocks('gb-47', 'QM-GB-47', 'Gauge blocks, steel, grade 1, 47 pieces', nominalsOf47(), 47),
  },
  {
    id: 'gb-m10',
    place: 'Measuring room, bench drawer',
    certificate: {
      issuer: 'Pellamy & Oake Calibration',
      number: 'PO-11874/25',
      issuedDaysAgo: 348,
      dueInDays: 17,
      monthsValid: 12,
    },
    document: blocks(
      'gb-m10',
      'QM-GB-M10',
      'Micrometer check blocks, steel, grade 2, 10 pieces',
      [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8, 25],
      10,
    ),
  },
  {
    id: 'gb-old',
    place: 'Bell shop',
    certificate: {
      issuer: 'Ostrel Length Institute',
      number: 'OLI 23-20455',
      issuedDaysAgo: 790,
      dueInDays: -60,
      monthsValid: 24,
    },
    document: blocks(
      'gb-old',
      'QM-GB-32',
      'Gauge blocks, steel, grade 2, old foundry set',
      nominalsOf47().filter((n) => n <= 25),
      32,
    ),
  },
  {
    id: 'prt-3',
    place: 'Measuring room, bath bench',
    certificate: {
      issuer: 'Harrow Vale Thermometry',
      number: 'HVT 26-0107',
      issuedDaysAgo: 210,
      dueInDays: 155,
      monthsValid: 12,
    },
    document: {
      identification: 'QM-PRT-3',
      kind: 'reference-thermometer',
      designation: 'Reference probe with indicator, −20 °C to 200 °C',
      unit: 'Cel',
      resolution: 0.001,
      corrections: [
        { at: -20, correction: 0.016, expandedUncertainty: 0.022, coverageFactor: 2 },
        { at: 0, correction: 0.012, expandedUncertainty: 0.02, coverageFactor: 2 },
        { at: 50, correction: -0.004, expandedUncertainty: 0.024, coverageFactor: 2 },
        { at: 100, correction: -0.021, expandedUncertainty: 0.03, coverageFactor: 2 },
        { at: 200, correction: -0.034, expandedUncertainty: 0.05, coverageFactor: 2 },
      ],
      properties: { driftPerYear: 0.01 },
    },
  },
  {
    id: 'bath-1',
    place: 'Measuring room, bath bench',
    certificate: null,
    document: {
      identification: 'QM-BATH-1',
      kind: 'bath',
      designation: 'Stirred bath, 18 l',
      properties: { uniformity: 0.01 },
    },
  },
  {
    id: 'weights-e',
    place: 'Balance room, cabinet',
    certificate: { issuer: 'Corran Mass Laboratory', number: 'CML-25/2204', issuedDaysAgo: 281, dueInDays: 449, monthsValid: 24 },
    document: {
      identification: 'QM-W-2',
      kind: 'weight-set',
      designation: 'Weights 1 g to 500 g, steel',
      unit: 'g',
      items: certifiedWeights([1, 2, 2, 5, 10, 20, 20, 50, 100, 200, 200, 500], 26),
      properties: { density: 8000, driftShare: 0.5 },
    },
  },
  {
    id: 'pressure-1',
    place: 'Blower room, trolley',
    certificate: {
      issuer: 'Tarnbeck Pressure Works',
      number: 'TPW 26-0405',
      issuedDaysAgo: 235,
      dueInDays: 130,
      monthsValid: 12,
    },
    document: {
      identification: 'QM-P-1',
      kind: 'pressure-standard',
      designation: 'Pressure standard, 700 kPa',
      unit: 'kPa',
      resolution: 0.01,
      corrections: [
        { at: 0, correction: 0, expandedUncertainty: 0.05, coverageFactor: 2 },
        { at: 350, correction: 0.04, expandedUncertainty: 0.08, coverageFactor: 2 },
        { at: 700, correction: 0.1, expandedUncertainty: 0.12, coverageFactor: 2 },
      ],
    },
  },
  {
    id: 'meter-4',
    place: 'Blower room, trolley',
    certificate: {
      issuer: 'Ashgrove Electrical Standards',
      number: 'AES 26-0512',
      issuedDaysAgo: 198,
      dueInDays: 167,
      monthsValid: 12,
    },
    document: {
      identification: 'QM-M-4',
      kind: 'multimeter',
      designation: 'Current meter, 25 mA range',
      unit: 'mA',
      resolution: 0.001,
      corrections: [
        { at: 0, correction: 0, expandedUncertainty: 0.002, coverageFactor: 2 },
        { at: 10, correction: -0.001, expandedUncertainty: 0.003, coverageFactor: 2 },
        { at: 24, correction: -0.002, expandedUncertainty: 0.004, coverageFactor: 2 },
      ],
    },
  },
  ...moreStandards,
  ...families.flatMap((f) => f.standards),
];

/** A standard's document as it was on a day: with the certificate of that time; each has been recertified as often as it is due. */
export function documentOn(standard: DemoStandard, today: string, date: string): StandardDocument {
  const { certificate: c, document } = standard;
  const bare = { format: 'just-twice/standard' as const, version: 1 as const, ...document };
  if (!c) return bare;
  const present = day(addDays(parseISO(today), -c.issuedDaysAgo));
  if (date >= present)
    return {
      ...bare,
      certificate: { issuer: c.issuer, number: c.number, date: present, due: day(addDays(parseISO(today), c.dueInDays)) },
    };
  let issued = parseISO(present);
  while (day(issued) > date) issued = subMonths(issued, c.monthsValid);
  const number = `${c.number.split(/[ /-]/)[0]} ${format(issued, 'yy')}-${format(issued, 'MMdd')}`;
  return { ...bare, certificate: { issuer: c.issuer, number, date: day(issued), due: day(addMonths(issued, c.monthsValid)) } };
}
