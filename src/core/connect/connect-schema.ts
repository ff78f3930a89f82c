import * as z from 'zod';

/** The end of a connector: its family, and its gender, which is null where it has none. */
const endSchema = z.strictObject({
  family: z.string().min(1).max(60),
  gender: z.enum(['male', 'female']).nullable().default(null),
});
const pairSchema = z.tuple([z.string().min(1).max(60), z.string().min(1).max(60)]);

/** The way from one connector to another by adapters that there are. */
export const connectSchema = z
  .strictObject({
    from: endSchema,
    to: endSchema,
    /** Families that mate though they differ. */ mates: z.array(pairSchema).max(500).default([]),
    /** Families that would do each other damage. */ never: z.array(pairSchema).max(500).default([]),
    adapters: z
      .array(
        z.strictObject({
          id: z.string().min(1).max(80),
          ends: z.tuple([endSchema, endSchema]),
          delay: z.number().default(0),
          loss: z.number().default(0),
          standardUncertainty: z.number().nonnegative().default(0),
        }),
      )
      .max(500, 'At most 500 adapters are looked at.')
      .default([]),
    most: z.number().int().nonnegative().optional(),
  })
  .superRefine(({ adapters }, context) => {
    const ids = adapters.map((a) => a.id);
    const twice = ids.findIndex((id, i) => ids.indexOf(id) !== i);
    if (twice >= 0)
      context.addIssue({ code: 'custom', path: ['adapters', twice, 'id'], message: `"${ids[twice]}" is there twice.` });
  });
export type ConnectQuestion = z.output<typeof connectSchema>;
export type ConnectorEnd = ConnectQuestion['from'];
