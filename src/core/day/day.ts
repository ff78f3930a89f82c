import { RandomStream } from '../montecarlo/random-stream';
import { plainDecimal } from '../quantity/rounding';
import type { DayAnswer, DayQuestion } from './day-schema';
import { endOf, minutesADay, Weeks, type Held, type Laid } from './weeks';

/** Searches for room after which the search ends: about half a second. */
const mostSearches = 400_000;
/** Rounds without anything better after which it ends sooner: for each job, and at least. */
const patience = 120;
const leastPatience = 4000;
/** Share of the work for what is in time; the rest fills in what is late. */
const firstShare = 0.85;
/** Jobs that are taken up at once. */
const mostLifted = 6;
/** How much worse a plan may become on the way, as a share of a middling job's value, at first; nothing at the end. */
const heat = 0.5;

type Kept = Map<Laid, readonly number[]>;
/** What counts, in this order: value in time, value at all, and how early (the sum of the ends, the less the better). */
type Worth = readonly [inTime: number, atAll: number, early: number];
const isBetter = (a: Worth, b: Worth): boolean => {
  for (const i of [0, 1, 2] as const) if (Math.abs(a[i] - b[i]) > 1e-9) return a[i] > b[i];
  return false;
};

const worthOf = (kept: Kept): Worth => {
  let [inTime, atAll, early] = [0, 0, 0];
  for (const [job, starts] of kept) {
    const end = endOf(job, starts);
    atAll += job.value;
    if (end <= job.due) inTime += job.value;
    early -= end;
  }
  return [inTime, atAll, early];
};

class Search {
  private readonly stream = new RandomStream(1);
  private readonly random = (): number => this.stream.uniform();
  private readonly weeks: Weeks;
  private readonly wanted: Laid[];
  best: Kept = new Map();

  constructor(question: DayQuestion) {
    this.weeks = new Weeks(question);
    // What is worth nothing takes nobody's time from what is.
    this.wanted = this.weeks.jobs.filter((j) => j.value > 0);
  }

  /** Lays one job as early as there is room; whether there was. */
  private put(job: Laid, until: number, held: Held | null = null): boolean {
    const starts = this.weeks.fit(job, job.ready, until, held);
    if (starts) this.weeks.lay(job, starts);
    return starts !== null;
  }

  private clear(): void {
    for (const job of [...this.weeks.starts.keys()]) this.weeks.lift(job);
  }

  private restore(kept: Kept): void {
    this.clear();
    for (const [job, starts] of kept) this.weeks.lay(job, starts);
  }

  /** Keeps what is laid where it is better than what was best; whether it was. */
  private keep(): boolean {
    if (!isBetter(worthOf(this.weeks.starts), worthOf(this.best))) return false;
    this.best = new Map(this.weeks.starts);
    return true;
  }

  private shuffled<T>(all: readonly T[]): T[] {
    const list = [...all];
    for (let i = list.length - 1; i > 0; i--) {
      const j = Math.floor(this.random() * (i + 1));
      [list[i], list[j]] = [list[j]!, list[i]!];
    }
    return list;
  }

  /** Value for the time of hands: what people are short of. */
  private readonly dense = (j: Laid): number => j.value / (j.hands + 1);

  /** Plans by plain rules: a place to begin from. */
  private begin(): void {
    const rules: ((a: Laid, b: Laid) => number)[] = [
      (a, b) => this.dense(b) - this.dense(a),
      (a, b) => a.due - b.due || this.dense(b) - this.dense(a),
      (a, b) => b.value - a.value || a.hands - b.hands,
      (a, b) => a.hands - b.hands,
    ];
    for (const rule of rules) {
      this.clear();
      for (const job of [...this.wanted].sort(rule)) this.put(job, job.due);
      this.keep();
    }
    this.restore(this.best);
  }

