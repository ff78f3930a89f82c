import { decideOn, type ConformityResult, type Verdict } from '../conformity/decide';
import type { DecisionRule } from '../conformity/conformity-schema';
import type { Limits } from '../conformity/tolerance';
import { modelWith, ModelSyntaxError } from '../formula/formula';
import type { DistributionTemplate, ResultDocument, ToleranceTemplate } from '../procedure/document-schema';
import { withoutBinaryNoise } from '../quantity/decimal-noise';
import { pooledStandardDeviation } from '../statistics/moments';
import { BudgetError } from '../uncertainty/budget-error';
import type { Distribution, Quantity } from '../uncertainty/budget-schema';
import { distributionFault } from '../uncertainty/distribution-fault';
import { propagatePrepared, type BudgetResult } from '../uncertainty/propagate';
import { convert, isSameKind } from '../quantity/unit';
import { Absent, DocumentError, ifHad, LeftOut, NoColumn } from '../faults';
import { once, onceNotOfItself } from './once';
import { functionsOf } from './functions';
import { valuesOf } from './readings';
import { readingsIn } from './observed';
import { isOfTemperature } from './own-unit';
import { chosenOption, isIn, numberOf, type Path, type Scope, type Series, type Setting } from './setting';

export type Budgeted = { budget: BudgetResult; reference: number | undefined; indication: number | undefined; scope: Scope };
export type BudgetTemplate = Pick<ResultDocument, 'model' | 'where' | 'quantities' | 'correlations' | 'coverage'>;

/** A result of one place, before it is judged; remembered. @throws Absent when it cannot be had, LeftOut when it is left out */
export function resultAt(s: Setting, series: Series, doc: ResultDocument, scope: Scope): Budgeted {
  const sweep = doc.over?.includes('sweeps') ? null : scope.sweep;
  const key = `result|${scope.set}|${series.doc.id}|${scope.instance?.id ?? ''}|${scope.point?.id ?? ''}|${sweep ?? ''}|${doc.symbol}`;
  const path = [...series.path, 'results', series.doc.results.indexOf(doc)];
  const at: Scope = { ...scope, series, sweep, reading: null, own: {}, path };
  return onceNotOfItself(s.memo, key, `The result ${doc.symbol} depends on itself.`, path, () => workOut(s, doc, at));
}

function workOut(s: Setting, doc: ResultDocument, scope: Scope): Budgeted {
  if (!isIn(s, doc.when, scope)) throw new LeftOut(`result ${doc.symbol}`);
  if (readingsIn(s, scope).length === 0) throw new Absent(`reading for ${doc.symbol}`);
  return {
    budget: budgetAt(s, doc, scope),
    reference: shownNumber(s, doc, 'reference', scope),
    indication: shownNumber(s, doc, 'indication', scope),
    scope,
  };
}

/** A number that is shown beside a result; undefined where it cannot be had. @throws LeftOut where it is left out */
export function shownNumber(
  s: Setting,
  doc: Pick<ResultDocument, 'reference' | 'indication'>,
  member: 'reference' | 'indication',
  scope: Scope,
): number | undefined {
  const number = doc[member];
  if (number === undefined) return undefined;
  try {
    return numberOf(s, number, { ...scope, path: [...scope.path, member] });
  } catch (error) {
    if (error instanceof Absent && !(error instanceof LeftOut)) return undefined;
    throw error;
  }
}

/**
 * The quantities of a budget of the document with this place's numbers; what is left out by a condition of its own counts as zero.
 * @example quantitiesAt(setting, result, scope).quantities.length // 9
 */
export function quantitiesAt(s: Setting, doc: BudgetTemplate, scope: Scope): { quantities: Quantity[]; zeros: string[] } {
  const kept = doc.quantities.map((q, i) => ({
    q,
    i,
    stays: isIn(s, q.when, { ...scope, path: [...scope.path, 'quantities', i] }),
  }));
  const quantities = kept
    .filter((k) => k.stays)
    .map(({ q, i }): Quantity => {
      const path = [...scope.path, 'quantities', i, 'distribution'];
      return { symbol: q.symbol, unit: q.unit, distribution: distributionAt(s, q.distribution, { ...scope, path }) };
    });
  return { quantities, zeros: kept.filter((k) => !k.stays).map((k) => k.q.symbol) };
}

