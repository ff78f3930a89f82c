import published from '../disciplines/published-values.json';
import { disciplineFunctions } from '../disciplines/registry';

/** A published value of a function that procedures may call, beside what this software computes; `within` is how far they may differ. */
export type FunctionComparison = (typeof published.lines)[number] & { unit: string; computed: number; agrees: boolean };

/**
 * Every published value of every function, computed anew. Each is a closed form, or a root of one: all take a few milliseconds.
 * @example compareFunctions().every((line) => line.agrees) // true
 */
export const compareFunctions = (): FunctionComparison[] =>
  published.lines.map((line) => {
    const f = disciplineFunctions.get(line.function)!;
    const computed = f.evaluate(line.args).value;
    return { ...line, unit: f.unit, computed, agrees: Math.abs(computed - line.value) <= line.within };
  });
