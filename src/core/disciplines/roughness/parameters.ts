import { AnalysisError, numberLines, type DisciplineAnalysis } from '../discipline-analysis';

/** α of the Gaussian filter: half of an amplitude passes at the cut-off. */
const alpha = Math.sqrt(Math.LN2 / Math.PI);

/** Mean line by the Gaussian profile filter (ISO 16610-21), its weights cut off at one cut-off either side and normalized at the ends. */
function meanLine(z: readonly number[], cutOff: number, spacing: number): Float64Array {
  const reach = Math.floor(cutOff / spacing);
  const weights = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-Math.PI * ((k * spacing) / (alpha * cutOff)) ** 2));
  return Float64Array.from(z, (_, i) => {
    let [sum, total] = [0, 0];
    for (let k = Math.max(0, i - reach); k <= Math.min(z.length - 1, i + reach); k++) {
      const w = weights[Math.abs(k - i)]!;
      sum += w * z[k]!;
      total += w;
    }
    return sum / total;
  });
}

/** Mean width of the profile elements about the mean line (ISO 4287, 4.3.1), heights below a tenth of Rz not counted. */
function meanWidth(r: readonly number[], spacing: number, threshold: number): number {
  const crossings: number[] = [];
  let side = 0;
  let last: number | null = null;
  for (let i = 0; i < r.length; i++) {
    if (i > 0 && r[i - 1]! < 0 !== r[i]! < 0) {
      const t = r[i - 1]! / (r[i - 1]! - r[i]!);
      if (r[i]! >= 0) last = i - 1 + t;
    }
    const now = r[i]! > threshold ? 1 : r[i]! < -threshold ? -1 : 0;
    if (now !== 0 && now !== side) {
      if (now === 1 && side === -1 && last !== null) crossings.push(last);
      side = now;
    }
  }
  if (crossings.length < 2) return NaN;
  return ((crossings.at(-1)! - crossings[0]!) / (crossings.length - 1)) * spacing;
}

/** Roughness parameters of measured profiles; the mean over the repeats. */
export const roughnessParameters: DisciplineAnalysis = {
  name: 'roughness/parameters',
  title: 'Roughness parameters of a profile',
  input: 'one height a line, in µm, evenly apart; each repeat a profile of its own',
  needs: [
    { id: 'cutOff', title: 'cut-off λc', unit: 'mm' },
    { id: 'spacing', title: 'distance between heights', unit: 'mm' },
    { id: 'shortCutOff', title: 'cut-off λs of the short waves; 0: none', unit: 'mm', default: 0 },
  ],
  gives: [
    { id: 'Ra', title: 'arithmetic mean deviation', unit: 'um' },
    { id: 'Rq', title: 'root mean square deviation', unit: 'um' },
    { id: 'Rz', title: 'greatest height, mean of the sampling lengths', unit: 'um' },
    { id: 'Rt', title: 'total height', unit: 'um' },
    { id: 'RSm', title: 'mean width of the elements', unit: 'mm' },
  ],
  validity:
    'profiles of at least two cut-offs; a straight line is taken off as form; at the ends the filter sees less than its reach, so half a cut-off is left out at either end; at most five sampling lengths, in the middle; an evaluation shorter than five lengths says so by its length',
  source: 'ISO 4287:1997; ISO 16610-21 (Gaussian filter); ISO 3274 (λs); ISO 4288 for the sampling lengths',
  analyse: (files, { cutOff, spacing, shortCutOff = 0 }) => {
    if (!(cutOff! > 0) || !(spacing! > 0)) throw new AnalysisError('Cut-off and spacing are greater than 0.');
    if (!(shortCutOff >= 0) || shortCutOff >= cutOff!)
      throw new AnalysisError('The cut-off of the short waves, λs, is 0 for none, else greater than 0 and less than λc.');
    if (shortCutOff > 0 && shortCutOff < 2 * spacing!)
      throw new AnalysisError(
        'λs needs at least two heights in its length: take the profile with closer heights, or leave λs out.',
      );
    const each = files.map((file) =>
      oneProfile(
        withoutShortWaves(withoutLine(numberLines(file).map((line) => line.at(-1)!)), shortCutOff, spacing!),
        cutOff!,
        spacing!,
      ),
    );
    const mean = (key: keyof (typeof each)[number]) => each.reduce((s, p) => s + p[key], 0) / each.length;
    return { Ra: mean('Ra'), Rq: mean('Rq'), Rz: mean('Rz'), Rt: mean('Rt'), RSm: mean('RSm') };
  },
};

/** Form removed: the least-squares straight line. A Gaussian filter bends at the ends of a slope. */
function withoutLine(z: readonly number[]): readonly number[] {
  const n = z.length;
  const middle = (n - 1) / 2;
  const mean = z.reduce((s, v) => s + v, 0) / n;
  const slope = z.reduce((s, v, i) => s + (i - middle) * (v - mean), 0) / Math.max(1, (n * (n * n - 1)) / 12);
  return z.map((v, i) => v - mean - slope * (i - middle));
}

/** The primary profile: waves shorter than λs taken away by the same filter. */
const withoutShortWaves = (z: readonly number[], shortCutOff: number, spacing: number): readonly number[] =>
  shortCutOff > 0 ? [...meanLine(z, shortCutOff, spacing)] : z;

function oneProfile(z: readonly number[], cutOff: number, spacing: number) {
  const perLength = Math.round(cutOff / spacing);
  const margin = Math.round(perLength / 2);
  const lengths = Math.min(5, Math.floor((z.length - 2 * margin) / perLength));
  if (lengths < 1)
    throw new AnalysisError(
      `The profile is too short: ${z.length} heights do not hold a sampling length of ${cutOff} mm with half of it at either end.`,
    );
  const w = meanLine(z, cutOff, spacing);
  const first = Math.floor((z.length - lengths * perLength) / 2);
  const raw = Array.from({ length: lengths * perLength }, (_, i) => z[first + i]! - w[first + i]!);
  const middle = raw.reduce((s, v) => s + v, 0) / raw.length;
  const r = raw.map((v) => v - middle);
  const heights = Array.from({ length: lengths }, (_, k) => {
    const part = r.slice(k * perLength, (k + 1) * perLength);
    return part.reduce((a, b) => Math.max(a, b), -Infinity) - part.reduce((a, b) => Math.min(a, b), Infinity);
  });
  const Rz = heights.reduce((a, b) => a + b, 0) / lengths;
  const RSm = meanWidth(r, spacing, Rz / 10);
  if (!Number.isFinite(RSm))
    throw new AnalysisError(
      'The profile crosses its mean line too seldom for a mean width: take a longer one, or another cut-off.',
    );
  return {
    Ra: r.reduce((s, v) => s + Math.abs(v), 0) / r.length,
    Rq: Math.sqrt(r.reduce((s, v) => s + v * v, 0) / r.length),
    Rz,
    Rt: r.reduce((a, b) => Math.max(a, b), -Infinity) - r.reduce((a, b) => Math.min(a, b), Infinity),
    RSm,
  };
}
