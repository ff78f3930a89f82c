import type { Act, RecordedEvent } from '../../acts/registry';
import type { InstrumentSnapshot, StandardSnapshot } from '../../plan/snapshots';
import type { Place, Plan, PlanItem } from '../../plan/plan-schema';
import type { ProcedureDocument } from '../../procedure/document-schema';
import { readKeptDocument } from '../version-2/document';
import { actSchema, type Act as Act1, type ActOf as ActOf1 } from './act-schema';
import { fewestBlocks } from './gauge-stack';
import type { Procedure as Procedure1, TemplateNumber } from './procedure-schema';

/**
 * Lifts a log of version 1, which knew one comparison only, into the present shape. Frozen: what it makes of an old log must stay
 * what it is, so it uses nothing that changes with the rest. One old event may become two, which share its number.
 */

export type RecordedEvent1 = Omit<RecordedEvent, 'act'> & { act: Act1 };

const series = 'error';
const use = 'standard';
const name = (id: string): string => id.replace(/-/g, '_');

/** Names that the old model offered, in today's. */
const names: [RegExp, string][] = [
  [/\bstandard\.length\b/g, 'standard.value'],
  [/\bstandard\.blocks\b/g, 'standard.items'],
  [/\bstandard\.yearsSinceCertificate\b/g, 'standard.ageYears'],
  [/\bstandard\.temperatureDeviation\b/g, '(condition.standard - 20)'],
  [/\binstrument\.temperatureDeviation\b/g, '(condition.instrument - 20)'],
  [/\btemperature\.difference\b/g, '(condition.standard - condition.instrument)'],
];

function liftNumber(n: TemplateNumber, expansion: number): number | { is: string } {
  if (typeof n === 'number') return n;
  const is = names.reduce((text, [from, to]) => text.replace(from, to), n.is);
  return { is: is.replace(/\binstrument\.expansionCoefficient\b/g, String(expansion)) };
}

/** A procedure of version 1 as the document of version 2 that says the same. */
export function liftProcedure(p: Procedure1, maximumPermissibleError: number | null): ProcedureDocument {
  const number = (n: TemplateNumber) => liftNumber(n, p.instrumentExpansionCoefficient);
  return readKeptDocument({
    format: 'just-twice/procedure',
    version: 2,
    id: p.id,
    revision: p.revision,
    title: p.title,
    scope: p.scope,
    sources: p.sources,
    instrument: { kinds: [p.instrumentKind] },
    standards: [
      {
        role: use,
        title: 'Gauge blocks',
        kinds: [p.standardKind],
        properties: [{ id: 'expansionCoefficient', title: 'Expansion coefficient', unit: 'K-1' }],
      },
    ],
    steps: [
      ...p.checks.map((c) => ({
        kind: 'confirm',
        id: name(c.id),
        title: c.title,
        ask: c.ask,
        ...(c.caution ? { caution: c.caution } : {}),
      })),
      ...(p.soak.minutes > 0
        ? [{ kind: 'wait', id: 'soak', title: p.soak.title, instruction: p.soak.instruction, minutes: p.soak.minutes }]
        : []),
    ],
    conditions: p.conditions.quantities.map((c) => ({
      id: c.id,
      title: c.title,
      unit: c.unit,
      lower: c.lower,
      upper: c.upper,
      recorded: 'set',
      ...(c.id === 'instrument' ? { near: { is: 'condition.standard', within: p.conditions.maximumDifference } } : {}),
    })),
    series: [
      {
        id: series,
        title: 'Error of indication',
        sketch: 'scale',
        uses: { [use]: { stack: 'point.nominal' } },
        points: { unit: p.indication.unit, offsets: p.points.offsets },
        repeats: p.points.repeats,
        observe: [
          {
            id: 'R',
            title: 'Micrometer',
            of: 'instrument',
            unit: p.indication.unit,
            resolution: { is: 'instrument.resolution' },
            instruction: p.points.instruction,
            ...(p.points.caution ? { caution: p.points.caution } : {}),
          },
        ],
        results: [
          {
            symbol: p.budget.output.symbol,
            title: 'Error',
            unit: p.budget.output.unit,
            shownIn: p.indication.errorUnit,
            reference: {
              is: `standard.value * (1 + standard.expansionCoefficient * (condition.standard - 20) - ${p.instrumentExpansionCoefficient} * (condition.instrument - 20))`,
            },
            indication: { is: 'R' },
            model: p.budget.model,
            quantities: p.budget.quantities.map((q) => {
              const d = q.distribution;
              return {
                symbol: q.symbol,
                name: q.name,
                unit: q.unit,
                source: q.source,
                distribution:
                  d.type === 'readings'
                    ? { type: 'readings', of: 'R', pool: 'set', ...(d.floor === undefined ? {} : { floor: number(d.floor) }) }
                    : {
                        type: d.type,
                        mean: number(d.mean),
                        ...(d.type === 'normal'
                          ? { standardUncertainty: number(d.standardUncertainty) }
                          : { halfWidth: number(d.halfWidth) }),
                        ...(d.dof === undefined ? {} : { dof: d.dof }),
                      },
              };
            }),
            ...(p.budget.coverage ? { coverage: p.budget.coverage } : {}),
            tolerance:
              maximumPermissibleError === null ? p.tolerance : { terms: [{ absolute: maximumPermissibleError }], combine: 'sum' },
          },
        ],
      },
    ],
    decisionRule: p.decisionRule,
    adjustments: [
      {
        id: 'zero',
        title: p.adjustment.title,
        kind: 'offset',
        of: [series],
        result: p.budget.output.symbol,
        affects: [series],
        instruction: p.adjustment.instruction,
        ...(p.adjustment.caution ? { caution: p.adjustment.caution } : {}),
        stored: [{ id: 'indication', title: 'Indication when closed', unit: p.indication.unit }],
        policy: p.adjustment.policy,
      },
    ],
    interval: p.interval,
  });
}

