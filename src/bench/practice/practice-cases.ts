import type { FaultKind } from '../../core/practice/debrief-shape';

/** One fault of a case: the instrument's own, or of what stands around it. */
export type CaseFault = {
  kind: FaultKind;
  isOwn: boolean;
  /** The series in which it shows; the first that is judged where none is named. */ series?: string;
  /** Least and greatest size, in halves of what the limits allow. */ size?: [number, number];
};

export type PracticeCase = {
  id: string;
  /** What the owner says of it: never what is wrong. */ title: string;
  discipline:
    | 'Length'
    | 'Temperature and humidity'
    | 'Mass and volume'
    | 'Electrical'
    | 'Sound'
    | 'Pressure, force and torque'
    | 'Surfaces and materials';
  /** The procedure that is gone through. */ procedure: string;
  level: 'easy' | 'harder' | 'nasty';
  faults: CaseFault[];
};

const own = (kind: FaultKind, series?: string, size?: [number, number]): CaseFault => ({
  kind,
  isOwn: true,
  ...(series ? { series } : {}),
  ...(size ? { size } : {}),
});
const around = (kind: FaultKind, series?: string, size?: [number, number]): CaseFault => ({
  ...own(kind, series, size),
  isOwn: false,
});

/** Cases to practise on; sizes, signs and places are drawn anew each time. */
export const practiceCases: PracticeCase[] = [
  {
    id: 'dropped-micrometer',
    title: 'A micrometer that fell off the bench',
    discipline: 'Length',
    procedure: 'outside-micrometer',
    level: 'easy',
    faults: [own('offset')],
  },
  {
    id: 'borrowed-blocks',
    title: 'A micrometer, with blocks that the apprentices used in the morning',
    discipline: 'Length',
    procedure: 'outside-micrometer',
    level: 'easy',
    faults: [around('odd-point')],
  },
  {
    id: 'two-blocks',
    title: 'A micrometer; the case of blocks was tidied up by somebody else',
    discipline: 'Length',
    procedure: 'outside-micrometer',
    level: 'harder',
    faults: [around('exchanged')],
  },
  {
    id: 'worn-screw',
    title: 'A micrometer from the pipe metal shop, twenty years old',
    discipline: 'Length',
    procedure: 'outside-micrometer',
    level: 'harder',
    faults: [own('curvature')],
  },
  {
    id: 'calliper-kept-well',
    title: 'A calliper that its owner distrusts',
    discipline: 'Length',
    procedure: 'calliper',
    level: 'harder',
    faults: [],
  },
  {
    id: 'rings',
    title: 'A bore gauge; the rings were washed this morning',
    discipline: 'Length',
    procedure: 'bore-gauge',
    level: 'easy',
    faults: [around('exchanged')],
  },
  {
    id: 'sticky-plunger',
    title: 'A dial indicator that was oiled',
    discipline: 'Length',
    procedure: 'dial-indicator',
    level: 'harder',
    faults: [own('hysteresis', 'error', [2.6, 3.4])],
  },
  {
    id: 'stuck-hand',
    title: 'A dial indicator that somebody bumped',
    discipline: 'Length',
    procedure: 'dial-indicator',
    level: 'nasty',
    faults: [own('stuck')],
  },
  {
    id: 'wall-gauge',
    title: 'An ultrasonic gauge after a change of probe',
    discipline: 'Length',
    procedure: 'ultrasonic-thickness-gauge',
    level: 'harder',
    faults: [own('span'), around('offset')],
  },
  {
    id: 'drifting-bath',
    title: 'A thermometer, on a busy morning at the bath',
    discipline: 'Temperature and humidity',
    procedure: 'thermometer-in-bath',
    level: 'harder',
    faults: [around('drift')],
  },
  {
    id: 'probe-on-the-move',
    title: 'A thermometer whose probe was replaced',
    discipline: 'Temperature and humidity',
    procedure: 'thermometer-in-bath',
    level: 'easy',
    faults: [own('offset')],
  },
  {
    id: 'block-in-a-draught',
    title: 'A dry block calibrator next to the door',
    discipline: 'Temperature and humidity',
    procedure: 'dry-block-calibrator',
    level: 'harder',
    faults: [around('scatter', 'error', [2, 3])],
  },
  {
    id: 'cold-samples',
    title: 'A conductivity meter; the samples came from the cold store',
    discipline: 'Surfaces and materials',
    procedure: 'thermal-conductivity-meter',
    level: 'harder',
    faults: [around('drift', 'materials', [2, 3])],
  },
  {
    id: 'two-leads',
    title: 'A thermometer indicator with new leads',
    discipline: 'Temperature and humidity',
    procedure: 'resistance-thermometer-indicator',
    level: 'nasty',
    faults: [around('offset'), own('span')],
  },
  {
    id: 'salts',
    title: 'A water activity meter from the wood store',
    discipline: 'Temperature and humidity',
    procedure: 'water-activity-meter',
    level: 'harder',
    faults: [around('offset', 'middle')],
  },
  {
    id: 'balance-pan',
    title: 'A balance whose pan was taken off for cleaning',
    discipline: 'Mass and volume',
    procedure: 'balance',
    level: 'harder',
    faults: [around('odd-point', 'linearity', [2, 3])],
  },
  {
    id: 'flash',
    title: 'A flash point tester at the end of a long day',
    discipline: 'Temperature and humidity',
    procedure: 'flash-point-tester',
    level: 'nasty',
    faults: [around('not-settled', 'temperature', [3, 4])],
  },
  {
    id: 'balance-moved',
    title: 'A balance that was carried to another floor',
    discipline: 'Mass and volume',
    procedure: 'balance',
    level: 'easy',
    faults: [own('span', 'linearity')],
  },
  {
    id: 'pipette',
    title: 'A pipette of the glue kitchen',
    discipline: 'Mass and volume',
    procedure: 'piston-pipette-by-weighing',
    level: 'easy',
    faults: [own('offset')],
  },
  {
    id: 'weights',
    title: 'Weights; two of a set look alike',
    discipline: 'Mass and volume',
    procedure: 'weights-by-substitution',
    level: 'nasty',
    faults: [around('odd-point')],
  },
  {
    id: 'multimeter',
    title: 'A multimeter of the bellows electrician',
    discipline: 'Electrical',
    procedure: 'multimeter',
    level: 'harder',
    faults: [around('offset', 'dcv')],
  },
  {
    id: 'clamp',
    title: 'A clamp meter that was left on a live cable',
    discipline: 'Electrical',
    procedure: 'clamp-meter',
    level: 'nasty',
    faults: [own('span', 'alternating'), around('offset', 'direct')],
  },
  {
    id: 'source',
    title: 'A source calibrator, just switched on',
    discipline: 'Electrical',
    procedure: 'source-calibrator',
    level: 'harder',
    faults: [around('drift', 'volts')],
  },
  {
    id: 'calibrator-loose',
    title: 'A sound calibrator with a new ring',
    discipline: 'Sound',
    procedure: 'sound-calibrator',
    level: 'easy',
    faults: [around('scatter', 'level', [2, 3])],
  },
  {
    id: 'level-meter',
    title: 'A sound level meter that lay in the tower',
    discipline: 'Sound',
    procedure: 'sound-level-meter',
    level: 'harder',
    faults: [own('offset', 'checkLevel')],
  },
  {
    id: 'wind-pressure',
    title: 'A pressure transmitter of a wind chest',
    discipline: 'Pressure, force and torque',
    procedure: 'pressure-transmitter',
    level: 'easy',
    faults: [own('span')],
  },
  {
    id: 'leaking-line',
    title: 'A pressure transmitter on an old hose',
    discipline: 'Pressure, force and torque',
    procedure: 'pressure-transmitter',
    level: 'nasty',
    faults: [around('drift'), own('offset')],
  },
  {
    id: 'nothing-wrong',
    title: 'A pressure transmitter that its owner wants adjusted',
    discipline: 'Pressure, force and torque',
    procedure: 'pressure-transmitter',
    level: 'nasty',
    faults: [],
  },
  {
    id: 'bell-load',
    title: 'A load cell of the bell hoist',
    discipline: 'Pressure, force and torque',
    procedure: 'transducer-with-indicator',
    level: 'nasty',
    faults: [around('hysteresis', 'load', [2.4, 3.4])],
  },
  {
    id: 'coating',
    title: 'A coating gauge after a year in the paint room',
    discipline: 'Surfaces and materials',
    procedure: 'coating-thickness-gauge',
    level: 'harder',
    faults: [around('odd-point')],
  },
  {
    id: 'roughness',
    title: 'A roughness tester after its stylus was changed',
    discipline: 'Surfaces and materials',
    procedure: 'roughness-tester',
    level: 'easy',
    faults: [own('offset', 'ra', [1.2, 1.5])],
  },
];

/** A case by its id. */
export const practiceCase = (id: string): PracticeCase | undefined => practiceCases.find((c) => c.id === id);
