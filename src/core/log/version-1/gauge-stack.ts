/** A block as the stack builder sees it. `size` is the nominal length in millimetres. */
export type StackBlock = { id: string; nominal: number };

/** Lengths are compared in steps of 0.1 µm, as whole numbers: 1.1 + 1.2 is exactly 2.3. */
const steps = (millimetres: number): number => Math.round(millimetres * 10_000);

const maximumBlocks = 5;

/** Combinations tried at the most: all stacks of three from 500 blocks. A set without a stack would else be searched for hours. */
const maximumTries = 500_000;

/**
 * The fewest blocks whose nominal lengths add to a length; null when five do not suffice.
 * Among equally short stacks the one with the largest blocks is returned (fewer thin blocks to handle), its blocks in
 * order from large to small.
 * @param target length in mm @param blocks the set, each block usable once
 * @example 20.2 mm of a set of 47 is made of 19 and 1.2
 */
export function fewestBlocks<B extends StackBlock>(target: number, blocks: readonly B[]): B[] | null {
  const wanted = steps(target);
  const sorted = [...blocks]
    .filter((b) => steps(b.nominal) > 0 && steps(b.nominal) <= wanted)
    .sort((a, b) => b.nominal - a.nominal);
  const sizes = sorted.map((b) => steps(b.nominal));
  const positions = new Map<number, number[]>();
  sizes.forEach((size, i) => positions.set(size, [...(positions.get(size) ?? []), i]));

  let tries = 0;
  function search(remaining: number, from: number, left: number): number[] | null {
    if (left === 1) {
      const at = positions.get(remaining)?.find((i) => i >= from);
      return at === undefined ? null : [at];
    }
    for (let i = from; i < sizes.length; i++) {
      if (++tries > maximumTries) return null;
      if (sizes[i]! * left < remaining) return null; // even the largest ones left are too small
      if (sizes[i]! >= remaining) continue;
      const rest = search(remaining - sizes[i]!, i + 1, left - 1);
      if (rest) return [i, ...rest];
    }
    return null;
  }

  if (wanted <= 0) return null;
  for (let count = 1; count <= maximumBlocks; count++) {
    const found = search(wanted, 0, count);
    if (found) return found.map((i) => sorted[i]!);
  }
  return null;
}

/** The nominal length of a stack in mm, without binary noise. */
export function stackNominal(blocks: readonly StackBlock[]): number {
  return blocks.reduce((sum, b) => sum + steps(b.nominal), 0) / 10_000;
}