const liftInstrument = (i: ActOf1<'run-started'>['instrument']): InstrumentSnapshot => ({
  id: i.id,
  identification: i.identification,
  serialNumber: '',
  kind: i.kind,
  designation: i.designation,
  owner: i.owner,
  place: i.place,
  unit: 'mm',
  lower: i.rangeLower,
  upper: i.rangeUpper,
  usedLower: i.calibratedLower,
  usedUpper: i.calibratedUpper,
  resolution: i.resolution,
  characteristics: i.maximumPermissibleError === null ? {} : { limit: i.maximumPermissibleError },
  lists: {},
  parts: {},
  stored: {},
  adjustmentAllowed: i.adjustmentAllowed,
  intervalMonths: i.intervalMonths,
  decisionRule: null,
  lastCalibrated: i.lastCalibrated,
});

const liftStandard = (s: ActOf1<'run-started'>['standard']): StandardSnapshot => ({
  id: s.id,
  document: {
    format: 'just-twice/standard',
    version: 1,
    identification: s.identification,
    kind: s.kind,
    designation: s.designation,
    certificate: s.certificate,
    unit: 'mm',
    items: s.items.map(({ expansionCoefficient, ...item }) => ({ ...item, properties: { expansionCoefficient } })),
  },
});

/** Points over the range to be calibrated, each with the fewest blocks, as version 1 derived them. */
function liftPlaces(act: ActOf1<'run-started'>): Plan['places'] {
  const half = act.instrument.maximumPermissibleError;
  const symbol = act.procedure.budget.output.symbol;
  return [
    {
      series,
      each: null,
      points: act.procedure.points.offsets
        .map((offset) => Math.round((act.instrument.calibratedLower + offset) * 1e4) / 1e4)
        .filter((nominal) => nominal <= act.instrument.calibratedUpper + 1e-9)
        .map((nominal, i) => ({
          id: `p${i + 1}`,
          index: i + 1,
          nominal,
          columns: {},
          items: { [use]: (fewestBlocks(nominal, act.standard.items) ?? []).map((b) => b.id) },
          limits: half === null ? {} : { [symbol]: { lower: -half, upper: half } },
        })),
    },
  ];
}

function setItems(act: ActOf1<'run-started'>, places: Plan['places'], set: string): PlanItem[] {
  return [
    ...act.procedure.conditions.quantities.map((c): PlanItem => ({ type: 'condition', set, id: c.id })),
    ...places[0]!.points.flatMap((point) =>
      Array.from({ length: act.procedure.points.repeats }, (_, i): PlanItem => ({
        type: 'reading',
        set,
        series,
        point: point.id,
        repeat: i + 1,
        id: 'R',
      })),
    ),
    { type: 'judge', set },
  ];
}

function liftStart(act: ActOf1<'run-started'>): Act {
  const set = 'as-found';
  const places = liftPlaces(act);
  const procedure = liftProcedure(act.procedure, act.instrument.maximumPermissibleError);
  return {
    type: 'run-started',
    version: 2,
    instrument: liftInstrument(act.instrument),
    standards: { [use]: [liftStandard(act.standard)] },
    procedure,
    choices: {},
    plan: {
      items: [
        ...procedure.steps.map((s): PlanItem => ({ type: 'step', set, id: s.id })),
        ...setItems(act, places, set),
        { type: 'interval', set },
        { type: 'complete', set },
      ],
      places,
    },
    timeZone: act.timeZone ?? 'UTC',
  };
}

