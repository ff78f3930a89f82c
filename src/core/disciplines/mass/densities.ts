import { closedFunction } from '../discipline-function';

const vapour =
  '(h / 100) * (1.00062 + 3.14e-8 * (100 * p) + 5.6e-7 * t^2) * exp(1.2378847e-5 * (t + 273.15)^2 - 1.9121316e-2 * (t + 273.15) + 33.93711047 - 6343.1645 / (t + 273.15)) / (100 * p)';
const compressibility = `(1 - (100 * p) / (t + 273.15) * (1.58123e-6 - 2.9331e-8 * t + 1.1043e-10 * t^2 + (5.707e-6 - 2.051e-8 * t) * (${vapour}) + (1.9898e-4 - 2.376e-6 * t) * (${vapour})^2) + ((100 * p) / (t + 273.15))^2 * (1.83e-11 - 0.765e-8 * (${vapour})^2))`;

/** Density of moist air by the CIPM-2007 equation at 400 µmol/mol of carbon dioxide. */
export const airDensity = closedFunction({
  name: 'airDensity',
  title: 'Density of moist air',
  discipline: 'mass',
  parameters: [
    { id: 't', title: 'air temperature', unit: 'Cel' },
    { id: 'p', title: 'static pressure', unit: 'hPa' },
    { id: 'h', title: 'relative humidity', unit: '%' },
  ],
  unit: 'kg/m3',
  validity: '15 °C to 27 °C, 600 hPa to 1100 hPa, 0 % to 100 %',
  source: 'Picard, Davis, Gläser & Fujii, Metrologia 45 (2008) 149 (CIPM-2007), x(CO₂) = 400 µmol/mol',
  branches: [{ is: `3.483740e-3 * (100 * p) / (${compressibility} * (t + 273.15)) * (1 - 0.3780 * (${vapour}))` }],
  ranges: [
    { of: 't', from: 15, to: 27 },
    { of: 'p', from: 600, to: 1100 },
    { of: 'h', from: 0, to: 100 },
  ],
});

/** Density of air-free water at 101 325 Pa. */
export const waterDensity = closedFunction({
  name: 'waterDensity',
  title: 'Density of air-free water',
  discipline: 'mass',
  parameters: [{ id: 't', title: 'water temperature', unit: 'Cel' }],
  unit: 'kg/m3',
  validity: '0 °C to 40 °C, 101 325 Pa',
  source: 'Tanaka, Girard, Davis, Peuto & Bignell, Metrologia 38 (2001) 301',
  branches: [{ is: '999.974950 * (1 - (t - 3.983035)^2 * (t + 301.797) / (522528.9 * (t + 69.34881)))' }],
  ranges: [{ of: 't', from: 0, to: 40 }],
});
