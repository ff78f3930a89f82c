import { runState } from '../core/acts/fold';
import { setImmediate } from 'node:timers/promises';
import { kinOf, policyFor, type PolicyFor, type SetPolicy } from '../core/interval/policy';
import { familyOf, type Family } from '../core/interval/family';
import { leastVisitsForDrift } from '../core/interval/drift-school';
import { proposeNext, type KnownOfInstrument, type Proposals } from '../core/interval/propose';
import type { NamedChart } from '../core/interval/checks-page';
import { hasQuickSet } from '../core/plan/quick-set';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { defaultRuleSet, ruleSets, type ChartLimits, type RuleSet } from '../core/statistics/control-chart';
import { checkChart, checkStanding, type CheckChart, type QuickCheck } from '../core/interval/quick-checks';
import { namedResult, type NamedResult, type RunPairs, type Visit } from '../core/interval/visit';
import { dayIn } from '../core/quantity/day-in-zone';
import { adjustingGains, type AdjustingGain } from '../core/run/adjusting-gains';
import { visitNow, pairsOfRun } from '../core/run/run-pairs';
import type { RunState } from '../core/state/run-state';
import { summarizeRun } from '../core/run/run-summary';
import { database, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { eventsOfRun } from '../store/run-log';
import { kindHistory, type KindHistory } from './kind-histories';
import { laboratoryZone, today } from './laboratory-time';
import { proceduresFor, revisionsInUse } from './procedure-library';
import { ServiceError } from './service-error';

type Instrument = register.MemberRow;
type Procedure = KnownOfInstrument['procedure'];

/** Longer than this, in ms, nobody else is kept waiting. */
const mostAtOnce = 2;

/** Those who have long work stand in one row: between two of their pieces everybody else has his turn. */
let row: Promise<void> = Promise.resolve();

/** Lets others have their turn where work has gone on for long. @param told before each turn @throws what the signal was aborted with */
export function turns(told: () => void = () => {}, signal?: AbortSignal): () => Promise<void> {
  let since = performance.now();
  return async () => {
    if (performance.now() - since < mostAtOnce) return;
    told();
    row = row.then(() => setImmediate());
    await row;
    signal?.throwIfAborted();
    since = performance.now();
  };
}

/** Things by what they have in common, in their order. */
function grouped<T>(all: readonly T[], by: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const group = groups.get(by(one));
    if (group) group.push(one);
    else groups.set(by(one), [one]);
  }
  return groups;
}

/** The values of some runs; those finished before they were kept are worked out from their logs, and kept. */
export async function valuesOf(db: Database, runs: readonly string[]): Promise<Map<string, RunPairs>> {
  const kept = await intervals.pairsOfRuns(db, runs);
  for (const [id, pairs] of kept) {
    if (pairs !== null) continue;
    // One log at a time: there may be thousands.
    const found = pairsOfRun(runState(await eventsOfRun(db, id)));
    kept.set(id, found);
    await intervals.keepPairs(db, id, found);
  }
  return kept as Map<string, RunPairs>;
}

/** What is known of all instruments at once: policies, visits, kin. */
export class Histories {
  readonly instruments: readonly Instrument[];
  private readonly byKin: Map<string, Instrument[]>;
  private readonly families = new Map<string, Family>();

  private constructor(
    private readonly db: Database,
    readonly policies: readonly SetPolicy[],
    private readonly kinds: readonly KindHistory[],
    readonly zone: string,
  ) {
    this.instruments = kinds.flatMap((k) => k.members);
    this.byKin = grouped(this.instruments, (i) => this.kinOf(i));
  }

  /** Histories of a kind as they were told last: families are fitted once, until one of them changes. */
  private static readonly last = new WeakMap<KindHistory, { policies: string; histories: Histories }>();

  /** @param kind of one kind alone: an instrument's kin is of its kind */
  static async read(kind?: string): Promise<Histories> {
    const db = await database();
    const [set, zone] = await Promise.all([intervals.currentPolicies(db), laboratoryZone()]);
    if (kind === undefined) {
      const all: KindHistory[] = [];
      for (const one of await register.allKinds(db)) all.push(await kindHistory(db, one, zone));
      return new Histories(db, set, all, zone);
    }
    const known = await kindHistory(db, kind, zone);
    const policies = JSON.stringify(set);
    const before = Histories.last.get(known);
    if (before?.policies === policies) return before.histories;
    const histories = new Histories(db, set, [known], zone);
    Histories.last.set(known, { policies, histories });
    return histories;
  }

