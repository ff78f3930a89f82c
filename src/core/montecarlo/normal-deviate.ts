import type { RandomStream } from './random-stream';

/**
 * Standard normal deviates by the ziggurat (Marsaglia & Tsang 2000, in the form of Doornik 2005: layer and position come from
 * separate random bits). 128 layers; R and V are the published constants for that number.
 */
const layers = 128;
const R = 3.442619855899;
const V = 9.91256303526217e-3;

const edge = new Float64Array(layers + 1);
const ratio = new Float64Array(layers);
edge[0] = V / Math.exp(-0.5 * R * R);
edge[1] = R;
for (let i = 2, f = Math.exp(-0.5 * R * R); i < layers; i++) {
  edge[i] = Math.sqrt(-2 * Math.log(V / edge[i - 1]! + f));
  f = Math.exp(-0.5 * edge[i]! * edge[i]!);
}
edge[layers] = 0;
for (let i = 0; i < layers; i++) ratio[i] = edge[i + 1]! / edge[i]!;

function tail(stream: RandomStream, negative: boolean): number {
  let x: number;
  let y: number;
  do {
    x = Math.log(stream.uniform()) / R;
    y = Math.log(stream.uniform());
  } while (-2 * y < x * x);
  return negative ? x - R : R - x;
}

/** One standard normal deviate. */
export function normalDeviate(stream: RandomStream): number {
  for (;;) {
    const high = stream.bits();
    const layer = high & 127;
    // Uniform in (−1, 1): 25 bits above the layer's seven, 26 more below.
    const u = ((high >>> 7) * 67108864 + (stream.bits() >>> 6) + 0.5) / 1125899906842624 - 1;
    if (Math.abs(u) < ratio[layer]!) return u * edge[layer]!;
    if (layer === 0) return tail(stream, u < 0);
    const x = u * edge[layer]!;
    const f0 = Math.exp(-0.5 * (edge[layer]! * edge[layer]! - x * x));
    const f1 = Math.exp(-0.5 * (edge[layer + 1]! * edge[layer + 1]! - x * x));
    if (f1 + stream.uniform() * (f0 - f1) < 1) return x;
  }
}

/** A gamma deviate of a shape and scale 1 (Marsaglia & Tsang 2000a, with their boost for shapes below 1). */
export function gammaDeviate(stream: RandomStream, shape: number): number {
  if (shape < 1) return gammaDeviate(stream, shape + 1) * stream.uniform() ** (1 / shape);
  const d = shape - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    let x: number;
    let v: number;
    do {
      x = normalDeviate(stream);
      v = 1 + c * x;
    } while (v <= 0);
    v = v * v * v;
    const u = stream.uniform();
    if (u < 1 - 0.0331 * x ** 4 || Math.log(u) < 0.5 * x * x + d * (1 - v + Math.log(v))) return d * v;
  }
}
