import { AnalysisError, type DisciplineAnalysis } from '../discipline-analysis';
import { readTouchstone, type Complex } from './touchstone';

const add = (a: Complex, b: Complex): Complex => [a[0] + b[0], a[1] + b[1]];
const less = (a: Complex, b: Complex): Complex => [a[0] - b[0], a[1] - b[1]];
const times = (a: Complex, b: Complex): Complex => [a[0] * b[0] - a[1] * b[1], a[0] * b[1] + a[1] * b[0]];
const over = (a: Complex, b: Complex): Complex => {
  const square = b[0] ** 2 + b[1] ** 2;
  return [(a[0] * b[0] + a[1] * b[1]) / square, (a[1] * b[0] - a[0] * b[1]) / square];
};
const size = (a: Complex): number => Math.hypot(a[0], a[1]);

/** The three error terms of one port from what open, short and load gave at a frequency. */
export function errorTerms(open: Complex, short: Complex, load: Complex) {
  const directivity = load;
  const apart = less(short, open);
  if (size(apart) < 1e-9) throw new AnalysisError('Open and short give the same: were they connected as the sentence asked?');
  const sourceMatch = over(less(times([2, 0], load), add(open, short)), apart);
  const delta = less(directivity, times(open, less([1, 0], sourceMatch)));
  return { directivity, sourceMatch, delta, tracking: less(times(directivity, sourceMatch), delta) };
}

/** Open, short and load take the errors of one port out of a reflection. */
export const onePortCorrection: DisciplineAnalysis = {
  name: 'rf/one-port-correction',
  title: 'Reflection corrected by open, short and load',
  input: 'four Touchstone files at the same frequencies, in this order: open, short, load, device',
  needs: [],
  gives: [
    { id: 'greatestMagnitude', title: 'greatest magnitude of the corrected reflection', unit: '1' },
    { id: 'leastMagnitude', title: 'least magnitude of the corrected reflection', unit: '1' },
    { id: 'directivity', title: 'greatest magnitude of the directivity', unit: '1' },
    { id: 'sourceMatch', title: 'greatest magnitude of the source match', unit: '1' },
    { id: 'leastTracking', title: 'least magnitude of the tracking', unit: '1' },
  ],
  validity: 'standards taken as ideal: reflections of 1, −1 and 0 at the plane of reference; equal frequencies in all four files',
  source: 'three-term model m = (e00 − Δ Γ) / (1 − e11 Γ) with Δ = e00 e11 − e10 e01, solved for three known Γ',
  analyse: (files) => {
    if (files.length !== 4)
      throw new AnalysisError(`Open, short, load and device are four files, in this order; there are ${files.length}.`);
    const [open, short, load, device] = files.map(readTouchstone) as [
      ReturnType<typeof readTouchstone>,
      ReturnType<typeof readTouchstone>,
      ReturnType<typeof readTouchstone>,
      ReturnType<typeof readTouchstone>,
    ];
    if (device.length === 0) throw new AnalysisError('The file of the device holds no frequency.');
    const corrected = device.map(({ frequency, s11 }, i) => {
      for (const other of [open, short, load])
        if (other.length !== device.length || Math.abs((other[i]?.frequency ?? NaN) - frequency) > 1e-9 * frequency)
          throw new AnalysisError('The four files must have the same frequencies: measure them with one setting.');
      const terms = errorTerms(open[i]!.s11, short[i]!.s11, load[i]!.s11);
      return { ...terms, reflection: over(less(s11, terms.directivity), less(times(s11, terms.sourceMatch), terms.delta)) };
    });
    const sizes = (of: 'reflection' | 'directivity' | 'sourceMatch' | 'tracking') => corrected.map((c) => size(c[of]));
    return {
      greatestMagnitude: Math.max(...sizes('reflection')),
      leastMagnitude: Math.min(...sizes('reflection')),
      directivity: Math.max(...sizes('directivity')),
      sourceMatch: Math.max(...sizes('sourceMatch')),
      leastTracking: Math.min(...sizes('tracking')),
    };
  },
};
