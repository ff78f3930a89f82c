import { decideConformity, worstVerdict, type ConformityResult, type Verdict } from '../conformity/decide';
import { lengthComparisonInputs } from '../disciplines/dimensional/length-comparison';
import { lengthSeenByInstrument, referenceTemperature } from '../disciplines/dimensional/thermal-expansion';
import { fillBudget } from '../procedure/budget-template';
import type { Budget } from '../uncertainty/budget-schema';
import { propagate, type BudgetResult } from '../uncertainty/propagate';
import { mean, pooledStandardDeviation, standardDeviation } from '../statistics/moments';
import { liveReadings, type Conditions, type RunPoint, type RunState } from './run-state';
import type { Pass } from './event-schema';

/** The reference value of a point and what it is made of. Lengths in mm, temperatures in °C. */
export type ReferenceValue = {
  value: number;
  certified: number;
  nominal: number;
  expansion: number;
  temperatures: { standard: number; instrument: number };
};

export type PointResult = {
  point: RunPoint;
  pass: Pass;
  readings: number[];
  mean: number;
  /** Of the readings of this point alone; null with one reading. */
  standardDeviation: number | null;
  reference: ReferenceValue;
  budget: Budget;
  uncertainty: BudgetResult;
  conformity: ConformityResult;
};

const yearsBetween = (from: string, to: string): number =>
  Math.max(0, (Date.parse(to) - Date.parse(from)) / (365.25 * 86_400_000));

/**
 * Reference value of a point: the certified length at the temperatures of blocks and instrument, never the nominal one.
 * @param conditions those in force, or null before any were typed (20 °C is then assumed, for show only)
 */
export function referenceValue(state: RunState, point: RunPoint, conditions: Conditions | null): ReferenceValue {
  const temperatures = {
    standard: conditions?.standard.value ?? referenceTemperature,
    instrument: conditions?.instrument.value ?? referenceTemperature,
  };
  const certified = point.stack.reduce((sum, b) => sum + b.certified, 0);
  const inputs = comparisonInputs(state, point, temperatures, state.startedAt);
  const value = lengthSeenByInstrument(
    certified,
    { temperature: temperatures.standard, expansionCoefficient: inputs['standard.expansionCoefficient']! },
    { temperature: temperatures.instrument, expansionCoefficient: state.procedure.instrumentExpansionCoefficient },
  );
  return { value, certified, nominal: point.nominal, expansion: value - certified, temperatures };
}

function comparisonInputs(state: RunState, point: RunPoint, temperatures: { standard: number; instrument: number }, at: string) {
  return lengthComparisonInputs({
    blocks: point.stack,
    yearsSinceCertificate: yearsBetween(state.standard.certificate.date, at),
    temperatures,
    instrument: { resolution: state.instrument.resolution, expansionCoefficient: state.procedure.instrumentExpansionCoefficient },
  });
}

/** Results of every point of a pass that can have one: at least one reading that counts, and some scatter to judge it by. */
export function passResults(state: RunState, pass: Pass): PointResult[] {
  const groups = state.points.map((point) => ({ point, readings: liveReadings(state.passes[pass][point.id]) }));
  const pooled = pooledStandardDeviation(groups.map((g) => g.readings.map((r) => r.value)));
  return groups.flatMap(({ point, readings }) => {
    if (readings.length === 0 || !pooled || point.stack.length === 0) return [];
    const values = readings.map((r) => r.value);
    const last = readings.at(-1)!;
    const reference = referenceValue(state, point, last.conditions);
    const inputs = comparisonInputs(state, point, reference.temperatures, last.at);
    const budget = fillBudget(
      state.procedure.budget,
      `${state.instrument.identification}, ${point.nominal.toFixed(1)} mm, ${pass.replace('-', ' ')}`,
      inputs,
      { values, pooled },
    );
    const uncertainty = propagate(budget);
    const conformity = decideConformity({
      reference: reference.value,
      indicated: mean(values),
      expandedUncertainty: uncertainty.expandedUncertainty,
      coverageFactor: uncertainty.coverageFactor,
      effectiveDof: uncertainty.effectiveDof,
      tolerance: toleranceOf(state),
      rule: state.procedure.decisionRule,
    });
    return [
      {
        point,
        pass,
        readings: values,
        mean: mean(values),
        standardDeviation: values.length > 1 ? standardDeviation(values) : null,
        reference,
        budget,
        uncertainty,
        conformity,
      },
    ];
  });
}

/** The tolerance of this run: the instrument's own where its record gives one, else the procedure's. */
export function toleranceOf(state: RunState) {
  const own = state.instrument.maximumPermissibleError;
  return own === null ? state.procedure.tolerance : { terms: [{ absolute: own }], combine: 'sum' as const };
}

/** The verdict of a pass: that of its worst point; null while a point is missing. */
export function passVerdict(
  state: RunState,
  pass: Pass,
  results: readonly PointResult[] = passResults(state, pass),
): Verdict | null {
  const wanted = state.points.filter((p) => state.passes[pass][p.id]!.skipped === null).length;
  return results.length < wanted ? null : worstVerdict(results.map((r) => r.conformity.verdict));
}

/** The point with the greatest share of its tolerance used; null when there is none. */
export function greatestError(results: readonly PointResult[]): PointResult | null {
  return results.reduce<PointResult | null>(
    (worst, r) => (!worst || (r.conformity.toleranceUsed ?? 0) > (worst.conformity.toleranceUsed ?? 0) ? r : worst),
    null,
  );
}
