import type { DemoPerson } from '../src/service/sign-in/demo-people';
import type { Budget } from '../src/core/uncertainty/budget-schema';

/** The invented works: everything here is made up. */
export const laboratory = {
  name: 'Quillmere Bell & Organ Works, Measuring Room',
  address: 'Foundry Yard, Quillmere',
  conditionInstruments: 'Air: thermo-hygrometer QM-TH-2. Pressure: barometer QM-BA-1. Parts: contact thermometer QM-CT-4.',
};

export const people = ['Maud Ellery', 'Tobias Wrenfield', 'Ines Calderstone'];

/** What each of them may do, and the digits that the demo shows on its first page. */
export const access: DemoPerson[] = [
  { name: 'Maud Ellery', roles: ['technician', 'reviewer'], digits: '4071', does: 'calibrates, reviews for others' },
  { name: 'Tobias Wrenfield', roles: ['technician'], digits: '5926', does: 'calibrates' },
  {
    name: 'Ines Calderstone',
    roles: ['technician', 'reviewer', 'approver', 'administrator'],
    digits: '8350',
    does: 'reviews, approves, administrates',
  },
];

/** What opens every account of the demo beside its digits. */
export const demoPassword = 'three bells ring out a row';

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