  /** Some of what is laid: those about one moment, or any. */
  private chosen(): Laid[] {
    const laid = [...this.weeks.starts.keys()];
    const count = Math.min(laid.length, 1 + Math.floor(this.random() * mostLifted));
    if (this.random() < 0.4) return this.shuffled(laid).slice(0, count);
    const moment = this.random() * this.weeks.end;
    const away = (j: Laid) => {
      const starts = this.weeks.starts.get(j)!;
      return Math.max(0, starts[0]! - moment, moment - endOf(j, starts));
    };
    return laid
      .map((j) => ({ j, d: away(j) + this.random() * 240 }))
      .sort((a, b) => a.d - b.d)
      .slice(0, count)
      .map(({ j }) => j);
  }

  /** A step of a job that waits for another morning, until another's ends, or so long that it ends where another's begins. */
  private heldBack(job: Laid, lifted: Kept): Held | null {
    if (this.random() < 0.3) {
      const [day, last] = [Math.floor(job.ready / minutesADay), Math.floor(job.due / minutesADay)];
      return {
        step: Math.floor(this.random() ** 2 * job.steps.length),
        until: (day + Math.ceil(this.random() * (last - day))) * minutesADay + this.weeks.hours.from,
      };
    }
    const any = <T>(all: readonly T[]): T | undefined => all[Math.floor(this.random() * all.length)];
    // What was taken up tells too: it may come back to where it was.
    const other = any([...(this.random() < 0.5 ? lifted : this.weeks.starts)]);
    if (!other) return null;
    const [{ steps }, starts] = other;
    const step = Math.floor(this.random() * job.steps.length);
    const at = Math.floor(this.random() * steps.length);
    const start = starts[at]!;
    return { step, until: this.random() < 0.5 ? start + steps[at]!.minutes : start - job.steps[step]!.minutes };
  }

  /** Takes some jobs up and lays them and others again in another order; whether it stays so. @param warmth 1 at first, 0 at the end */
  private relay(
    untilOf: (job: Laid) => number,
    among: readonly Laid[],
    isMovable: (job: Laid) => boolean,
    warmth: number,
  ): boolean {
    const { weeks, random } = this;
    const lifted = new Map(
      this.chosen()
        .filter(isMovable)
        .map((job) => [job, weeks.lift(job)] as const),
    );
    const open = among.filter((j) => !weeks.starts.has(j) && !lifted.has(j));
    const style = random();
    const key = (j: Laid): number =>
      style < 0.4 ? random() : style < 0.8 ? this.dense(j) * Math.exp(1.5 * (random() - 0.5)) : -j.due - 600 * random();
    const order = [...lifted.keys(), ...this.shuffled(open).slice(0, 12)]
      .map((j) => ({ j, k: key(j) }))
      .sort((a, b) => b.k - a.k)
      .map(({ j }) => j);
    const laid: Laid[] = [];
    for (const job of order) {
      // Now and then a step waits though it could begin: room for another to come.
      const held = random() < 0.2 ? this.heldBack(job, lifted) : null;
      if (this.put(job, untilOf(job), held) || (held && this.put(job, untilOf(job)))) laid.push(job);
    }
    const sum = (jobs: Iterable<Laid>) => [...jobs].reduce((total, j) => total + j.value, 0);
    const gain = sum(laid) - sum(lifted.keys());
    const middling = sum(this.wanted) / this.wanted.length;
    if (gain >= 0 || random() < Math.exp(gain / (heat * middling * warmth + 1e-12))) return true;
    for (const job of laid) weeks.lift(job);
    for (const [job, starts] of lifted) weeks.lay(job, starts);
    return false;
  }

  /** Better and better plans; whoever asks for no more has the best so far. */
  *run(): Generator<Kept> {
    const { weeks, wanted } = this;
    if (wanted.length === 0) return;
    this.begin();
    yield this.best;
    for (const [isLate, until] of [
      [false, firstShare * mostSearches],
      [true, mostSearches],
    ] as const) {
      this.restore(this.best);
      const inTime = new Set(this.best.keys());
      const among = isLate ? wanted.filter((j) => !inTime.has(j)) : wanted;
      const begun = weeks.searched;
      if (isLate) {
        for (const job of [...among].sort((a, b) => this.dense(b) - this.dense(a))) this.put(job, weeks.end);
        this.keep();
      }
      for (let idle = 0; idle < Math.max(leastPatience, patience * wanted.length) && weeks.searched < until; idle++) {
        const warmth = Math.max(0, 1 - (weeks.searched - begun) / (0.9 * (until - begun)));
        this.relay(isLate ? () => weeks.end : (j) => j.due, among, (j) => !isLate || !inTime.has(j), warmth);
        if (!this.keep()) continue;
        idle = 0;
        yield this.best;
      }
    }
    // What is left over takes nothing from anybody, and what is worth nothing comes last.
    this.restore(this.best);
    for (const job of weeks.jobs) if (!weeks.starts.has(job) && !this.put(job, job.due)) this.put(job, weeks.end);
    this.best = new Map(weeks.starts);
    yield this.best;
  }