/** A budget of the document with this place's numbers, propagated. */
export function budgetAt(s: Setting, doc: BudgetTemplate, scope: Scope): BudgetResult {
  const { quantities, zeros } = quantitiesAt(s, doc, scope);
  let model;
  try {
    model = modelWith(doc.model, doc.where ?? []);
  } catch (error) {
    if (error instanceof ModelSyntaxError)
      throw new DocumentError(`${error.message} (character ${error.start + 1})`, [...scope.path, 'model']);
    throw error;
  }
  const symbols = new Map(quantities.map((q, i) => [q.symbol, i]));
  const used = model.symbols.map((symbol) => {
    const at = symbols.get(symbol);
    if (at === undefined && !zeros.includes(symbol))
      throw new DocumentError(`The model uses "${symbol}", which is neither a quantity nor an abbreviation before it.`, [
        ...scope.path,
        'model',
      ]);
    return at ?? -1;
  });
  const evaluate: typeof model.evaluate = (values, apply) => {
    const all = model.evaluate(
      used.map((at, i) => (at < 0 ? 0 : values[present[i]!]!)),
      apply,
    );
    return { ...all, gradient: all.gradient.filter((_, i) => used[i]! >= 0) };
  };
  let next = 0;
  const present = used.map((at) => (at < 0 ? -1 : next++));
  const order = used.filter((at) => at >= 0);
  try {
    return propagatePrepared(
      {
        quantities,
        ...(doc.coverage ? { coverage: doc.coverage } : {}),
        ...(doc.correlations
          ? {
              correlations: doc.correlations
                .filter((c) => c.between.every((symbol) => symbols.has(symbol)))
                .map((c) => ({ between: c.between, coefficient: numberOf(s, c.coefficient, scope) })),
            }
          : {}),
      },
      { model: { ...model, evaluate }, order, warnings: [] },
      functionsOf(s, scope),
    );
  } catch (error) {
    if (error instanceof BudgetError) throw new DocumentError(error.message, [...scope.path, ...error.path]);
    throw error;
  }
}

function distributionAt(s: Setting, d: DistributionTemplate, scope: Scope): Distribution {
  const value = (key: string, number: Parameters<typeof numberOf>[1]) =>
    numberOf(s, number, { ...scope, path: [...scope.path, key] });
  if (d.type === 'readings') return readingsAt(s, d, scope);
  const members = Object.fromEntries(
    Object.entries(d).flatMap(([key, number]) => {
      // Its numbers alone: a kept document may hold what this does not know.
      if (typeof number !== 'number' && !(typeof number === 'object' && 'is' in number)) return [];
      const found = value(key, number);
      // Degrees of freedom that a certificate does not state are infinitely many.
      if (key === 'dof' && found === Infinity) return [];
      return [[key, found]];
    }),
  );
  return checked({ type: d.type, ...members }, scope);
}

/** The document was read with its shape; what its formulas gave is looked at here. */
function checked(distribution: Readonly<Record<string, unknown>>, scope: Scope): Distribution {
  const fault = distributionFault(distribution);
  if (fault) throw new DocumentError(fault.message, [...scope.path, fault.path]);
  return distribution as unknown as Distribution;
}

type ReadingsTemplate = Extract<DistributionTemplate, { type: 'readings' }>;

function readingsAt(s: Setting, d: ReadingsTemplate, scope: Scope): Distribution {
  const series = scope.series!;
  const values = valuesOf(s, series, d.of, scope);
  const pooled = poolAt(s, d, scope);
  const floor = d.floor === undefined ? undefined : numberOf(s, d.floor, { ...scope, path: [...scope.path, 'floor'] });
  const dof = d.dof === undefined ? undefined : numberOf(s, d.dof, { ...scope, path: [...scope.path, 'dof'] });
  if (values.length < 2 && !pooled) {
    const repeats = typeof series.doc.repeats === 'number' ? series.doc.repeats : 2;
    // A result over all sweeps takes the readings of each of them.
    const sweeps = scope.sweep == null ? (series.sweeps?.length ?? 1) : 1;
    // Fewer readings than are wanted may still come; a document that wants one and pools nothing is at fault.
    if (values.length < repeats * sweeps) throw new Absent(`scatter of ${d.of}`);
    throw new DocumentError(
      'One reading alone has no scatter: ask for repeats, or pool with other readings or with earlier work ("pool").',
      scope.path,
    );
  }
  return checked(
    {
      type: 'readings',
      values,
      ...(pooled ? { pooled } : {}),
      ...(floor === undefined ? {} : { floor }),
      ...(dof === undefined || dof === Infinity ? {} : { dof }),
    },
    scope,
  );
}

