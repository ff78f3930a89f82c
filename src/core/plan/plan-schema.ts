import * as z from 'zod';
import { setName } from '../procedure/schema/parts';
import { id } from './atoms';

/** The plan of a run: everything that is asked for, in its order, and the points as they were resolved. */

/** Where something stands: as much of it as applies. */
export const place = { set: setName, series: id.optional(), each: id.optional(), point: id.optional(), sweep: id.optional() };
export const repeat = z.number().int().positive();
export type Place = { set: string; series?: string; each?: string; point?: string; sweep?: string; repeat?: number };

const shownLimits = z.object({ lower: z.number().optional(), upper: z.number().optional() });
/** A point as it was resolved: what later code could derive otherwise is kept. */
const placedPoint = z.object({
  id,
  index: z.number().int(),
  label: z.string().optional(),
  nominal: z.number().optional(),
  columns: z.record(z.string(), z.unknown()).default({}),
  /** The item that a point of items uses. */
  item: z.string().optional(),
  /** Items of each use that picks some: a stack, or one. */
  items: z.record(z.string(), z.array(z.string())).default({}),
  /** Limits of each result that do not depend on readings, in its unit. */
  limits: z.record(z.string(), shownLimits).default({}),
});
export const placesSchema = z.object({
  series: id,
  /** Null where nothing is read for each of anything. */
  each: id.nullable(),
  points: z.array(placedPoint),
});

export const at = { ...place, repeat: repeat.optional() };
/** One thing to do, in its order. */
export const planItemSchema = z.discriminatedUnion('type', [
  /** `of`: the adjustment or the cause ruled out whose step it is. */
  z.object({ type: z.literal('step'), ...at, id, of: id.optional() }),
  z.object({ type: z.literal('condition'), ...at, id }),
  z.object({ type: z.literal('reading'), ...at, id }),
  /** A result or aggregate that must pass before the plan goes on. */
  z.object({ type: z.literal('gate'), ...at, id }),
  /** Points that earlier steps decide. */
  z.object({ type: z.literal('open'), ...place, id }),
  /** A point is read once more, alone, after a cause was looked for. */
  z.object({ type: z.literal('look'), ...place, id }),
  z.object({ type: z.literal('judge'), ...place }),
  z.object({ type: z.literal('adjust'), ...place, id }),
  z.object({ type: z.literal('begin'), ...place }),
  z.object({ type: z.literal('interval'), ...place }),
  z.object({ type: z.literal('complete'), ...place }),
]);
export const planSchema = z.object({ items: z.array(planItemSchema).max(200_000), places: z.array(placesSchema) });

export type PlanItem = z.infer<typeof planItemSchema>;
export type Plan = z.infer<typeof planSchema>;
export type Places = z.infer<typeof placesSchema>;
export type PlacedPoint = Places['points'][number];
