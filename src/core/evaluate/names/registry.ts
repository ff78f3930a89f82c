import type { ProcedureDocument } from '../../procedure/document-schema';
import type { Scope, Setting } from '../setting';
import { aggregate } from './aggregate';
import { at } from './at';
import { choice } from './choice';
import { condition } from './condition';
import { each } from './each';
import { fit } from './fit';
import { plainId, type Head, type View } from './head';
import { instrument } from './instrument';
import { localValue, problemWithLocal } from './local';
import { point } from './point';
import { series } from './series';
import { step } from './step';
import { stored } from './stored';

/** The heads of names; put together when the first name is asked for, since they name one another. */
let heads: ReadonlyMap<string, Head> | undefined;
const headNamed = (head: string): Head | undefined =>
  (heads ??= new Map(
    Object.entries({ instrument, each, point, choice, condition, step, stored, at, series, aggregate, fit }),
  )).get(head);

/**
 * What is wrong with a name where it stands in a document; null when something offers it.
 * @example problemWith(document, 'nobody', { series }) // '"nobody" is a name that nothing offers here.'
 */
export function problemWith(doc: ProcedureDocument, name: string, view: View): string | null {
  if (view.own?.includes(name)) return null;
  const [head, ...rest] = name.split('.') as [string, ...string[]];
  const known = headNamed(head);
  return known ? known.problem(doc, rest, view, name) : problemWithLocal(doc, rest, view, name, head);
}

/**
 * The value of a name where a formula stands.
 * @throws Absent when it cannot be had (yet), LeftOut when it is left out, DocumentError when nothing offers it
 */
export function valueOf(s: Setting, name: string, scope: Scope): number {
  const own = scope.own[name];
  if (own !== undefined) return own;
  const [head, ...rest] = name.split('.') as [string, ...string[]];
  const known = headNamed(head);
  return known ? known.value(s, rest, scope, name) : localValue(s, name, head, rest, scope);
}

/**
 * Whether one more reading, condition or step may make what a name stands for another.
 * @example isGrowing('condition.air') // true
 */
export const isGrowing = (name: string): boolean => headNamed(name.split('.')[0]!)?.isGrowing ?? false;

/** A name of a formula as a person says it. @example nameWords('each.upper') // 'its own upper' */
export function nameWords(name: string): string {
  const [head, ...rest] = name.split('.') as [string, ...string[]];
  if (rest.length === 0) return plainId(head);
  return headNamed(head)?.words(rest) ?? `${rest.map(plainId).join(' ')} of ${plainId(head)}`;
}
