import { nextTurn, type Between } from '../src/core/run/zero-and-span';
import { normalDeviate, seededRandom } from '../src/bench/random';
import { median, say } from './measure';

/** Both errors are to be within so much; they begin within one unit, and a display shows thousandths. */
const [within, step, pairs, mostRounds] = [0.02, 0.001, 500, 60];

/** Two screws with play: what is set by watching the display slips back a little when it is let go, and drags the other end with it. */
class Screws {
  readonly errors: [number, number];
  readonly drags: [number, number];
  private readonly play: number;

  constructor(private readonly random: () => number) {
    const drag = () => (random() < 0.5 ? -1 : 1) * (0.05 + 0.9 * random());
    this.drags = [drag(), drag()];
    this.errors = [2 * random() - 1, 2 * random() - 1];
    this.play = 0.004 * random();
  }

  private move(at: 0 | 1, by: number): void {
    this.errors[at] += by;
    this.errors[at === 0 ? 1 : 0] += this.drags[at] * by;
  }

  read(at: 0 | 1): number {
    return Math.round((this.errors[at] + 0.001 * normalDeviate(this.random)) / step) * step;
  }

  /** Comes to it from below, and lets go. */
  turnTo(at: 0 | 1, aim: number): void {
    this.move(at, aim + 0.002 * normalDeviate(this.random) - this.errors[at]);
    this.move(at, -this.play * this.random());
  }
}

function guided(screws: Screws): number {
  const found: [number, number] = [screws.read(0), screws.read(1)];
  const readings: Between[] = [];
  let turned = 0;
  for (let i = 0; i < 6 * mostRounds; i++) {
    const next = nextTurn({ found, readings, within, most: mostRounds, step });
    if (next.do === 'done') return Math.ceil(turned / 2);
    if (next.do !== 'read' && next.do !== 'turn') return mostRounds;
    if (next.do === 'turn') {
      // What is turned further at the same point is the same turn.
      if (readings.at(-2)?.at !== next.at) turned++;
      screws.turnTo(next.at, next.aim);
    }
    readings.push({ at: next.at, error: screws.read(next.at) });
  }
  return mostRounds;
}

/** Each is set right in turn, and both are looked at after each, until both are inside. */
function backAndForth(screws: Screws): number {
  const isDone = () => Math.abs(screws.read(0)) <= within && Math.abs(screws.read(1)) <= within;
  for (let round = 1; round <= mostRounds; round++) {
    screws.turnTo(0, 0);
    if (isDone()) return round;
    screws.turnTo(1, 0);
    if (isDone()) return round;
  }
  return mostRounds;
}

/** Pairs by how much of a turn comes back to its own point: the product of what both drag. */
const kinds = [
  ['little', 0, 0.25],
  ['much', 0.25, 0.5],
  ['most of it', 0.5, 1],
] as const;

/** Rounds with two settings that fight: led, and plain back and forth, on the same pairs of screws. */
export function screwsThatFight(): void {
  const all = Array.from({ length: pairs }, (_, i) => {
    const pair = () => new Screws(seededRandom(9000 + i));
    const { drags } = pair();
    return { back: Math.abs(drags[0] * drags[1]), led: guided(pair()), plain: backAndForth(pair()) };
  });
  const line = (of: typeof all) =>
    `${median(of.map((p) => p.led))} rounds led, ${median(of.map((p) => p.plain))} back and forth; never ended ${of.filter((p) => p.led >= mostRounds).length} and ${of.filter((p) => p.plain >= mostRounds).length}`;
  say(`zero and span that fight, ${pairs} pairs`, line(all));
  for (const [words, from, to] of kinds) {
    const some = all.filter((p) => p.back >= from && p.back < to);
    say(`  where ${words} of a turn comes back (${some.length})`, line(some));
  }
}
