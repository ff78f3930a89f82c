import type { StandardDocument } from './standard-schema';

/**
 * Whether a standard states each of some properties somewhere: itself, in a part, or with an item.
 * @example a ring whose certificate gives no roundness does not state it
 */
export function statesProperties(standard: StandardDocument, properties: readonly string[]): boolean {
  const contents = [standard, ...(standard.parts ?? [])];
  const stated = new Set(
    contents.flatMap((c) => [
      ...Object.keys(c.properties ?? {}),
      ...(c.items ?? []).flatMap((i) => Object.keys(i.properties ?? {})),
    ]),
  );
  return properties.every((p) => stated.has(p));
}
