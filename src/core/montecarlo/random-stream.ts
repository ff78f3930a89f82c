/**
 * xoshiro128** 1.1 (Blackman & Vigna 2018): period 2^128 − 1, with a jump of 2^64 steps that gives every block of trials a stream
 * of its own, however many workers share the blocks.
 */
export class RandomStream {
  private a = 0;
  private b = 0;
  private c = 0;
  private d = 0;

  /** The stream of a seed, `jumps` times 2^64 steps along. */
  constructor(seed: number, jumps = 0) {
    // splitmix32 fills the state from the seed; it never leaves all four words zero.
    let s = seed | 0;
    const next = () => {
      s = (s + 0x9e3779b9) | 0;
      let z = s;
      z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
      z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
      return z ^ (z >>> 15);
    };
    this.a = next();
    this.b = next() ^ Math.floor(seed / 4294967296);
    this.c = next();
    this.d = next() | 1;
    for (let i = 0; i < jumps; i++) this.jump();
  }

  /** A stream at the same place that goes its own way. */
  copy(): RandomStream {
    const other = new RandomStream(0);
    other.a = this.a;
    other.b = this.b;
    other.c = this.c;
    other.d = this.d;
    return other;
  }

  /** 32 random bits, unsigned. */
  bits(): number {
    const r = Math.imul(this.b, 5);
    const result = Math.imul((r << 7) | (r >>> 25), 9) >>> 0;
    const t = this.b << 9;
    this.c ^= this.a;
    this.d ^= this.b;
    this.b ^= this.c;
    this.a ^= this.d;
    this.c ^= t;
    this.d = (this.d << 11) | (this.d >>> 21);
    return result;
  }

  /** Uniform in the open interval (0, 1), with 52 random bits. */
  uniform(): number {
    return ((this.bits() >>> 6) * 67108864 + (this.bits() >>> 6) + 0.5) / 4503599627370496;
  }

  /** Moves 2^64 steps along. */
  jump(): void {
    let [a, b, c, d] = [0, 0, 0, 0];
    for (const word of [0x8764000b, 0xf542d2d3, 0x6fa035c3, 0x77f2db5b])
      for (let bit = 0; bit < 32; bit++) {
        if (word & (1 << bit)) {
          a ^= this.a;
          b ^= this.b;
          c ^= this.c;
          d ^= this.d;
        }
        this.bits();
      }
    this.a = a;
    this.b = b;
    this.c = c;
    this.d = d;
  }
}