  /** The same histories under other policies. */
  under(policies: readonly SetPolicy[]): Histories {
    return new Histories(this.db, policies, this.kinds, this.zone);
  }

  /** What is known of an instrument and all of its kind. @throws ServiceError where there is no such instrument */
  static async of(id: string): Promise<{ histories: Histories; instrument: register.InstrumentRow }> {
    const instrument = await register.instrumentById(await database(), id);
    if (!instrument) throw new ServiceError(404, 'There is no instrument with this id.');
    return { histories: await Histories.read(instrument.kind), instrument };
  }

  policyOf = (instrument: Instrument): PolicyFor => policyFor(instrument, this.policies);

  /** Finished calibrations of an instrument, oldest first, without their values. */
  visitsOf(id: string): readonly Visit[] {
    for (const { visits } of this.kinds) {
      const own = visits.get(id);
      if (own) return own;
    }
    return [];
  }

  /** The day on which an instrument was last put in order. */
  renewedOn = (id: string): string | undefined => this.visitsOf(id).findLast((v) => v.isRenewed)?.day;

  kinOf = (instrument: Instrument): string => kinOf(instrument, this.policyOf(instrument).policy.kinBy);

  membersOf = (kin: string): readonly Instrument[] => this.byKin.get(kin) ?? [];

  /** The family of some kin, fitted once for each target. @param now the visit that is being finished, of one of them */
  familyOf(kin: string, target: number, now?: { instrument: string; visit: Visit }): Family {
    const key = `${target} ${kin}`;
    const known = now ? undefined : this.families.get(key);
    if (known) return known;
    const members = this.membersOf(kin).map(({ id }) => ({
      id,
      visits: now?.instrument === id ? [...this.visitsOf(id), now.visit] : this.visitsOf(id),
    }));
    const family = familyOf(members, target);
    if (!now) this.families.set(key, family);
    return family;
  }

  /** Visits of some instruments with their values. */
  async fullVisits(ids: readonly string[]): Promise<Map<string, Visit[]>> {
    const runs = ids.flatMap((id) => this.visitsOf(id).map((v) => v.run));
    const values = await valuesOf(this.db, runs);
    return new Map(ids.map((id) => [id, this.visitsOf(id).map((v) => ({ ...v, ...values.get(v.run)! }))]));
  }

  /**
   * The next dates of some instruments, as they stand.
   * @param from the day each is reckoned from; without it its last calibration
   */
  async proposals(
    instruments: readonly Instrument[],
    day: string,
    now?: { instrument: string; visit: Visit; procedure: Procedure },
    turn: () => Promise<void> = turns(),
  ): Promise<Map<string, Proposals>> {
    const ids = instruments.map((i) => i.id);
    // Only a history that is long enough tells a drift; the values of the others are not read.
    const long = ids.filter((id) => this.visitsOf(id).length + (now?.instrument === id ? 1 : 0) >= leastVisitsForDrift);
    const [full, counts, checks] = await Promise.all([
      this.fullVisits(long),
      intervals.countsOf(this.db, ids).then((rows) => grouped(rows, (r) => r.instrumentId)),
      chartsOf(this.db, instruments, this.renewedOn),
    ]);
    const proposed = new Map<string, Proposals>();
    const intervalsOfKinds = new Map<string, Procedure>();
    const intervalOf = async (kind: string): Promise<Procedure> => {
      if (!intervalsOfKinds.has(kind)) intervalsOfKinds.set(kind, (await proceduresFor(kind))[0]?.document.interval);
      return intervalsOfKinds.get(kind);
    };
    for (const instrument of instruments) {
      await turn();
      const isNow = now?.instrument === instrument.id;
      const past = full.get(instrument.id) ?? this.visitsOf(instrument.id);
      const visits = isNow ? [...past, now.visit] : past;
      const policy = this.policyOf(instrument);
      const from = isNow ? day : (visits.at(-1)?.day ?? instrument.lastCalibrated ?? day);
      const kin = this.kinOf(instrument);
      const family = this.familyOf(kin, policy.policy.target, isNow ? now : undefined);
      const procedure = isNow ? now.procedure : await intervalOf(instrument.kind);
      const known: KnownOfInstrument = {
        visits,
        ownMonths: instrument.intervalMonths,
        procedure,
        policy,
        family,
        counts: counts.get(instrument.id) ?? [],
        chart: rulingChart(checks.get(instrument.id) ?? new Map()),
      };
      proposed.set(instrument.id, proposeNext(known, from, day));
    }
    return proposed;
  }
}

