import type { DemoStandard } from './standards';

type Correction = { at: number; correction: number; expandedUncertainty: number; coverageFactor: number };
const correction = (at: number, value: number, U: number): Correction => ({
  at,
  correction: value,
  expandedUncertainty: U,
  coverageFactor: 2,
});
const item = (id: string, marking: string, nominal: number, certified: number, U: number) => ({
  id,
  marking,
  nominal,
  certified,
  expandedUncertainty: U,
  coverageFactor: 2,
});
const certificate = (issuer: string, number: string, issuedDaysAgo: number, dueInDays: number, monthsValid = 12) => ({
  issuer,
  number,
  issuedDaysAgo,
  dueInDays,
  monthsValid,
});

/** Standards of the eight further families of the invented works. */
export const moreStandards: DemoStandard[] = [
  {
    id: 'ring-25',
    place: 'Measuring room, cabinet 2',
    certificate: certificate('Ostrel Length Institute', 'OLI 25-31090', 331, 399, 24),
    document: {
      identification: 'QM-RING-1',
      kind: 'setting-ring',
      designation: 'Setting rings, steel, 25 mm and 60 mm',
      unit: 'mm',
      items: [item('ring25', '25', 25, 25.0006, 0.0008), item('ring60', '60', 60, 59.9991, 0.001)],
      properties: { expansionCoefficient: 1.15e-5 },
    },
  },
  {
    id: 'specimens-1',
    place: 'Measuring room, cabinet 3',
    certificate: certificate('Ostrel Length Institute', 'OLI 26-08811', 190, 175),
    document: {
      identification: 'QM-RS-1',
      kind: 'roughness-specimens',
      designation: 'Roughness specimens, sine, three pieces',
      unit: 'um',
      items: [
        { ...item('rsA', 'A', 0.4, 0.412, 0.012), properties: { cutOff: 0.8, spacing: 0.1 } },
        { ...item('rsB', 'B', 3, 2.97, 0.06), properties: { cutOff: 0, spacing: 0.25 } },
        { ...item('rsC', 'C', 10, 10.14, 0.2), properties: { cutOff: 2.5, spacing: 0 } },
      ],
      properties: { uniformity: 2, zone: 20 },
    },
  },
  {
    id: 'specimen-fine',
    place: 'Measuring room, cabinet 3',
    certificate: certificate('Ostrel Length Institute', 'OLI 26-08812', 190, 175),
    document: {
      identification: 'QM-RS-F',
      kind: 'stylus-specimen',
      designation: 'Roughness specimen, fine triangles',
      unit: 'um',
      items: [item('rsF', 'F', 0.4, 0.395, 0.012)],
      properties: { cutOff: 0.25, spacing: 0.1 },
    },
  },
  {
    id: 'gauge-2',
    place: 'Trolley 1',
    certificate: certificate('Ostrel Length Institute', 'OLI 26-10204', 120, 245),
    document: {
      identification: 'QM-DG-2',
      kind: 'dial-gauge',
      designation: 'Dial gauge, 10 mm, on a shaft clamp',
      unit: 'mm',
      resolution: 0.01,
      corrections: [correction(0, 0, 0.006), correction(10, 0.001, 0.006)],
    },
  },
  {
    id: 'level-1',
    place: 'Trolley 1',
    certificate: certificate('Ostrel Length Institute', 'OLI 26-10205', 120, 245),
    document: {
      identification: 'QM-LV-1',
      kind: 'level',
      designation: 'Electronic level',
      unit: 'deg',
      resolution: 0.05,
      corrections: [correction(-5, 0.02, 0.06), correction(5, 0.02, 0.06)],
    },
  },
  {
    id: 'heights-1',
    place: 'Trolley 1',
    certificate: certificate('Ostrel Length Institute', 'OLI 26-10206', 120, 245),
    document: {
      identification: 'QM-HG-1',
      kind: 'height-gauge',
      designation: 'Height gauge, 200 mm',
      unit: 'mm',
      resolution: 0.01,
      corrections: [correction(0, 0.01, 0.02), correction(200, 0.01, 0.02)],
    },
  },
  {
    id: 'salt-mg',
    place: 'Varnish room, salt shelf',
    certificate: null,
    document: {
      identification: 'QM-SALT-MG',
      kind: 'salt-solution',
      designation: 'Magnesium chloride, saturated',
      lot: 'MG-2611',
    },
  },
  {
    id: 'salt-na',
    place: 'Varnish room, salt shelf',
    certificate: null,
    document: { identification: 'QM-SALT-NA', kind: 'salt-solution', designation: 'Sodium chloride, saturated', lot: 'NA-2608' },
  },
  {
    id: 'comparator-1',
    place: 'Balance room, stone table',
    certificate: null,
    document: {
      identification: 'QM-CMP-1',
      kind: 'comparator',
      designation: 'Comparator, 320 g',
      unit: 'g',
      resolution: 0.00001,
      items: [item('cmp1', 'QM-CMP-1', 320, 320, 0)],
      properties: { sensitivity: 0.01, centring: 0.00001, window: 1, scatter: 0.0000045 },
    },
  },
  {
    id: 'comparator-2',
    place: 'Balance room, stone table',
    certificate: null,
    document: {
      identification: 'QM-CMP-2',
      kind: 'comparator',
      designation: 'Comparator, 22 g',
      unit: 'g',
      resolution: 0.000001,
      items: [item('cmp2', 'QM-CMP-2', 22, 22, 0)],
      properties: { sensitivity: 0.01, centring: 0.000001, window: 0.1, scatter: 0.00000045 },
    },
  },
  {
    id: 'calibrator-ref',
    place: 'Reed voicing room',
    certificate: certificate('Lowmoor Acoustics Laboratory', 'LAL 26-0311', 175, 190),
    document: {
      identification: 'QM-SC-R',
      kind: 'reference-sound-calibrator',
      designation: 'Reference sound calibrator, 94 dB and 114 dB',
      unit: 'dB',
      items: [item('l94', '94', 94, 94.03, 0.06), item('l114', '114', 114, 114.02, 0.06)],
      properties: { pressureCoefficient: 0.002, frequency: 1000 },
    },
  },
  {
    id: 'analyser-1',
    place: 'Reed voicing room',
    certificate: certificate('Lowmoor Acoustics Laboratory', 'LAL 26-0312', 175, 190),
    document: {
      identification: 'QM-AA-1',
      kind: 'acoustic-analyser',
      designation: 'Microphone with analyser',
      parts: [
        { id: 'frequency', unit: 'Hz', corrections: [correction(20, 0, 0.05), correction(20_000, 0, 0.05)] },
        { id: 'distortion', unit: '%', corrections: [correction(0, 0, 0.1), correction(10, 0, 0.1)] },
      ],
    },
  },
  {
    id: 'source-1',
    place: 'Console shop',
    certificate: certificate('Ashgrove Electrical Standards', 'AES 26-0777', 98, 267),
    document: {
      identification: 'QM-MS-1',
      kind: 'multifunction-source',
      designation: 'Multifunction source',
      properties: { validMonths: 12 },
      parts: [
        {
          id: 'dcv',
          unit: 'V',
          corrections: [
            correction(-1000, 0.002, 0.02),
            correction(-10, 0.0001, 0.0003),
            correction(0, 0, 0.00001),
            correction(10, -0.0001, 0.0003),
            correction(1000, -0.002, 0.02),
          ],
        },
        {
          id: 'acv',
          unit: 'V',
          corrections: [45, 100, 400].flatMap((frequency) => [
            { ...correction(0, 0, 0.0005), frequency },
            { ...correction(10, 0, 0.002), frequency },
            { ...correction(700, 0.05, frequency === 400 ? 0.3 : 0.2), frequency },
          ]),
        },
        {
          id: 'dca',
          unit: 'mA',
          corrections: [correction(-500, 0, 0.05), correction(-10, 0, 0.001), correction(10, 0, 0.001), correction(500, 0, 0.05)],
        },
        {
          id: 'ohm',
          unit: 'kOhm',
          corrections: [correction(0, 0, 0.00002), correction(10, 0, 0.0004), correction(1000, 0.01, 0.05)],
        },
      ],
    },
  },
  {
    id: 'glass-1',
    place: 'Varnish room',
    certificate: certificate('Pellamy & Oake Calibration', 'PO-12990/26', 140, 225),
    document: {
      identification: 'QM-GL-1',
      kind: 'gloss-standard',
      designation: 'Black glass',
      unit: '1',
      items: [item('g20', '20°', 20, 87.2, 0.5), item('g60', '60°', 60, 92.8, 0.4), item('g85', '85°', 85, 99.6, 0.5)],
      properties: { printed60: 92.8 },
    },
  },
  {
    id: 'tile-haze',
    place: 'Varnish room',
    certificate: certificate('Pellamy & Oake Calibration', 'PO-12991/26', 140, 225),
    document: {
      identification: 'QM-GL-2',
      kind: 'haze-standard',
      designation: 'White tile for haze',
      unit: '1',
      items: [item('h20', '20°', 20, 12.4, 0.6)],
    },
  },
  {
    id: 'tile-check',
    place: 'Varnish room',
    certificate: certificate('Pellamy & Oake Calibration', 'PO-12992/26', 140, 225),
    document: {
      identification: 'QM-GL-9',
      kind: 'gloss-check-tile',
      designation: 'Check tile, half gloss',
      unit: '1',
      items: [item('c20', '20°', 20, 31.6, 0.4), item('c60', '60°', 60, 52.4, 0.4), item('c85', '85°', 85, 71.8, 0.4)],
    },
  },
];
