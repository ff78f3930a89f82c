import type { Outcome } from './family-visits';

/** From being put in order to being seen outside: it went out after `after` and by `by`; null where it was inside when last seen. */
export type Life = { after: number; by: number | null };

/** The lives of one instrument, from its visits in order of time. @example livesOf(outcomesOf(visits)).length // 1 */
export function livesOf(outcomes: readonly Outcome[]): Life[] {
  const lives: Life[] = [];
  for (const { since, until, isInside } of outcomes) {
    // A visit that goes on from the one before lengthens the same life.
    if (since > 0) lives.pop();
    lives.push(isInside ? { after: until, by: null } : { after: since, by: until });
  }
  return lives;
}

/** The share still inside from `from` to `to` months after being put in order, as far as anybody saw. */
export type ObservedStep = { from: number; to: number; share: number };

/** Times are told apart no finer than this share of the longest: more steps than can be drawn tell nothing. */
const mostTimes = 48;
const rounds = 300;
const settled = 1e-7;

/**
 * The share inside as steps that assume no model: the most likely of all falling curves for lives that ended somewhere between two
 * visits (Turnbull 1976, self-consistency).
 * @returns steps in order; none where nothing was seen
 * @example observedSteps(livesOf(outcomesOf(visits)))[0] // { from: 0, to: 24.75, share: 1 }
 */
export function observedSteps(lives: readonly Life[]): ObservedStep[] {
  const longest = lives.reduce((most, l) => Math.max(most, l.by ?? l.after), 0);
  if (longest <= 0) return [];
  const grain = longest / mostTimes;
  const cell = (months: number) => Math.min(mostTimes, Math.round(months / grain));
  // A life may have ended in the cells from `first` up to, not with, `end`; the last cell stands for ever after.
  const alike = new Map<string, { first: number; end: number; lives: number }>();
  for (const { after, by } of lives) {
    const first = cell(after);
    const end = by === null ? mostTimes + 1 : Math.max(first + 1, cell(by));
    const known = alike.get(`${first} ${end}`);
    if (known) known.lives++;
    else alike.set(`${first} ${end}`, { first, end, lives: 1 });
  }
  const ended = [...alike.values()];
  let mass = Array.from({ length: mostTimes + 1 }, () => 1 / (mostTimes + 1));
  for (let round = 0; round < rounds; round++) {
    const next = mass.map(() => 0);
    for (const { first, end, lives: many } of ended) {
      let total = 0;
      for (let k = first; k < end; k++) total += mass[k]!;
      if (total > 0) for (let k = first; k < end; k++) next[k]! += (many * mass[k]!) / total / lives.length;
    }
    const change = Math.max(...next.map((m, k) => Math.abs(m - mass[k]!)));
    mass = next;
    if (change < settled) break;
  }
  const steps: ObservedStep[] = [];
  let share = 1;
  let from = 0;
  for (let k = 0; k < mostTimes; k++) {
    if (mass[k]! < 1e-4) continue;
    const to = (k + 1) * grain;
    steps.push({ from, to, share });
    share = Math.max(0, share - mass[k]!);
    from = to;
  }
  steps.push({ from, to: longest, share });
  return steps;
}