  /** Why a job is not finished, or not in time. */
  private why(job: Laid, question: DayQuestion): string {
    const alone = new Weeks({ ...question, days: question.days + 60 });
    const there = alone.jobs.find((j) => j.id === job.id)!;
    const longest = Math.max(0, ...job.steps.map((s) => (s.handsOn ? s.minutes : 0)));
    const hours = question.to - question.from;
    if (question.people === 0 && job.hands > 0) return 'Nobody is there.';
    if (longest > hours)
      return `A step of ${plainDecimal(longest)} min fits in no day of ${plainDecimal(hours)} min: part it, or lengthen the day.`;
    const without = job.steps.flatMap((s) => s.uses).find((u) => question.resources[u] === 0);
    if (without !== undefined) return `${without} has no place.`;
    const soonest = alone.fit(there, there.ready, Infinity);
    if (!soonest) return 'Its waits end when nobody may go on: no time is left for what follows within the minutes given.';
    if (endOf(there, soonest) > job.due) {
      const days = Math.floor((endOf(there, soonest) - 1) / 1440) + 1;
      return `Even alone it ends on day ${days - 1} at the earliest: begin it sooner, or agree on a later day.`;
    }
    return this.best.has(job)
      ? 'Other work was worth more before its day; it is finished after it.'
      : 'Other work was worth more: there are not enough hours or places for all.';
  }

  answer(question: DayQuestion): DayAnswer {
    const { best, weeks } = this;
    const work = [...best].flatMap(([job, starts]) =>
      job.steps.map((step, k) => ({
        job: job.id,
        step: k,
        from: starts[k]!,
        to: starts[k]! + step.minutes,
        handsOn: step.handsOn,
      })),
    );
    work.sort((a, b) => a.from - b.from || a.to - b.to);
    // Whoever is free first goes on: as many at a time as there are people, that was seen to.
    const free = Array.from({ length: question.people }, () => -Infinity);
    const entries = work.map(({ handsOn, ...entry }) => {
      if (!handsOn) return entry;
      const person = free.findIndex((since) => since <= entry.from);
      if (entry.to > entry.from) free[person] = entry.to;
      return { ...entry, person };
    });
    const isLate = (j: Laid) => endOf(j, best.get(j)!) > j.due;
    const finished = weeks.jobs.filter((j) => best.has(j));
    const late = finished.filter(isLate);
    const short = weeks.jobs.filter((j) => !best.has(j) || isLate(j));
    return {
      entries,
      finished: finished.map((j) => j.id),
      late: late.map((j) => j.id),
      why: Object.fromEntries(short.map((j) => [j.id, this.why(j, question)])),
    };
  }
}

/** Plans for some days, each better than the one before: a good one early, and whoever stops asking has the best so far. */
export function* betterPlans(question: DayQuestion): Generator<DayAnswer> {
  const search = new Search(question);
  for (const _better of search.run()) yield search.answer(question);
}

/**
 * The days as they are best woven together: value in time before value at all before how early.
 * @example planDay({ from: 480, to: 990, days: 1, people: 1, resources: {}, jobs: [{ id: 'a', ready: 0, value: 1, steps: [{ handsOn: 30, uses: [] }] }] }).entries // [{ job: 'a', step: 0, from: 480, to: 510, person: 0 }]
 */
export function planDay(question: DayQuestion): DayAnswer {
  const search = new Search(question);
  for (const _better of search.run());
  return search.answer(question);
}
