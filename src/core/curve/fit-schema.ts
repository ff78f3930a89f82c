import * as z from 'zod';
import '../plain-issues';

const many = z.array(z.number()).max(10_000, 'At most 10 000 points.');

/** The question `fit`. */
export const fitSchema = z
  .object({
    x: many.min(1, 'Give at least one point.'),
    y: many,
    degree: z.number().int('The degree is a whole number.').min(0).max(12, 'The degree is at most 12.').default(1),
    origin: z.number().default(0),
    /** Standard uncertainty of each y; weights by 1/u². */
    u: z.array(z.number().positive('A standard uncertainty used as a weight is greater than 0.')).optional(),
    predict: many.default([]),
    /** Leaves out the constant: the curve passes through (origin, 0). */
    throughZero: z.boolean().optional(),
  })
  .superRefine((q, context) => {
    const fault = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    if (q.y.length !== q.x.length) fault('y', `There are ${q.x.length} x and ${q.y.length} y: give one y for each x.`);
    if (q.u && q.u.length !== q.x.length) fault('u', `There are ${q.x.length} x and ${q.u.length} u: give one u for each y.`);
    if (q.throughZero && q.degree === 0) fault('degree', 'A curve through zero has at least degree 1.');
    const wanted = q.degree + (q.throughZero ? 0 : 1) + (q.u ? 0 : 1);
    if (q.x.length < wanted)
      fault(
        'x',
        `A fit of degree ${q.degree} needs at least ${wanted} points${q.u ? '' : ' to say how well it fits'}; there are ${q.x.length}.`,
      );
  });

export type FitQuestion = z.infer<typeof fitSchema>;