/** Quick checks of some instruments: a chart for each result, since the instrument was last put in order. */
export async function chartsOf(
  db: Database,
  instruments: readonly { id: string; kind: string }[],
  renewedOn: (id: string) => string | undefined,
): Promise<Map<string, Map<string, NamedChart>>> {
  const zone = await laboratoryZone();
  const ids = instruments.map((i) => i.id);
  const found = await intervals.quickRuns(db, ids);
  const missing = await valuesOf(
    db,
    found.filter((r) => r.pairs === null).map((r) => r.run),
  );
  const rows = grouped(found, (r) => r.instrumentId);
  const charts = new Map<string, Map<string, NamedChart>>();
  for (const { id, kind } of instruments) {
    const since = renewedOn(id) ?? '';
    const series = new Map<string, { named: NamedResult; checks: QuickCheck[] }>();
    for (const row of rows.get(id) ?? []) {
      const day = dayIn(row.finishedAt, zone);
      if (day < since) continue;
      for (const { found, ...pair } of (row.pairs ?? missing.get(row.run)!).pairs) {
        if (!found) continue;
        const known = series.get(pair.key) ?? { named: namedResult(pair), checks: [] };
        series.set(pair.key, known);
        known.checks.push({ run: row.run, at: row.finishedAt, day, value: found.value, lower: found.lower, upper: found.upper });
      }
    }
    const quick = series.size > 0 ? (await quickProcedure(kind))?.quick : undefined;
    charts.set(
      id,
      new Map([...series].map(([key, { named, checks }]) => [key, { ...checkChart(checks, ...watched(quick, key)), ...named }])),
    );
  }
  return charts;
}

/** Limits and rules that a document states for one result; nothing where it leaves them to the chart. */
function watched(quick: ProcedureDocument['quick'], key: string): [ChartLimits | null, RuleSet] {
  const [series, , , , symbol] = key.split('|');
  const limits = quick?.limits?.find((l) => l.series === series && l.result === symbol);
  return [limits ?? null, ruleSets.find((r) => r.id === quick?.rules) ?? defaultRuleSet];
}

/** The procedure of a kind that has a quick set; undefined where none has. */
export async function quickProcedure(kind: string): Promise<ProcedureDocument | undefined> {
  return (await proceduresFor(kind)).map((p) => p.document).find(hasQuickSet);
}

/** What is said of quick checks for every kind that has them. */
export async function quickKinds(): Promise<Map<string, ProcedureDocument['quick']>> {
  const kinds = new Map<string, ProcedureDocument['quick']>();
  for (const { document } of (await revisionsInUse()).filter((r) => hasQuickSet(r.document)))
    for (const kind of document.instrument.kinds) if (!kinds.has(kind)) kinds.set(kind, document.quick);
  return kinds;
}

/** The chart that speaks for an instrument: one that gives an alarm, else the first. */
export function rulingChart(charts: ReadonlyMap<string, CheckChart>): CheckChart {
  const all = [...charts.values()];
  return all.find((c) => checkStanding(c).state === 'alarm') ?? all[0] ?? checkChart([]);
}

/** What every school proposes for an instrument, as it stands today. */
export async function proposalsFor(id: string): Promise<Proposals> {
  const { histories, instrument } = await Histories.of(id);
  return (await histories.proposals([instrument], await today())).get(id)!;
}

/** Until when gains are told where neither record nor procedure names months. */
const usualMonths = 12;

/** What each adjustment would gain by the next date, from the drift of the instrument over its visits. @param day the laboratory's */
export async function gainsOfAdjusting(state: RunState, set: string, day: string): Promise<AdjustingGain[]> {
  if (!state.sets.some((s) => s.id === set)) throw new ServiceError(422, 'This run has no such readings.', ['set']);
  const { id, intervalMonths } = state.instrument;
  const { histories } = await Histories.of(id);
  const visits = (await histories.fullVisits([id])).get(id) ?? [];
  return adjustingGains(state, set, visits, day, intervalMonths ?? state.procedure.interval?.months ?? usualMonths);
}

/** What every school proposes for a run that is being finished, its own readings among the history. @param day the laboratory's */
export async function proposalsAtFinish(state: RunState, day: string): Promise<Proposals> {
  const { id, intervalMonths } = state.instrument;
  const { histories, instrument } = await Histories.of(id);
  const visit = visitNow(state, day, summarizeRun(state));
  // What was agreed when the run began holds for it, as everything else of its record.
  const asBegun = { ...instrument, intervalMonths };
  const all = await histories.proposals([asBegun], day, { instrument: id, visit, procedure: state.procedure.interval });
  return all.get(id)!;
}
