import * as z from 'zod';

/** What can be wrong at a bench that is practised on, as it shows. */
export const faultKinds = [
  'offset',
  'span',
  'curvature',
  'hysteresis',
  'odd-point',
  'scatter',
  'drift',
  'not-settled',
  'exchanged',
  'stuck',
] as const;
export const faultKindSchema = z.enum(faultKinds);
export type FaultKind = z.infer<typeof faultKindSchema>;

export const faultTitles: Record<FaultKind, string> = {
  offset: 'Off by the same everywhere',
  span: 'Grows along the range',
  curvature: 'Bends along the range',
  hysteresis: 'Up and down differ',
  'odd-point': 'One point stands apart',
  scatter: 'Scatters more than it should',
  drift: 'Moved while it was read',
  'not-settled': 'Read before it had settled',
  exchanged: 'Standards exchanged',
  stuck: 'Sticks from a point on',
};

const spentSchema = z.object({ readings: z.number().int(), minutes: z.number() });
export type Spent = z.infer<typeof spentSchema>;

const faultToldSchema = z.object({
  kind: faultKindSchema,
  title: z.string(),
  /** Behind it, in the words of the procedure; null: the instrument itself. */ behind: z.string().nullable(),
  /** What takes it away: a cause that is looked for, an adjustment, or nothing that is done at this bench. */
  remedy: z.enum(['look', 'adjust', 'none']),
  /** What takes it away was done. */ isFound: z.boolean(),
  /** It was said at the end. */ isNamed: z.boolean(),
});
/** What was wrong, and what became of it. */
export type FaultTold = z.infer<typeof faultToldSchema>;

/** How a practice run went, told when it is over. */
export const debriefSchema = z.object({
  faults: z.array(faultToldSchema),
  /** Everything that was wrong was found and said, and nothing was done that should not have been. */ isSolved: z.boolean(),
  /** What should not have been done, or was left undone, in sentences. */ mistakes: z.array(z.string()),
  /** Whether it really is inside its limits as it was left; null where nothing was read. */ isLeftInside: z.boolean().nullable(),
  spent: spentSchema,
  /** What somebody with experience would have needed, and done. */
  expert: spentSchema.extend({ decisions: z.array(z.string()) }),
  /** After how many readings the first fault could be told from the readings alone; null where they did not tell. */
  told: z.object({ after: z.number().int(), of: z.number().int() }).nullable(),
});
export type Debrief = z.infer<typeof debriefSchema>;
