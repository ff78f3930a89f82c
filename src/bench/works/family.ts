import { z } from 'zod';
import { benchTruth, type Bench } from '../bench';
import { files } from '../bench-files';
import type { DemoInstrument } from './instruments';
import type { DemoStandard } from './standards';

const number = z.number();
const row = z.looseObject({ lower: number, upper: number, resolution: number });
const told = z.union([number, z.string()]);
const benchSchema = z.strictObject({
  room: number.optional(),
  conditions: z.record(z.string(), z.tuple([number, number, number])).optional(),
  measured: z.record(z.string(), told).optional(),
  nature: z
    .record(
      z.string(),
      z.record(
        z.string(),
        z.strictObject({
          about: told.optional(),
          within: told.optional(),
          triangle: told.optional(),
          spread: told.optional(),
          vector: told.optional(),
        }),
      ),
    )
    .optional(),
  holds: z.record(z.string(), number).optional(),
  free: z.record(z.string(), number).optional(),
  spoilt: z.union([z.string(), z.array(z.string())]).optional(),
  spoiltBy: z.enum(['offset', 'span']).optional(),
  spoiltShare: number.optional(),
  series: z.record(
    z.string(),
    z.record(
      z.string(),
      z.strictObject({
        is: z.string(),
        noise: number.optional(),
        step: number.optional(),
        file: z.enum(Object.keys(files) as [keyof typeof files]).optional(),
      }),
    ),
  ),
});
const familySchema = z.strictObject({
  standards: z.array(z.custom<DemoStandard>((s) => typeof s === 'object')),
  family: z.strictObject({
    kind: z.string(),
    unit: z.string(),
    procedure: z.string(),
    standards: z.record(z.string(), z.array(z.string())),
    choices: z.record(z.string(), z.string()),
    row,
  }),
  instruments: z
    .array(
      z.looseObject({
        identification: z.string(),
        designation: z.string(),
        place: z.string(),
        owner: z.string().default('Quillmere Works'),
        runs: number,
        dueInDays: number,
        spoilsBefore: number.optional(),
        draw: number.optional(),
      }),
    )
    .min(1),
  /** The run that is on the bench: begun how long ago, and after how many readings it stands. */
  open: z.strictObject({ instrument: z.string(), minutesAgo: number, readings: number }),
  bench: benchSchema,
});
export type DemoFamily = {
  standards: DemoStandard[];
  instruments: DemoInstrument[];
  open: { instrument: string; minutesAgo: number; readings: number };
  bench: Bench;
};

/** A family of the works from its file. @throws ZodError where the file is not one */
export function readFamily(raw: unknown): DemoFamily {
  const { standards, family, instruments, open, bench } = familySchema.parse(raw);
  const { row: common, ...same } = family;
  return {
    standards,
    open,
    bench,
    instruments: instruments.map(({ runs, dueInDays, spoilsBefore, draw, ...own }) => ({
      ...same,
      truth: benchTruth(bench),
      runs,
      dueInDays,
      ...(spoilsBefore === undefined ? {} : { spoilsBefore }),
      ...(draw === undefined ? {} : { draw }),
      row: { ...common, ...own },
    })),
  };
}

/** What is hidden at a bench, and whose: instruments whose history is told elsewhere have it for this alone. */
export type HiddenBench = { instrument: DemoInstrument; bench: Bench };

const benchesSchema = z.record(z.string(), z.strictObject({ instrument: z.string(), bench: benchSchema }));

/** Benches by the procedure that is played at them. @throws ZodError where the file is not one */
export const readBenches = (raw: unknown): Record<string, { instrument: string; bench: Bench }> => benchesSchema.parse(raw);