/** A whole log of version 1 in the present shape. @throws Error when the log does not begin with its start */
export function upcast(events: readonly RecordedEvent1[]): RecordedEvent[] {
  const start = events[0]?.act;
  if (start?.type !== 'run-started') throw new Error('A run begins with its start.');
  const places = liftPlaces(start);
  const repeats = start.procedure.points.repeats;
  /** Sequence of the live reading in each slot: a new one takes the first free repeat, as it did. */
  const live = new Map<string, number>();
  const noPlan: Plan = { items: [], places: [] };
  const chosen = new Map<string, string[]>();
  let isAdjusted = false;
  const withChosen = (p: Plan['places'][number]) => ({
    ...p,
    points: p.points.map((point) => ({ ...point, items: { [use]: chosen.get(point.id) ?? point.items[use]! } })),
  });

  const lift = (event: RecordedEvent1): Act[] => {
    const { act } = event;
    const version = 2 as const;
    switch (act.type) {
      case 'run-started':
        return [liftStart(act)];
      case 'check-answered':
        return [
          {
            type: 'step-done',
            version,
            set: 'as-found',
            id: name(act.check),
            value: act.outcome === 'yes',
            ...(act.outcome === 'no' ? { reason: act.note } : {}),
          },
        ];
      case 'soak-started':
        return [{ type: 'wait-begun', version, set: 'as-found', id: 'soak' }];
      case 'soak-ended':
        return [
          { type: 'wait-ended', version, set: 'as-found', id: 'soak', ...(act.earlyReason ? { reason: act.earlyReason } : {}) },
        ];
      case 'conditions-recorded':
        return [
          {
            type: 'conditions-recorded',
            version,
            set: isAdjusted ? 'as-left' : 'as-found',
            values: { room: act.room, instrument: act.instrument, standard: act.standard },
            ...(act.reason ? { reason: act.reason } : {}),
          },
        ];
      case 'stack-chosen': {
        // A stack once chosen served the readings as left too.
        chosen.set(act.point, act.items);
        const set = isAdjusted ? 'as-left' : 'as-found';
        return [{ type: 'items-chosen', version, set, series, point: act.point, use, items: act.items }];
      }
      case 'reading-taken': {
        const key = (r: number) => `${act.pass}|${act.point}|${r}`;
        let repeat = 1;
        while (repeat < repeats && live.has(key(repeat))) repeat++;
        live.set(key(repeat), event.sequence);
        const at: Required<Pick<Place, 'set' | 'series' | 'point' | 'repeat'>> = {
          set: act.pass,
          series,
          point: act.point,
          repeat,
        };
        return [
          {
            type: 'observed',
            version,
            ...at,
            observation: 'R',
            text: act.text,
            ...(act.confirmed ? { confirmed: true } : {}),
          },
        ];
      }
      case 'reading-struck':
        for (const [key, sequence] of live) if (sequence === act.sequence) live.delete(key);
        return [{ type: 'struck', version, sequence: act.sequence, reason: act.reason }];
      case 'point-skipped':
        return [{ type: 'skipped', version, set: act.pass, series, point: act.point, reason: act.reason }];
      case 'point-resumed':
        return [{ type: 'resumed', version, set: act.pass, series, point: act.point }];
      case 'adjustment-decided':
        return [
          {
            type: 'adjustment-decided',
            version,
            set: 'as-found',
            adjustment: act.adjust ? 'zero' : null,
            proposed: act.proposed ? 'zero' : null,
            reason: act.reason,
            plan: act.adjust
              ? {
                  items: [
                    { type: 'adjust', set: 'as-found', id: 'zero' },
                    { type: 'begin', set: 'as-left' },
                  ],
                  places: [],
                }
              : noPlan,
          },
        ];
      case 'zero-adjusted':
        isAdjusted = true;
        return [
          {
            type: 'adjusted',
            version,
            set: 'as-found',
            id: 'zero',
            stored: { indication: { before: act.before, after: act.after } },
            note: act.note,
          },
          {
            type: 'set-begun',
            version,
            set: 'as-left',
            why: 'Adjusted',
            plan: { items: setItems(start, places, 'as-left'), places: places.map(withChosen) },
          },
        ];
      case 'note-added':
        return [{ type: 'note-added', version, text: act.text }];
      case 'interval-decided':
        // Version 1 asked no question after the readings as left: they were taken as they were.
        return [
          ...(isAdjusted ? [leftAlone('as-left', noPlan)] : []),
          { type: 'interval-decided', version, next: act.next, proposed: act.proposed, reason: act.reason },
        ];
      case 'run-completed':
        return [{ type: 'run-completed', version, certificate: act.certificate, remark: act.remark }];
      case 'run-reviewed':
        return [{ type: 'run-reviewed', version, remark: act.remark }];
      case 'run-abandoned':
        return [{ type: 'run-broken-off', version, reason: act.reason }];
    }
  };
  return events.flatMap((event) => {
    const parsed = actSchema.safeParse(event.act);
    if (!parsed.success) throw new Error(`Event ${event.sequence} is not one that version 1 knew.`);
    return lift({ ...event, act: parsed.data }).map((act): RecordedEvent => ({ ...event, act }));
  });
}

const leftAlone = (set: string, plan: Plan): Act => ({
  type: 'adjustment-decided',
  version: 2,
  set,
  adjustment: null,
  proposed: null,
  reason: '',
  plan,
});
