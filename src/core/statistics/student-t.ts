/**
 * Student's t and Fisher's F by the regularized incomplete beta function. Written here rather than taken from a package because the
 * package's weighs forty kilobytes on every bench; the tests hold it to the package's values.
 */

/** Lanczos coefficients for g = 7 (Godfrey 2001): ln Γ to some 1e-15 of itself. */
const lanczos = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905,
  -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
];

function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const z = x - 1;
  const sum = lanczos.reduce((s, c, i) => (i === 0 ? c : s + c / (z + i)), 0);
  const t = z + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}

/** From here on the difference of two great logarithms would lose digits, and a series has them all. */
const largeEnough = 20;

/** ln B(a, b). For b = ½ and large a by the series of ln Γ(a + ½) − ln Γ(a) (DLMF 5.11.13). */
function logBeta(a: number, b: number): number {
  if (b === 0.5 && a > largeEnough) {
    const i2 = 1 / (a * a);
    const difference =
      0.5 * Math.log(a) - (1 / a) * (1 / 8 - i2 * (1 / 192 - i2 * (1 / 640 - i2 * (17 / 14336 - (i2 * 31) / 18432))));
    return 0.5 * Math.log(Math.PI) - difference;
  }
  return logGamma(a) + logGamma(b) - logGamma(a + b);
}

const tiny = 1e-300;
const mostTerms = 100_000;

/** The continued fraction of the incomplete beta function (DLMF 8.17.22), by the method of Lentz. */
function betaFraction(x: number, a: number, b: number): number {
  const bounded = (v: number) => (Math.abs(v) < tiny ? tiny : v);
  let c = 1;
  let d = 1 / bounded(1 - ((a + b) * x) / (a + 1));
  let h = d;
  for (let m = 1; m < mostTerms; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / bounded(1 + even * d);
    c = bounded(1 + even / c);
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / bounded(1 + odd * d);
    c = bounded(1 + odd / c);
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return h;
}

/**
 * I_x(a, b), with 1 − x and their logarithms given so that neither loses digits.
 * @param x from 0 to 1 @param y 1 − x
 */
function incompleteBeta(x: number, y: number, logX: number, logY: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (y <= 0) return 1;
  const front = Math.exp(a * logX + b * logY - logBeta(a, b));
  return x < (a + 1) / (a + b + 2) ? (front * betaFraction(x, a, b)) / a : 1 - (front * betaFraction(y, b, a)) / b;
}

/** P(T > t) for t ≥ 0, to its own digits. */
function upperTail(t: number, dof: number): number {
  const ratio = (t * t) / dof;
  if (ratio === Infinity) return 0;
  const logX = -Math.log1p(ratio);
  return 0.5 * incompleteBeta(1 / (1 + ratio), ratio / (1 + ratio), logX, Math.log(ratio) + logX, dof / 2, 0.5);
}

/**
 * The distribution function of Student's t.
 * @param dof degrees of freedom, greater than 0, not necessarily whole
 * @example tCdf(0, 3) // 0.5
 */
export function tCdf(t: number, dof: number): number {
  if (t === 0) return 0.5;
  const tail = upperTail(Math.abs(t), dof);
  return t < 0 ? tail : 1 - tail;
}

const logDensity = (t: number, dof: number): number =>
  -((dof + 1) / 2) * Math.log1p((t * t) / dof) - 0.5 * Math.log(dof) - logBeta(dof / 2, 0.5);

/**
 * The quantile of Student's t: Newton's method, kept inside a bracket.
 * @param p probability, between 0 and 1
 * @example tQuantile(0.975, 10) // 2.2281388519…
 */
export function tQuantile(p: number, dof: number): number {
  if (p === 0.5) return 0;
  // Of a small probability every digit counts: it is the tail as it stands.
  return p < 0.5 ? -exceededWith(p, dof) : exceededWith(1 - p, dof);
}

/** The value that is exceeded with a probability below ½. */
function exceededWith(tail: number, dof: number): number {
  let [low, high] = [0, 1];
  while (upperTail(high, dof) > tail) [low, high] = [high, 2 * high];
  let t = (low + high) / 2;
  for (let i = 0; i < 200; i++) {
    const excess = upperTail(t, dof) - tail;
    if (excess > 0) low = t;
    else high = t;
    const newton = t + excess / Math.exp(logDensity(t, dof));
    const next = newton > low && newton < high ? newton : (low + high) / 2;
    if (Math.abs(next - t) <= 2e-16 * t) return next;
    t = next;
  }
  return t;
}

/** P(F ≤ f) of Fisher's F. */
function fCdf(f: number, d1: number, d2: number): number {
  const ratio = (d1 * f) / d2;
  const logY = -Math.log1p(ratio);
  return incompleteBeta(ratio / (1 + ratio), 1 / (1 + ratio), Math.log(ratio) + logY, logY, d1 / 2, d2 / 2);
}

/**
 * The quantile of Fisher's F, by halving a bracket of its logarithm.
 * @example fQuantile(0.95, 2, 10) // 4.1028210151…
 */
export function fQuantile(p: number, d1: number, d2: number): number {
  let [low, high] = [-1, 1];
  while (fCdf(Math.exp(low), d1, d2) > p) low *= 2;
  while (fCdf(Math.exp(high), d1, d2) < p) high *= 2;
  for (let i = 0; i < 120 && high - low > 1e-15 * Math.max(1, Math.abs(low)); i++) {
    const middle = (low + high) / 2;
    if (fCdf(Math.exp(middle), d1, d2) < p) low = middle;
    else high = middle;
  }
  return Math.exp((low + high) / 2);
}
