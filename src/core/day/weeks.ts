import type { DayJob, DayQuestion } from './day-schema';
import { Load } from './load';

export type Step = { handsOn: boolean; minutes: number; atMost: number; uses: string[] };
/** A job as it is laid: from when, and until when it is in time. */
export type Laid = { id: string; value: number; steps: Step[]; ready: number; due: number; hands: number };

export type Held = { step: number; until: number };

export const minutesADay = 1440;

const stepOf = (step: DayJob['steps'][number]): Step =>
  'wait' in step
    ? { handsOn: false, minutes: step.wait, atMost: step.atMost ?? Infinity, uses: step.uses }
    : { handsOn: true, minutes: step.handsOn, atMost: Infinity, uses: step.uses };

/** The days with what is laid in them: starts of steps by job, and what is taken of people and places. */
export class Weeks {
  readonly end: number;
  readonly jobs: Laid[];
  /** Starts of the steps of what is laid. */ readonly starts = new Map<Laid, readonly number[]>();
  /** Searches for room so far: what the work is counted by. */ searched = 0;
  private readonly people: Load;
  private readonly places: Map<string, Load>;
  readonly hours: { from: number; to: number };

  constructor(question: DayQuestion) {
    const { from, to, days, people, resources, jobs } = question;
    this.hours = { from, to };
    const endOf = (day: number) => Math.min(day, days - 1) * minutesADay + to;
    this.end = endOf(days - 1);
    this.people = new Load(people);
    this.places = new Map(Object.entries(resources).map(([id, places]) => [id, new Load(places)]));
    this.jobs = jobs.map((job): Laid => {
      const steps = job.steps.map(stepOf);
      const hands = steps.reduce((sum, s) => sum + (s.handsOn ? s.minutes : 0), 0);
      const ready = Math.max(job.ready * minutesADay, job.notBefore ?? 0);
      return { id: job.id, value: job.value, steps, ready, due: endOf(job.due ?? days - 1), hands };
    });
  }

  /** The first time from one on at which hands may begin on something as long: a night does not break it. */
  private within(from: number, minutes: number): number {
    const { hours } = this;
    if (minutes > hours.to - hours.from) return Infinity;
    const day = Math.floor(from / minutesADay);
    const start = Math.max(from, day * minutesADay + hours.from);
    return start + minutes <= day * minutesADay + hours.to ? start : (day + 1) * minutesADay + hours.from;
  }

  /** The first start of a step from a time on, by hours, people and places. */
  private roomFor(step: Step, from: number): number {
    for (let start = from; ;) {
      let next = step.handsOn ? this.within(start, step.minutes) : start;
      if (next > this.end) return Infinity;
      if (step.handsOn) next = this.people.room(next, step.minutes);
      this.searched++;
      for (const id of step.uses) next = this.places.get(id)!.room(next, step.minutes);
      if (next === start || next === Infinity) return next;
      start = next;
    }
  }

  /**
   * The earliest starts of a job's steps that end by a time; null where there are none. A later start of one step never lets the next
   * begin earlier: so the earliest of each is best, and a wait that would end too long before the next step begins later itself.
   * @param held one step that does not begin before a time, though it could
   */
  fit({ steps }: Laid, from: number, until: number, held: Held | null = null): number[] | null {
    const starts: number[] = [];
    const lay = (k: number, lower: number): number => {
      const step = steps[k];
      if (!step) return lower;
      for (let start = k === held?.step ? Math.max(lower, held.until) : lower; ;) {
        start = this.roomFor(step, start);
        if (start + step.minutes > until) return Infinity;
        const end = start + step.minutes;
        const next = lay(k + 1, end);
        if (next === Infinity) return Infinity;
        if (k === steps.length - 1 || next <= end + step.atMost) {
          starts[k] = start;
          return start;
        }
        start = next - step.atMost - step.minutes;
      }
    };
    return lay(0, from) === Infinity ? null : starts;
  }

  private take(job: Laid, starts: readonly number[], by: 1 | -1): void {
    job.steps.forEach((step, k) => {
      const [from, to] = [starts[k]!, starts[k]! + step.minutes];
      if (step.handsOn) this.people.take(from, to, by);
      for (const id of step.uses) this.places.get(id)!.take(from, to, by);
    });
  }

  lay(job: Laid, starts: readonly number[]): void {
    this.take(job, starts, 1);
    this.starts.set(job, starts);
  }

  lift(job: Laid): readonly number[] {
    const starts = this.starts.get(job)!;
    this.take(job, starts, -1);
    this.starts.delete(job);
    return starts;
  }
}

export const endOf = (job: Laid, starts: readonly number[]): number => starts.at(-1)! + job.steps.at(-1)!.minutes;
