import { formula } from '../../formula/formula';
import { closedFunction, inverseFunction, requireWithin, type DisciplineFunction } from '../discipline-function';

const coefficients = [
  { id: 'R0', title: 'resistance at 0 °C', unit: 'Ohm' },
  { id: 'A', title: 'coefficient A', unit: 'Cel-1' },
  { id: 'B', title: 'coefficient B', unit: 'Cel-2' },
  { id: 'C', title: 'coefficient C, below 0 °C', unit: 'Cel-4' },
] as const;

/** Resistance of a platinum thermometer (Callendar–Van Dusen). */
export const prtResistance = closedFunction({
  name: 'prtResistance',
  title: 'Resistance of a platinum thermometer',
  discipline: 'temperature',
  parameters: [{ id: 't', title: 'temperature', unit: 'Cel' }, ...coefficients],
  unit: 'Ohm',
  validity: '−200 °C to 850 °C',
  source: 'IEC 60751:2022, 5.2',
  branches: [
    { when: ([t]) => t! >= 0, is: 'R0 * (1 + A * t + B * t^2)' },
    { is: 'R0 * (1 + A * t + B * t^2 + C * (t - 100) * t^3)' },
  ],
  ranges: [{ of: 't', from: -200, to: 850 }],
});

/** Temperature of a platinum thermometer from its resistance: the inverse of `prtResistance`. */
export const prtTemperature = inverseFunction({
  name: 'prtTemperature',
  title: 'Temperature of a platinum thermometer',
  discipline: 'temperature',
  parameters: [{ id: 'R', title: 'resistance', unit: 'Ohm' }, ...coefficients],
  unit: 'Cel',
  validity: 'the resistances of −200 °C to 850 °C',
  source: 'IEC 60751:2022, 5.2, inverted; derivatives by implicit differentiation',
  of: prtResistance,
  from: -200,
  to: 850,
});

/** The reference function of ITS-90 above 0 °C, W_r as a sum of powers of (T/K − 754.15)/481. */
const reference = [
  2.78157254, 1.64650916, -0.1371439, -0.00649767, -0.00234444, 0.00511868, 0.00187982, -0.00204472, -0.00046122, 0.00045724,
];

const referenceRatio = closedFunction({
  name: 'its90Reference',
  title: 'Reference function of ITS-90',
  discipline: 'temperature',
  parameters: [{ id: 't', title: 'temperature', unit: 'Cel' }],
  unit: '1',
  validity: '0 °C to 961.78 °C',
  source: 'ITS-90, equation (10a) and table 4',
  branches: [{ is: reference.map((c, i) => `(${c}) * ((t - 481) / 481)^${i}`).join(' + ') }],
  ranges: [{ of: 't', from: 0, to: 961.78 }],
});

const temperatureOfRatio = inverseFunction({
  ...referenceRatio,
  name: 'its90Temperature',
  parameters: [{ id: 'W', title: 'reference ratio', unit: '1' }],
  unit: 'Cel',
  of: referenceRatio,
  from: 0,
  to: 961.78,
});

const ratio = formula('R / Rtp - a * (R / Rtp - 1) - b * (R / Rtp - 1)^2');

/** Temperature of a standard platinum thermometer above 0 °C, the reference function itself inverted. */
export const its90Temperature: DisciplineFunction = {
  name: 'its90Temperature',
  title: 'Temperature of a standard platinum thermometer above 0 °C',
  discipline: 'temperature',
  parameters: [
    { id: 'R', title: 'resistance', unit: 'Ohm' },
    { id: 'Rtp', title: 'resistance at the triple point of water', unit: 'Ohm' },
    { id: 'a', title: 'deviation coefficient a', unit: '1' },
    { id: 'b', title: 'deviation coefficient b', unit: '1' },
  ],
  unit: 'Cel',
  validity: '0 °C to 961.78 °C; deviation a(W − 1) + b(W − 1)²',
  source: 'ITS-90, 3.3.2 and equations (10a), (14)',
  evaluate: (args) => {
    const order = ratio.symbols.map((s) => ['R', 'Rtp', 'a', 'b'].indexOf(s));
    const { value, gradient } = ratio.evaluate(order.map((i) => args[i]!));
    requireWithin('its90Temperature', args[1]!, { of: 'Rtp', from: Number.MIN_VALUE, to: Infinity }, 'Ohm');
    const t = temperatureOfRatio.evaluate([value]);
    return { value: t.value, partials: args.map((_, i) => t.partials[0]! * gradient[order.indexOf(i)]!) };
  },
};
