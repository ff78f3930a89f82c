import * as z from 'zod';

/** Days of a plan, jobs, and steps of a job that are looked at. */
const [mostDays, mostJobs, mostSteps] = [60, 400, 60];

const minutes = z.number().nonnegative();
const uses = z.array(z.string().min(1).max(80)).max(20).default([]);
const stepSchema = z.union([
  z.strictObject({ handsOn: minutes, uses }),
  z.strictObject({
    wait: minutes,
    /** Minutes after its end within which the next step begins; as long as may be where it is not given. */
    atMost: minutes.optional(),
    uses,
  }),
]);

/** Jobs to be woven into some days, in minutes from midnight before the first. */
export const daySchema = z
  .strictObject({
    /** Hours of each day in which hands work, minutes of the day. */ from: z.number().min(0).max(1440),
    to: z.number().min(0).max(1440),
    days: z.number().int().min(1).max(mostDays, `At most ${mostDays} days are planned.`).default(1),
    people: z.number().int().min(0).max(100).default(1),
    /** How many places each has. */ resources: z.record(z.string(), z.number().int().min(0).max(1000)).default({}),
    jobs: z
      .array(
        z.strictObject({
          id: z.string().min(1).max(120),
          /** Day from which it may begin, from 0. */ ready: z.number().int().min(0).default(0),
          /** Minute before which it does not begin, where that is known more closely. */ notBefore: minutes.optional(),
          /** Day by whose end it is wanted; the last where it is not given. */ due: z.number().int().min(0).optional(),
          value: z.number().nonnegative().default(1),
          steps: z.array(stepSchema).min(1).max(mostSteps, `A job has at most ${mostSteps} steps.`),
        }),
      )
      .max(mostJobs, `At most ${mostJobs} jobs are planned.`)
      .default([]),
  })
  .superRefine(({ from, to, resources, jobs }, context) => {
    const say = (path: (string | number)[], message: string) => context.addIssue({ code: 'custom', path, message });
    if (from >= to) say(['to'], 'The day ends before it begins.');
    const seen = new Set<string>();
    jobs.forEach(({ id, steps }, j) => {
      if (seen.has(id)) say(['jobs', j, 'id'], `"${id}" is there twice.`);
      seen.add(id);
      steps.forEach((step, k) => {
        const path = ['jobs', j, 'steps', k, 'uses'];
        const unknown = step.uses.find((u) => !Object.hasOwn(resources, u));
        if (unknown !== undefined) say(path, `"${unknown}" is not among the resources.`);
        const twice = step.uses.find((u, i) => step.uses.indexOf(u) !== i);
        if (twice !== undefined) say(path, `"${twice}" is used twice by one step.`);
      });
    });
  });
export type DayQuestion = z.output<typeof daySchema>;
export type DayJob = DayQuestion['jobs'][number];

/** The plan: what is done when, by whom; what is finished, what of that after its day, and why the rest is not in time. */
export type DayAnswer = {
  entries: { job: string; step: number; from: number; to: number; /** Where hands are on it. */ person?: number }[];
  finished: string[];
  late: string[];
  why: Record<string, string>;
};
