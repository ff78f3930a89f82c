import type { DemoInstrument } from './instruments';
import {
  calliperTruth,
  glossTruth,
  humidityTruth,
  multimeterTruth,
  roughnessTruth,
  soundTruth,
  vesselTruth,
  weightsTruth,
} from '../more-truths';

const shop = 'Quillmere Works';

type Family = Pick<DemoInstrument, 'kind' | 'unit' | 'procedure' | 'standards' | 'choices' | 'truth'> &
  Partial<DemoInstrument['row']>;
type One = {
  identification: string;
  designation: string;
  place: string;
  owner?: string;
  runs: number;
  dueInDays: number;
} & Partial<DemoInstrument['row']>;

/** One instrument of a family. */
function of(family: Family, one: One): DemoInstrument {
  const { kind, unit, procedure, standards, choices, truth, ...common } = family;
  const { runs, dueInDays, owner = shop, ...own } = one;
  return {
    kind,
    unit,
    procedure,
    standards,
    choices,
    truth,
    runs,
    dueInDays,
    row: { owner, lower: 0, upper: 0, resolution: 1, ...common, ...own },
  };
}

const calliper: Family = {
  kind: 'calliper',
  unit: 'mm',
  procedure: 'calliper',
  standards: { blocks: ['gb-47'], ring: ['ring-25'] },
  choices: { depth: 'yes' },
  truth: calliperTruth,
  lower: 0,
  upper: 150,
  resolution: 0.01,
};
const roughness: Family = {
  kind: 'roughness-tester',
  unit: 'um',
  procedure: 'roughness-tester',
  standards: { specimens: ['specimens-1'], fine: ['specimen-fine'] },
  choices: {},
  truth: roughnessTruth,
  lower: 0,
  upper: 20,
  usedUpper: 12,
  resolution: 0.001,
  lists: {
    ranges: [
      { id: 'fine', title: 'Fine', nominal: 0.4, step: 0.001 },
      { id: 'middle', title: 'Middle', nominal: 3, step: 0.01 },
      { id: 'coarse', title: 'Coarse', nominal: 10, step: 0.01 },
    ],
  },
  stored: { gain: { fine: 0, middle: 0, coarse: 0 } },
};
const vessels: Family = {
  kind: 'stirred-vessel-station',
  unit: 'mm',
  procedure: 'stirred-vessel-station',
  standards: { gauge: ['gauge-2'], level: ['level-1'], heights: ['heights-1'] },
  choices: { limits: 'general' },
  truth: vesselTruth,
  lower: 0,
  upper: 100,
  resolution: 0.01,
};
const positions = (prefix: string, count: number) => ({
  positions: Array.from({ length: count }, (_, i) => ({
    id: String(i + 1),
    title: `Position ${i + 1}`,
    vessel: `${prefix}-V${i + 1}`,
    shaft: `${prefix}-S${i + 1}`,
  })),
});
const humidity: Family = {
  kind: 'humidity-meter',
  unit: '%',
  procedure: 'humidity-meter-over-salts',
  standards: { thermometer: ['prt-3'], dry: ['salt-mg'], damp: ['salt-na'] },
  choices: {},
  truth: humidityTruth,
  lower: 0,
  upper: 100,
  usedLower: 20,
  usedUpper: 90,
  resolution: 0.1,
  stored: { low: 0, high: 0 },
};
const weights: Family = {
  kind: 'weight',
  unit: 'g',
  procedure: 'weights-by-substitution',
  standards: { weights: ['weights-e'], comparator: ['comparator-1', 'comparator-2'] },
  choices: { class: 'M1' },
  truth: weightsTruth,
  lower: 1,
  upper: 200,
  resolution: 0.00001,
  adjustmentAllowed: false,
};
const pieces = (metal: { density: number; densityWithin: number; form: string }, ...nominals: number[]) => ({
  pieces: nominals.map((nominal) => ({ id: `m${nominal}`, title: `${nominal} g`, nominal, ...metal })),
});
const brass = { density: 8400, densityWithin: 170, form: 'Cylinder, brass, no cavity' };
const steel = { density: 7950, densityWithin: 140, form: 'Cylinder, steel, no cavity' };
const sound: Family = {
  kind: 'sound-calibrator',
  unit: 'dB',
  procedure: 'sound-calibrator',
  standards: { reference: ['calibrator-ref'], analyser: ['analyser-1'] },
  choices: {},
  truth: soundTruth,
  lower: 94,
  upper: 94,
  resolution: 0.01,
  stored: { trim: 0 },
};
const range = (id: string, title: string, upper: number, ofReading: number, ofRange: number, counts: number, step: number) => ({
  id,
  title,
  upper,
  ofReading,
  ofRange,
  counts,
  step,
});
const multimeter: Family = {
  kind: 'multimeter',
  unit: 'V',
  procedure: 'multimeter',
  standards: { source: ['source-1'] },
  choices: {},
  truth: multimeterTruth,
  lower: -1000,
  upper: 1000,
  usedLower: -600,
  usedUpper: 600,
  resolution: 0.001,
  lists: {
    dcvRanges: [
      range('v6', '6 V', 6, 0.05, 0.01, 2, 0.001),
      range('v60', '60 V', 60, 0.05, 0.01, 2, 0.01),
      range('v600', '600 V', 600, 0.08, 0.02, 2, 0.1),
    ],
    acvRanges: [{ ...range('a600', '600 V', 600, 0.5, 0.05, 5, 0.1), low: 45, middle: 100, high: 400 }],
    dcaRanges: [range('i60', '60 mA', 60, 0.2, 0.05, 3, 0.01)],
    ohmRanges: [range('k6', '6 kΩ', 6, 0.2, 0.02, 2, 0.001)],
  },
};
const gloss: Family = {
  kind: 'gloss-meter',
  unit: '1',
  procedure: 'gloss-and-haze-meter',
  standards: { glass: ['glass-1'], tile: ['tile-haze'], check: ['tile-check'] },
  choices: { haze: 'yes' },
  truth: glossTruth,
  lower: 0,
  upper: 200,
  usedUpper: 100,
  resolution: 0.1,
  lists: {
    angles: [
      { id: 'a20', title: '20°', angle: 20 },
      { id: 'a60', title: '60°', angle: 60 },
    ],
  },
  stored: { printed: { a20: 87.2, a60: 92.8 } },
};

