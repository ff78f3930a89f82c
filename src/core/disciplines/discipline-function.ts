import type { Applied } from '../uncertainty/model-compile';
import { formula, type Formula } from '../formula/formula';
import { plainDecimal } from '../quantity/rounding';
import { printedUnit } from '../quantity/unit';

export type Parameter = { id: string; title: string; unit: string };

/** Physics in closed form, callable in every formula and budget with its exact partial derivatives. */
export type DisciplineFunction = {
  name: string;
  title: string;
  discipline: string;
  parameters: readonly Parameter[];
  /** Unit of the value. */
  unit: string;
  /** Where it holds, in words. */
  validity: string;
  source: string;
  evaluate: (args: readonly number[]) => Applied;
};

/** An argument outside the range in which a function holds. */
export class OutsideValidityError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'OutsideValidityError';
  }
}

type Range = { of: string; from: number; to: number };

/** Ranges that decimal input meets exactly are met: a ten-billionth of their width is let through. */
const slack = 1e-10;

/** @throws OutsideValidityError naming function, argument and range */
export function requireWithin(name: string, value: number, { of, from, to }: Range, unit: string): void {
  const allowed = (Number.isFinite(to - from) ? to - from : 1) * slack;
  if (!(value >= from - allowed && value <= to + allowed))
    throw new OutsideValidityError(
      `${name} holds for ${of} from ${from} to ${to}${unit === '1' ? '' : ` ${unit}`}, not for ${Number(value.toPrecision(6))}.`,
    );
}

/** A number as it is said: to six digits, with its unit. */
const withUnit = (value: number, unit: string): string =>
  [plainDecimal(Number(value.toPrecision(6))), printedUnit(unit)].filter(Boolean).join(' ');

type Closed = Omit<DisciplineFunction, 'evaluate'> & {
  /** The function in the model language over its parameters' ids; the first branch whose condition holds. */
  branches: readonly { when?: (args: readonly number[]) => boolean; is: string }[];
  ranges: readonly Range[];
};

/** A function written in the model language: its derivatives come with it, exact. */
export function closedFunction({ branches, ranges, ...about }: Closed): DisciplineFunction {
  const compiled = branches.map(({ when, is }) => ({ when, model: formula(is) }));
  const at = (model: Formula, args: readonly number[]): Applied => {
    const { value, gradient } = model.evaluate(model.symbols.map((s) => args[about.parameters.findIndex((p) => p.id === s)]!));
    if (!Number.isFinite(value))
      throw new OutsideValidityError(
        `${about.title}: nothing follows from ${args.map((a, i) => `a ${about.parameters[i]!.title} of ${withUnit(a, about.parameters[i]!.unit)}`).join(' and ')}; it holds for ${about.validity}. Read it again, or take the cause away first.`,
      );
    return {
      value,
      partials: about.parameters.map((p) => {
        const index = model.symbols.indexOf(p.id);
        return index < 0 ? 0 : gradient[index]!;
      }),
    };
  };
  return {
    ...about,
    evaluate: (args) => {
      for (const range of ranges) {
        const p = about.parameters.findIndex((q) => q.id === range.of);
        requireWithin(about.name, args[p]!, range, about.parameters[p]!.unit);
      }
      return at(compiled.find(({ when }) => !when || when(args))!.model, args);
    },
  };
}

type Inverse = Omit<DisciplineFunction, 'evaluate'> & {
  /** The function whose first argument is sought. */
  of: DisciplineFunction;
  /** Where it may lie. */
  from: number;
  to: number;
};

/**
 * The inverse of a function in its first argument, on an interval where it rises or falls throughout: bracketed Newton steps to
 * the last digit. Partial derivatives by implicit differentiation: dx/dy = 1/f′, dx/dp = −(∂f/∂p)/f′.
 */
export function inverseFunction({ of, from, to, ...about }: Inverse): DisciplineFunction {
  return {
    ...about,
    evaluate: ([y, ...rest]) => {
      const f = (x: number) => of.evaluate([x, ...rest]);
      let [low, high] = [from, to];
      const [atLow, atHigh] = [f(low).value, f(high).value];
      requireWithin(
        about.name,
        y!,
        { of: about.parameters[0]!.id, from: Math.min(atLow, atHigh), to: Math.max(atLow, atHigh) },
        about.parameters[0]!.unit,
      );
      const rising = atHigh > atLow;
      let x = low + ((high - low) * (y! - atLow)) / (atHigh - atLow);
      for (let step = 0; step < 200; step++) {
        const { value, partials } = f(Math.min(high, Math.max(low, x)));
        const miss = value - y!;
        if (miss === 0) break;
        if (miss > 0 === rising) high = Math.min(high, x);
        else low = Math.max(low, x);
        let next = x - miss / partials[0]!;
        if (!(next > low && next < high)) next = low + (high - low) / 2;
        if (Math.abs(next - x) <= 1e-15 * Math.max(1, Math.abs(x))) {
          x = next;
          break;
        }
        x = next;
      }
      const { partials } = f(x);
      return { value: x, partials: [1 / partials[0]!, ...partials.slice(1).map((p) => -p / partials[0]!)] };
    },
  };
}