function poolAt(s: Setting, d: ReadingsTemplate, scope: Scope): { standardDeviation: number; dof: number } | null {
  const pool = d.pool ?? 'none';
  if (pool === 'none') return null;
  if (typeof pool === 'object' && 'standardDeviation' in pool) {
    const at = (key: 'standardDeviation' | 'dof') => numberOf(s, pool[key], { ...scope, path: [...scope.path, 'pool', key] });
    return { standardDeviation: at('standardDeviation'), dof: Math.min(at('dof'), 1e12) };
  }
  if (typeof pool === 'string')
    return pooledOver(s, scope.series!, d.of, scope.set, pool === 'instance' ? scope.instance?.id : undefined, scope);
  const series = s.series.get(pool.series);
  if (!series) throw new LeftOut(`series ${pool.series}`);
  const set = s.observed.has(scope.set, pool.series) ? scope.set : s.observed.latestOther(scope.set, pool.series);
  if (set === undefined) throw new Absent(`reading of ${pool.series}`);
  const same = series.instances.find((i) => i.id !== null && i.id === scope.instance?.id);
  const pooled = pooledOver(s, series, pool.of, set, same?.id ?? undefined, scope);
  if (!pooled) throw new Absent(`scatter of ${pool.series}`);
  return pooled;
}

/** Scatter of an observation or computed value pooled over the cells of a series, each about its own mean. */
function pooledOver(s: Setting, series: Series, of: string, set: string, instance: string | null | undefined, scope: Scope) {
  const key = `pool|${set}|${series.doc.id}|${of}|${instance ?? '*'}`;
  return once(s.memo, key, () => {
    const cells = s.observed.cells(set, series.doc.id).flatMap(([r]): Scope[] => {
      if (instance !== undefined && r!.instance !== instance) return [];
      const at = series.instances.find((i) => i.id === r!.instance)!;
      const point = series.points.get(at)?.find((p) => p.id === r!.point) ?? null;
      return [{ ...scope, set, series, instance: at, point, sweep: r!.sweep, reading: null, own: {} }];
    });
    const groups = cells.map((at) => ifHad(() => valuesOf(s, series, of, at)) ?? []);
    return pooledStandardDeviation(groups);
  });
}

// --- judging ---

export type School = { limits: ShownLimits; verdict?: Verdict };
export type ShownLimits = { lower?: number; upper?: number };
export type Judged = {
  limits: ShownLimits;
  acceptance: ShownLimits;
  verdict: Verdict;
  toleranceUsed: number | null;
  testUncertaintyRatio: number | null;
  probabilityOfConformity: number;
};

export const shownLimits = ({ lower, upper }: Limits): ShownLimits => ({
  ...(lower === null ? {} : { lower }),
  ...(upper === null ? {} : { upper }),
});

type Uncertainty = Pick<BudgetResult, 'expandedUncertainty' | 'coverageFactor' | 'effectiveDof'>;

/**
 * The limits of a tolerance here; a limit whose formula names a column that this point lacks is absent.
 * @example limitsAt(setting, { lower: -0.004, upper: 0.004 }, 7.702, 7.7, scope) // { lower: -0.004, upper: 0.004 }
 */
export function limitsAt(s: Setting, tolerance: ToleranceTemplate, indication: number, reference: number, scope: Scope): Limits {
  const value = (number: Parameters<typeof numberOf>[1]) => numberOf(s, number, scope);
  if (!('terms' in tolerance)) {
    const limit = (number: Parameters<typeof numberOf>[1] | undefined) =>
      number === undefined ? null : (ifLimited(() => value(number)) ?? null);
    return { lower: limit(tolerance.lower), upper: limit(tolerance.upper) };
  }
  const magnitudes = ifLimited(() =>
    tolerance.terms.map((t) => {
      if ('absolute' in t) return value(t.absolute);
      if ('ofReading' in t) return value(t.ofReading) * Math.abs(indication);
      if ('ofReference' in t) return value(t.ofReference) * Math.abs(reference);
      if ('ofRange' in t) return value(t.ofRange) * value(t.range);
      if ('counts' in t) return value(t.counts) * value(t.resolution);
      return value(t.perLength) * value(t.length);
    }),
  );
  if (!magnitudes) return { lower: null, upper: null };
  const half = tolerance.combine === 'greatest' ? Math.max(...magnitudes) : magnitudes.reduce((a, b) => a + b, 0);
  const clean = withoutBinaryNoise(half, Math.max(...magnitudes.map(Math.abs)));
  return { lower: -clean, upper: clean };
}

/** A limit that names what this place lacks, or what is left out, is absent; one that waits is not known yet. */
function ifLimited<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof NoColumn || error instanceof LeftOut) return undefined;
    throw error;
  }
}

type Judgeable = Pick<ResultDocument, 'tolerance' | 'tolerances'>;

type ShownNumber = NonNullable<ResultDocument['reference']>;