/** Two instruments of each of eight further families. */
export const moreInstruments: DemoInstrument[] = [
  of(calliper, {
    identification: 'QC-31',
    designation: 'Tammet C150, digital',
    place: 'Bell tuning shop',
    runs: 3,
    dueInDays: 58,
  }),
  {
    ...of(calliper, {
      identification: 'QC-34',
      designation: 'Tammet C150, digital',
      place: 'Pattern shop',
      runs: 2,
      dueInDays: 240,
    }),
    spoilsBefore: 1,
  },
  of(roughness, {
    identification: 'QR-05',
    designation: 'Sillwater Trace',
    place: 'Bell tuning shop',
    runs: 3,
    dueInDays: 72,
    parts: { pickup: 'TR-5512' },
  }),
  {
    ...of(roughness, {
      identification: 'QR-06',
      designation: 'Sillwater Trace',
      place: 'Measuring room',
      runs: 2,
      dueInDays: 210,
      parts: { pickup: 'TR-5520' },
    }),
    spoilsBefore: 1,
  },
  of(vessels, {
    identification: 'HA-ST-1',
    designation: 'Ferrand Six',
    owner: 'Harrowfield Apothecary Works',
    place: 'Tablet laboratory',
    runs: 2,
    dueInDays: 31,
    lists: positions('HA1', 3),
  }),
  {
    ...of(vessels, {
      identification: 'HA-ST-2',
      designation: 'Ferrand Six',
      owner: 'Harrowfield Apothecary Works',
      place: 'Tablet laboratory',
      runs: 2,
      dueInDays: 99,
      lists: positions('HA2', 3),
    }),
    spoilsBefore: 1,
  },
  of(humidity, {
    identification: 'QH-08',
    designation: 'Vapnar 2',
    place: 'Varnish room',
    runs: 2,
    dueInDays: 45,
    parts: { probe: 'VP-771' },
  }),
  {
    ...of(humidity, {
      identification: 'QH-09',
      designation: 'Vapnar 2',
      place: 'Timber store',
      runs: 2,
      dueInDays: 260,
      parts: { probe: 'VP-774' },
    }),
    spoilsBefore: 1,
  },
  of(weights, {
    identification: 'QW-01',
    designation: 'Tuning weights, brass, 10 g to 200 g',
    place: 'Alloy room',
    runs: 2,
    dueInDays: 83,
    lists: pieces(brass, 10, 20, 50, 100, 200),
  }),
  {
    ...of(weights, {
      identification: 'QW-02',
      designation: 'Shop weights, 20 g to 200 g',
      place: 'Glue room',
      runs: 2,
      dueInDays: 560,
      lists: pieces(steel, 20, 50, 100, 200),
    }),
    spoilsBefore: 1,
  },
  of(sound, { identification: 'QS-03', designation: 'Lydwell 94', place: 'Reed voicing room', runs: 3, dueInDays: 27 }),
  {
    ...of(sound, { identification: 'QS-04', designation: 'Lydwell 94', place: 'Measuring room', runs: 2, dueInDays: 250 }),
    spoilsBefore: 1,
  },
  of(multimeter, { identification: 'QE-12', designation: 'Corvane 6000', place: 'Console shop', runs: 2, dueInDays: 49 }),
  {
    ...of(multimeter, { identification: 'QE-13', designation: 'Corvane 6000', place: 'Blower room', runs: 2, dueInDays: 262 }),
    spoilsBefore: 1,
  },
  of(gloss, { identification: 'QG-02', designation: 'Glanmore Duo', place: 'Varnish room', runs: 2, dueInDays: 64 }),
  {
    ...of(gloss, { identification: 'QG-03', designation: 'Glanmore Duo', place: 'Measuring room', runs: 2, dueInDays: 300 }),
    spoilsBefore: 1,
  },
];
