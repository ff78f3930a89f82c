import { closedFunction, inverseFunction, requireWithin, type DisciplineFunction } from '../discipline-function';

/** Relative humidity over a saturated salt: a polynomial in the temperature (Greenspan 1977, table 2). */
const salt = (formulaOfSalt: string, name: string, c: readonly number[], from: number, to: number): DisciplineFunction =>
  closedFunction({
    name: `humidity${name}`,
    title: `Relative humidity over saturated ${formulaOfSalt}`,
    discipline: 'humidity',
    parameters: [{ id: 't', title: 'temperature of the solution', unit: 'Cel' }],
    unit: '%',
    validity: `${from} °C to ${to} °C`,
    source: 'Greenspan, J. Res. Natl. Bur. Stand. 81A (1977) 89, table 2',
    branches: [{ is: c.map((k, i) => `(${k}) * t^${i}`).join(' + ') }],
    ranges: [{ of: 't', from, to }],
  });

/** Sodium bromide is left out: its constants could not be had for certain. */
export const salts: readonly DisciplineFunction[] = [
  salt('lithium chloride', 'LiCl', [11.2323, 0.00824245, -0.21489e-3], 0, 70),
  salt('magnesium chloride', 'MgCl2', [33.6686, -0.00797397, -0.108988e-2], 0, 99.4),
  salt('potassium carbonate', 'K2CO3', [43.1315, 0.00147523], 0, 30),
  salt('sodium chloride', 'NaCl', [75.5164, 0.0398321, -0.265459e-2, 0.2848e-4], 0, 80),
  salt('potassium chloride', 'KCl', [88.619, -0.19334, 0.899706e-3], 0, 90),
  salt('potassium sulphate', 'K2SO4', [98.7792, -0.0590502], 0, 50),
];

/** Saturation pressure of water vapour over water. */
export const saturationPressure = closedFunction({
  name: 'saturationPressure',
  title: 'Saturation pressure of water vapour, over water',
  discipline: 'humidity',
  parameters: [{ id: 't', title: 'temperature', unit: 'Cel' }],
  unit: 'hPa',
  validity: '−50 °C to 100 °C, over water (also below 0 °C)',
  source: 'Sonntag, Z. Meteorol. 40 (1990) 340',
  branches: [
    {
      is: 'exp(-6096.9385 / (t + 273.15) + 16.635794 - 2.711193e-2 * (t + 273.15) + 1.673952e-5 * (t + 273.15)^2 + 2.433502 * log(t + 273.15))',
    },
  ],
  ranges: [{ of: 't', from: -50, to: 100 }],
});

const temperatureAtSaturation = inverseFunction({
  ...saturationPressure,
  name: 'dewPoint',
  parameters: [{ id: 'e', title: 'vapour pressure', unit: 'hPa' }],
  unit: 'Cel',
  of: saturationPressure,
  from: -50,
  to: 100,
});

/** Dew point of air at a temperature and a relative humidity: where the vapour present would be saturated. */
export const dewPoint: DisciplineFunction = {
  name: 'dewPoint',
  title: 'Dew point, over water',
  discipline: 'humidity',
  parameters: [
    { id: 't', title: 'air temperature', unit: 'Cel' },
    { id: 'h', title: 'relative humidity', unit: '%' },
  ],
  unit: 'Cel',
  validity: 'dew points of −50 °C to 100 °C',
  source: 'Sonntag 1990, inverted; derivatives by implicit differentiation',
  evaluate: ([t, h]) => {
    requireWithin('dewPoint', h!, { of: 'h', from: 0, to: 100 }, '%');
    const saturated = saturationPressure.evaluate([t!]);
    const dew = temperatureAtSaturation.evaluate([(saturated.value * h!) / 100]);
    return {
      value: dew.value,
      partials: [(dew.partials[0]! * saturated.partials[0]! * h!) / 100, (dew.partials[0]! * saturated.value) / 100],
    };
  },
};