/** The unit of something at a place: as written, or of a text column of what the series runs through. */
export function unitAt(unit: ResultDocument['unit'] | undefined, scope: Scope): string | undefined {
  if (typeof unit !== 'object') return unit;
  const [head, column = ''] = unit.of.split('.');
  const found = head === 'each' ? scope.instance?.row[column] : scope.point?.columns[column];
  return typeof found === 'string' ? found : undefined;
}

/**
 * A reading or reference of which a share is a limit, in the unit of the result. A temperature counts as it stands in the document's
 * unit; what is of another kind of quantity counts as it is.
 */
function inUnitOfResult(
  s: Setting,
  value: number,
  shown: ShownNumber | undefined,
  unit: ResultDocument['unit'] | undefined,
  scope: Scope,
): number {
  const from = typeof shown === 'object' ? unitAt(shown.unit, scope) : undefined;
  if (from === undefined) return value;
  const document = s.doc.instrument.unit;
  if (isOfTemperature(from)) return document !== undefined && isOfTemperature(document) ? convert(value, from, document) : value;
  const to = unitAt(unit, scope);
  return to !== undefined && isSameKind(from, to) ? convert(value, from, to) : value;
}

/** The school of limits that decides: the one named by the choice `limits`, else the first. */
function decidingSchool(s: Setting, schools: NonNullable<Judgeable['tolerances']>, path: Path): string {
  const named = s.doc.choices.some((c) => c.id === 'limits')
    ? ifHad(() => String(chosenOption(s, 'limits', path).option['id']))
    : undefined;
  return (schools.find((x) => x.id === named) ?? schools[0]!).id;
}

/** The tolerance that a result is judged by: its own, or that of the school that decides. */
export const decidingTolerance = (s: Setting, { tolerance, tolerances }: Judgeable, path: Path): ToleranceTemplate | undefined =>
  tolerances ? tolerances.find((x) => x.id === decidingSchool(s, tolerances, path))!.tolerance : tolerance;

/** A value against its tolerance, and against each school's. Null where nothing limits it here. */
export function judge(
  s: Setting,
  doc: Judgeable & Partial<Pick<ResultDocument, 'unit' | 'reference' | 'indication'>>,
  value: number,
  rule: DecisionRule,
  uncertainty: Uncertainty,
  shown: { reference: number | undefined; indication: number | undefined },
  scope: Scope,
): { judged: Judged | null; schools: Record<string, School> | null } {
  const ofShown = (member: 'reference' | 'indication'): number => {
    const known = shown[member];
    return known === undefined ? value : inUnitOfResult(s, known, doc[member], doc.unit, scope);
  };
  const decide = (
    tolerance: ToleranceTemplate,
    path: Path,
  ): { limits: Limits; result: Omit<ConformityResult, 'error'> | null } => {
    const limits = limitsAt(s, tolerance, ofShown('indication'), ofShown('reference'), { ...scope, path });
    return { limits, result: limits.lower === null && limits.upper === null ? null : decideOn(value, limits, rule, uncertainty) };
  };
  const asJudged = ({ limits, result }: ReturnType<typeof decide>): Judged | null =>
    result && {
      limits: shownLimits(limits),
      acceptance: shownLimits(result.acceptance),
      verdict: result.verdict,
      toleranceUsed: result.toleranceUsed,
      testUncertaintyRatio: result.testUncertaintyRatio,
      probabilityOfConformity: result.probabilityOfConformity,
    };
  if (!doc.tolerances)
    return { judged: doc.tolerance ? asJudged(decide(doc.tolerance, [...scope.path, 'tolerance'])) : null, schools: null };
  const decided = doc.tolerances.map((school, i) => ({
    id: school.id,
    ...decide(school.tolerance, [...scope.path, 'tolerances', i, 'tolerance']),
  }));
  const deciding = decided.find((d) => d.id === decidingSchool(s, doc.tolerances!, scope.path))!;
  return {
    judged: asJudged(deciding),
    schools: Object.fromEntries(
      decided.map((d) => [d.id, { limits: shownLimits(d.limits), ...(d.result ? { verdict: d.result.verdict } : {}) }]),
    ),
  };
}

/**
 * The rule that decides: what was agreed with the owner, else the nearest of the document, else simple acceptance.
 * @example ruleFor(setting, theSeries, undefined).kind // 'guard-band'
 */
export const ruleFor = (s: Setting, series: Series, own: DecisionRule | undefined): DecisionRule =>
  s.given.decisionRule ?? own ?? series.doc.decisionRule ?? s.doc.decisionRule ?? { kind: 'simple' };
