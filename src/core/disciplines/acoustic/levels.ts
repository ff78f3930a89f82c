import { closedFunction } from '../discipline-function';

/** The pole frequencies of the weightings, from the defining values of IEC 61672-1, annex E, in Hz. */
function poles() {
  const [reference, low, high, a] = [1000, 10 ** 1.5, 10 ** 3.9, 10 ** 2.45];
  const D = Math.SQRT1_2;
  const c = low ** 2 * high ** 2;
  const b = (reference ** 2 + c / reference ** 2 - D * (low ** 2 + high ** 2)) / (1 - D);
  const root = Math.sqrt(b ** 2 - 4 * c);
  return {
    f1: Math.sqrt((-b - root) / 2),
    f2: ((3 - Math.sqrt(5)) / 2) * a,
    f3: ((3 + Math.sqrt(5)) / 2) * a,
    f4: Math.sqrt((-b + root) / 2),
  };
}
const { f1, f2, f3, f4 } = poles();
const squares = { one: f1 ** 2, two: f2 ** 2, three: f3 ** 2, four: f4 ** 2 };

const responseC = (f: string) =>
  `20 * log10(${squares.four} * ${f}^2 / ((${f}^2 + ${squares.one}) * (${f}^2 + ${squares.four})))`;
const responseA = (f: string) =>
  `20 * log10(${squares.four} * ${f}^4 / ((${f}^2 + ${squares.one}) * sqrt(${f}^2 + ${squares.two}) * sqrt(${f}^2 + ${squares.three}) * (${f}^2 + ${squares.four})))`;

const weighting = (letter: 'A' | 'C', response: (f: string) => string) =>
  closedFunction({
    name: `weighting${letter}`,
    title: `Frequency weighting ${letter}`,
    discipline: 'acoustic',
    parameters: [{ id: 'f', title: 'frequency', unit: 'Hz' }],
    unit: 'dB',
    validity: '10 Hz to 20 kHz; 0 dB at 1 kHz',
    source: 'IEC 61672-1:2013, annex E',
    branches: [{ is: `${response('f')} - (${response('1000')})` }],
    ranges: [{ of: 'f', from: 10, to: 20000 }],
  });

export const weightingA = weighting('A', responseA);
export const weightingC = weighting('C', responseC);

const sourceAndBackground = [
  { id: 'a', title: 'level with the source', unit: 'dB' },
  { id: 'b', title: 'background', unit: 'dB' },
] as const;
const twoLevels = [
  { id: 'a', title: 'level', unit: 'dB' },
  { id: 'b', title: 'level', unit: 'dB' },
] as const;

/** Level of two uncorrelated sounds together. */
export const levelSum = closedFunction({
  name: 'levelSum',
  title: 'Level of two uncorrelated sounds together',
  discipline: 'acoustic',
  parameters: twoLevels,
  unit: 'dB',
  validity: 'any levels',
  source: 'ISO 1996-1, 3.1: sum of mean squares',
  branches: [{ is: '10 * log10(10^(a / 10) + 10^(b / 10))' }],
  ranges: [],
});

/** Level of a sound from which the background has been taken away. */
export const levelDifference = closedFunction({
  name: 'levelDifference',
  title: 'Level without its background',
  discipline: 'acoustic',
  parameters: sourceAndBackground,
  unit: 'dB',
  validity: 'a level above its background',
  source: 'ISO 1996-2, difference of mean squares',
  branches: [{ is: '10 * log10(10^(a / 10) - 10^(b / 10))' }],
  ranges: [],
});
