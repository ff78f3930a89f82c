import { describe, expect, it } from 'vitest';
import { disciplineAnalyses } from './registry';
import { readTouchstone, type Complex } from './rf/touchstone';

const analyse = (name: string, files: string[]) => disciplineAnalyses.get(name)!.analyse(files, {});

describe('a Touchstone file', () => {
  it.each([
    ['version 1, magnitude and angle in GHz', '! made\n# GHz S MA R 50\n0.1 0.5 90\n0.2 0.25 -90'],
    ['decibels', '# MHZ S DB R 50\n100 -6.020599913 90\n200 -12.041199827 -90'],
    ['real and imaginary, two ports', '# Hz S RI R 50\n1e8 0 0.5 1 1 1 1 1 1\n2e8 0 -0.25 1 1 1 1 1 1'],
    ['no option line: GHz, magnitude and angle', '0.1 0.5 90 ! first\n0.2 0.25 -90'],
    [
      'version 2 with its keywords',
      '[Version] 2.0\n# GHz S MA R 50\n[Number of Ports] 1\n[Number of Frequencies] 2\n[Network Data]\n0.1 0.5 90\n0.2 0.25 -90\n[End]\nanything',
    ],
  ])('is read: %s', (_, text) => {
    const [first, second] = readTouchstone(text);
    expect(first!.frequency).toBeCloseTo(1e8, 3);
    expect(first!.s11[0]).toBeCloseTo(0, 9);
    expect(first!.s11[1]).toBeCloseTo(0.5, 9);
    expect(second!.s11[1]).toBeCloseTo(-0.25, 9);
  });
  it.each([
    ['0.2 0.5 90\n0.1 0.5 90', 'Line 2 of the network file is out of order'],
    ['0.1 0.5', 'Line 1 of the network file does not hold a frequency and two numbers'],
    ['0.1 0.5 90\n0.2 0.5 90 1 1', 'holds 5 numbers; the lines before hold 3'],
    ['# GHz Z MA R 50\n0.1 1 0', 'holds Z parameters'],
    ['[Version] 3.0', 'is of version 3.0'],
    ['[Version] 2.0\n[Number of Ports] 4', 'names 4 ports'],
  ])('is refused with its line: %j', (text, words) => expect(() => readTouchstone(text)).toThrow(words));
});

describe('a reflection corrected by open, short and load', () => {
  const multiply = (a: Complex, b: Complex): Complex => [a[0] * b[0] - a[1] * b[1], a[0] * b[1] + a[1] * b[0]];
  const divide = (a: Complex, b: Complex): Complex => {
    const n = b[0] ** 2 + b[1] ** 2;
    return [(a[0] * b[0] + a[1] * b[1]) / n, (a[1] * b[0] - a[0] * b[1]) / n];
  };
  /** What an imperfect port shows of a reflection: m = e00 + e10e01 Γ / (1 − e11 Γ), another form of the model. */
  const shown = (gamma: Complex, f: number): Complex => {
    const [e00, e11, tracking]: Complex[] = [
      [0.05 * f, -0.02],
      [0.1, 0.08 * f],
      [0.9, -0.2 * f],
    ];
    const through = divide(multiply(tracking!, gamma), [1 - multiply(e11!, gamma)[0], -multiply(e11!, gamma)[1]]);
    return [e00![0] + through[0], e00![1] + through[1]];
  };
  const file = (gamma: (f: number) => Complex, frequencies = [0.1, 0.5, 1]) =>
    `# GHz S RI R 50\n${frequencies.map((f) => `${f} ${shown(gamma(f), f).join(' ')}`).join('\n')}`;
  const standards = [file(() => [1, 0]), file(() => [-1, 0]), file(() => [0, 0])];
  it('gives the reflection that the device has, whatever the port adds', () => {
    const device = (f: number): Complex => [0.3 * Math.cos(f), 0.3 * Math.sin(f)];
    const found = analyse('rf/one-port-correction', [...standards, file(device)]);
    expect(found['greatestMagnitude']).toBeCloseTo(0.3, 12);
    expect(found['leastMagnitude']).toBeCloseTo(0.3, 12);
    expect(found['directivity']).toBeCloseTo(Math.hypot(0.05, 0.02), 12);
    expect(found['sourceMatch']).toBeCloseTo(Math.hypot(0.1, 0.08), 12);
    expect(found['leastTracking']).toBeCloseTo(Math.hypot(0.9, 0.02), 12);
  });
  it('asks for four files at one setting, and for an open that is no short', () => {
    expect(() => analyse('rf/one-port-correction', standards)).toThrow('four files, in this order; there are 3');
    expect(() => analyse('rf/one-port-correction', [...standards, file(() => [0.1, 0], [0.1, 0.5, 2])])).toThrow(
      'same frequencies',
    );
    expect(() => analyse('rf/one-port-correction', [standards[0]!, standards[0]!, standards[2]!, standards[0]!])).toThrow(
      'Open and short give the same',
    );
  });
});
