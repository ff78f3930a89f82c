import type { Verdict } from '../conformity/decide';
import { kindOfSet } from '../evaluate/completeness';
import { dayIn } from '../quantity/day-in-zone';
import { plainDecimal } from '../quantity/rounding';
import { adjustmentAdvice } from '../run/adjustment-advice';
import { readLaterWords } from '../run/read-later';
import { reasonsGiven } from '../run/review-points';
import { limitedWords } from '../run/limiting';
import { rulingWords } from '../run/ruling-words';
import { standardsOver } from '../run/cautions';
import { instanceTitle, placeTitle, setTitle, seriesOf } from '../run/place-words';
import { evaluationIfAny, hasPair, isSettled, setAsFound, setAsLeft, verdictAsFound, verdictAsLeft } from '../run/run-results';
import { placeOfKey } from '../state/place-keys';
import type { RunState } from '../state/run-state';
import { withPrintedUnit } from '../run/shown-value';
import { unitIn } from '../steps/step-context';
import { certificateTables, type CertificateTable } from './certificate-tables';
import { coverageStatement, ruleStatement } from './certificate-words';
import { changesBetween, type CertificateChange } from './changes';
import { presentCertificate, type Certificate1 } from './version-1';

export type Laboratory = { name: string; address: string; /** What conditions are read from. */ conditionInstruments?: string };

/** One set of readings: what it gave as a whole, and under which conditions. */
export type CertificateSet = {
  title: string;
  verdict: Verdict | null;
  /** Why it is not complete, and what it covers; null when it is. */ incomplete: string | null;
  skipped: { what: string; reason: string }[];
  /** Each condition over the set, with its unit. */ conditions: { title: string; value: string }[];
};

/** The content of a certificate: what the PDF prints and the JSON carries. */
export type Certificate = {
  format: 'just-twice/certificate';
  version: 2;
  number: string;
  laboratory: Laboratory;
  owner: string;
  ownerAddress?: string;
  /** Day of receipt, where it was said. */ received?: string;
  instrument: {
    identification: string;
    serialNumber: string;
    designation: string;
    range: string;
    usedRange: string;
    resolution: string;
    details: { title: string; value: string }[];
  };
  measured: { from: string; to: string };
  issued: string;
  place: string;
  procedure: { id: string; revision: number; title: string; sources: string[]; choices: { title: string; value: string }[] };
  decisionRule: string;
  /** Where the limits come from. */ limitsFrom?: string;
  coverageStatement: string;
  asFound: CertificateSet;
  /** Null when nothing was read again: the as-found set then stands for both. */ asLeft: CertificateSet | null;
  asLeftStatement: string;
  tables: CertificateTable[];
  /** The independent check at the end; null where the procedure has none. */ check: CertificateSet | null;
  adjustments: { title: string; at: string; stored: { title: string; before: string; after: string }[]; note: string }[];
  standards: { identification: string; designation: string; issuer: string; certificate: string; date: string; due: string }[];
  /** `isStated` is false where the owner did not ask for it: then it is not printed. */
  next: { date: string; reason: string; isStated?: boolean };
  persons: { measuredBy: string[]; finishedBy: string; reviewedBy: string | null; reviewedOn: string | null };
  remarks: string[];
  /** The issue that this one corrects, and what it said otherwise. */
  replaces?: { number: string; issued: string; reason: string; changes: CertificateChange[] };
  /** It was taken back after it was issued. */ withdrawn?: { on: string; by: string; reason: string };
  /** A later issue that corrects it. */ replacedBy?: string;
};

/** A certificate as it was issued, by this program or by one before it. */
export type IssuedCertificate = Certificate | Certificate1;

/** Conditions of some sets, each from its least to its greatest value. */
function conditionsOf(state: RunState, sets: ReadonlySet<string>): CertificateSet['conditions'] {
  return state.procedure.conditions.flatMap((c) => {
    const records = state.conditions.filter((r) => r.id === c.id && sets.has(r.set));
    if (records.length === 0) return [];
    const [least, greatest] = [...records]
      .sort((a, b) => a.value - b.value)
      .filter((_, i, all) => i === 0 || i === all.length - 1);
    const unit = unitIn(state, c.unit, { set: records[0]!.set });
    const value = !greatest || greatest.text === least!.text ? least!.text : `${least!.text} to ${greatest.text}`;
    return [{ title: c.title, value: withPrintedUnit(value.replace(/-/g, '−'), unit) }];
  });
}

/** What a set that was ended early covers: from the least to the greatest nominal value that was read. */
function coverOf(state: RunState, set: string): string {
  const read = [...state.live.values()].filter((r) => r.slot.set === set);
  const titles = [...new Set(read.map((r) => placeTitle(state, { set, series: r.slot.series, point: r.slot.point })))].filter(
    Boolean,
  );
  if (titles.length === 0) return 'nothing was read';
  return titles.length === 1 ? `it covers ${titles[0]}` : `it covers ${titles[0]} to ${titles.at(-1)}`;
}

function certificateSet(state: RunState, title: string, ids: readonly string[], verdict: Verdict | null): CertificateSet {
  const sets = new Set(ids);
  const ended = state.sets.find((s) => sets.has(s.id) && s.ended);
  const incomplete = ended
    ? `Ended early: ${ended.ended!.reason}; ${coverOf(state, ended.id)}.`
    : ids.every((id) => isSettled(state, id))
      ? null
      : 'Not everything was read.';
  return {
    title,
    verdict,
    incomplete,
    skipped: [...state.skipped].flatMap(([key, { reason }]) => {
      const place = placeOfKey(key);
      const { set, series } = place;
      return sets.has(set) ? [{ what: placeTitle(state, place) || (seriesOf(state, series)?.title ?? series), reason }] : [];
    }),
    conditions: conditionsOf(state, sets),
  };
}

/**
 * A certificate with the signature of its review, and that it was withdrawn: both follow the issue and change nothing else.
 * @example withReview(certificate, { ...finished, reviewed: null, withdrawnIssue: null }).number === certificate.number // true
 */
export function withReview<C extends IssuedCertificate>(
  certificate: C,
  { reviewed, withdrawnIssue, timeZone }: Pick<RunState, 'reviewed' | 'withdrawnIssue' | 'timeZone'>,
): C {
  if (withdrawnIssue) {
    const { person: by, at, reason } = withdrawnIssue;
    const withdrawn = { on: dayIn(at, timeZone), by, reason };
    return withReview({ ...certificate, withdrawn }, { reviewed, withdrawnIssue: null, timeZone });
  }
  if (!reviewed) return certificate;
  const persons = { ...certificate.persons, reviewedBy: reviewed.person, reviewedOn: dayIn(reviewed.at, timeZone) };
  return { ...certificate, persons };
}

const rangeWords = (lower: number, upper: number, unit: string): string =>
  [...new Set([lower, upper])]
    .map((end) => withPrintedUnit(plainDecimal(end), unit))
    .join(' to ')
    .replace(/-/g, '−');

function detailsOf(state: RunState): { title: string; value: string }[] {
  const { characteristics, parts } = state.procedure.instrument;
  return [
    ...characteristics.flatMap((c) => {
      const value = state.instrument.characteristics[c.id] ?? c.default;
      if (value === undefined) return [];
      const unit = typeof c.unit === 'string' ? c.unit : '';
      return [{ title: c.title, value: typeof value === 'number' ? withPrintedUnit(plainDecimal(value), unit) : value }];
    }),
    ...parts.flatMap((p) => (state.instrument.parts[p.id] ? [{ title: p.title, value: state.instrument.parts[p.id]! }] : [])),
  ];
}

/** Why an instrument was left as it was found. */
function whyLeft(state: RunState): string {
  const decision = state.decisions.at(-1);
  const reason = decision && (decision.reason || adjustmentAdvice(state, decision.set).reason);
  return reason ? ` ${reason}` : '';
}

/** Items that somebody chose at the bench in place of those of the plan. */
const chosenItems = (state: RunState): string[] =>
  [...state.items].flatMap(([key, ids]) => {
    const [set, series, each, point, use] = key.split('|');
    const doc = seriesOf(state, series);
    const role = doc?.uses[use!]?.role ?? use!;
    const all = (state.standards[role] ?? []).flatMap((s) => [
      ...(s.document.items ?? []),
      ...(s.document.parts ?? []).flatMap((p) => p.items ?? []),
    ]);
    const markings = ids.map((id) => all.find((i) => i.id === id)?.marking || id);
    const place = { set: set!, series: series!, ...(each ? { each } : {}), ...(point ? { point } : {}) };
    return [`${placeTitle(state, place)}, ${setTitle(set!).toLowerCase()}: ${markings.join(' + ')} chosen at the bench.`];
  });

/** The tolerances of the school that decides, of every result and statistic. */
function decidingTolerances(state: RunState, school: string | undefined): unknown[] {
  const judgeable = state.procedure.series.flatMap((s) => [...s.results, ...s.aggregates]);
  return judgeable.flatMap(({ tolerance, tolerances }) => tolerance ?? tolerances?.find((t) => t.id === school)?.tolerance ?? []);
}

/** Where the limits come from, and the numbers they are made of: those of this instrument's record, and those of the procedure. */
function limitsFrom(state: RunState): string {
  const { procedure, instrument } = state;
  const choice = procedure.choices.find((c) => c.id === 'limits');
  const school = choice?.options.find((o) => o.id === (state.choices['limits'] ?? choice.default ?? choice.options[0]!.id));
  const named = JSON.stringify(decidingTolerances(state, school?.id));
  const used = procedure.instrument.characteristics.filter((c) =>
    new RegExp(`instrument\\.${c.id}(?![\\p{L}\\p{N}_])`, 'u').test(named),
  );
  const words = (isOwn: boolean): string =>
    used
      .flatMap((c) => {
        const own = instrument.characteristics[c.id];
        const value = own ?? c.default;
        if ((own !== undefined) !== isOwn || typeof value !== 'number') return [];
        const unit = typeof c.unit === 'string' ? c.unit : '';
        return [`${c.title.charAt(0).toLowerCase()}${c.title.slice(1)} ${withPrintedUnit(plainDecimal(value), unit)}`];
      })
      .join(', ');
  const from = `${procedure.title}, revision ${procedure.revision}${procedure.sources[0] ? `, after ${procedure.sources[0]}` : ''}`;
  return [
    school ? `${school.title ?? school.id}, by ${from}.` : `By ${from}.`,
    words(true) && `By this instrument's record: ${words(true)}.`,
    words(false) && `By the procedure, as the record states none: ${words(false)}.`,
  ]
    .filter(Boolean)
    .join(' ');
}

/**
 * The certificate of a finished run as it is issued, before its review; computed from its log.
 * @throws Error when the run is not finished (a broken invariant: the certificate exists only then)
 * @example certificateOf(finished, { name: 'Room', address: '' }).persons.measuredBy // ['Ada']
 */
export function certificateOf(state: RunState, laboratory: Laboratory): Certificate {
  const certificate = contentOf(state, laboratory);
  const replaced = state.corrections.at(-1);
  if (!replaced?.issued) return certificate;
  const before = presentCertificate(replaced.issued as unknown as IssuedCertificate);
  const { certificate: number, reason } = replaced;
  return { ...certificate, replaces: { number, issued: before.issued, reason, changes: changesBetween(before, certificate) } };
}

function contentOf(state: RunState, laboratory: Laboratory): Certificate {
  const { completed, interval, instrument, procedure } = state;
  if (!completed || !interval) throw new Error('A certificate is made from a finished run.');
  const day = (instant: string) => dayIn(instant, state.timeZone);
  const isPair = hasPair(state);
  const first = setAsFound(state);
  const from = state.sets.findIndex((s) => s.id === first);
  const laterSets = state.sets.filter((s, i) => i > from && kindOfSet(s.id) !== 'check').map((s) => s.id);
  const checkSets = state.sets.filter((s) => kindOfSet(s.id) === 'check').map((s) => s.id);
  const foundVerdict = verdictAsFound(state);
  const asFound = certificateSet(state, setTitle(state.sets[0]!.id), [first], foundVerdict);
  const asLeft = isPair ? certificateSet(state, 'As left', laterSets, verdictAsLeft(state)) : null;
  const check = checkSets.length
    ? certificateSet(state, 'Independent check', checkSets, evaluationIfAny(state, checkSets.at(-1)!).verdict)
    : null;
  const times = state.readings.map((r) => r.at).sort();
  const struck = state.readings.filter((r) => r.struck).length;
  const failed = foundVerdict === 'fail' || foundVerdict === 'conditional-fail';
  const coverages = procedure.series.flatMap((s) => s.results.map((r) => r.coverage));
  const probabilities = [...new Set(coverages.map((c) => (c && 'probability' in c ? c.probability : null)))];
  const last = state.adjusted.at(-1);
  const used = new Set(Object.keys(state.standards));
  return {
    format: 'just-twice/certificate',
    version: 2,
    number: completed.certificate,
    laboratory,
    owner: instrument.owner,
    ...(instrument.ownerAddress ? { ownerAddress: instrument.ownerAddress } : {}),
    ...(state.received ? { received: state.received } : {}),
    instrument: {
      identification: instrument.identification,
      serialNumber: instrument.serialNumber,
      designation: instrument.designation,
      range: rangeWords(instrument.lower, instrument.upper, instrument.unit),
      usedRange: rangeWords(instrument.usedLower, instrument.usedUpper, instrument.unit),
      resolution: withPrintedUnit(plainDecimal(instrument.resolution), instrument.unit),
      details: detailsOf(state),
    },
    measured: { from: day(times[0] ?? completed.at), to: day(times.at(-1) ?? completed.at) },
    issued: day(completed.at),
    place: instrument.place,
    procedure: {
      id: procedure.id,
      revision: procedure.revision,
      title: procedure.title,
      sources: procedure.sources,
      choices: procedure.choices.flatMap((c) => {
        const option = c.options.find((o) => o.id === (state.choices[c.id] ?? c.default ?? c.options[0]!.id));
        return option ? [{ title: c.title, value: option.title ?? option.id }] : [];
      }),
    },
    decisionRule: ruleStatement(instrument.decisionRule ?? procedure.decisionRule),
    limitsFrom: limitsFrom(state),
    coverageStatement: coverageStatement(probabilities.length === 1 ? probabilities[0]! : null),
    asFound,
    asLeft,
    asLeftStatement: asLeft
      ? last
        ? `As left after “${procedure.adjustments.find((a) => a.id === last.id)?.title ?? last.id}” on ${day(last.at)}.`
        : `As left: read again (${[...new Set(state.sets.slice(from + 1).map((s) => s.why))].filter(Boolean).join('; ') || 'the set that followed'}).`
      : `Nothing was adjusted: the as-found results are also the as-left results.${whyLeft(state)}`,
    tables: certificateTables(state, first, (series) => (isPair ? setAsLeft(state, series) : null), checkSets.at(-1) ?? null),
    check,
    adjustments: state.adjusted.map((a) => {
      const doc = procedure.adjustments.find((d) => d.id === a.id);
      const each = a.each ? `${instanceTitle(state, doc?.of[0] ?? '', a.each)}: ` : '';
      return {
        title: `${each}${doc?.title ?? a.id}`,
        at: day(a.at),
        stored: Object.entries(a.stored).map(([id, s]) => {
          const stored = doc?.stored.find((d) => d.id === id);
          const unit = unitIn(state, stored?.unit, { set: a.set });
          return {
            title: stored?.title ?? id,
            before: s.before === undefined ? '' : withPrintedUnit(s.before, unit),
            after: withPrintedUnit(s.after, unit),
          };
        }),
        note: a.note,
      };
    }),
    standards: procedure.standards
      .filter((r) => used.has(r.role) && !r.auxiliary)
      .flatMap((r) =>
        state.standards[r.role]!.map(({ document: d }) => ({
          identification: d.identification,
          designation: d.designation,
          issuer: d.certificate?.issuer ?? '',
          certificate: d.certificate?.number ?? '',
          date: d.certificate?.date ?? '',
          due: d.certificate?.due ?? '',
        })),
      ),
    next: {
      date: interval.next,
      reason: interval.next === interval.proposed ? interval.reason || 'By policy.' : interval.reason,
      ...(instrument.nextDateWanted === false ? { isStated: false } : {}),
    },
    persons: {
      measuredBy: [...new Set(state.readings.map((r) => r.person))],
      finishedBy: completed.person,
      reviewedBy: null,
      reviewedOn: null,
    },
    remarks: [
      ...(state.limited
        ? [
            `Limited to ${limitedWords(state, state.limited.to)}: as left it is inside its limits there, and is not to be used for anything else. Agreed: ${state.limited.agreed}.`,
          ]
        : []),
      ...(completed.remark ? [completed.remark] : []),
      ...(failed
        ? [
            `As found it was outside its limits. Measurements made with it since ${instrument.lastCalibrated ?? 'it was last known good'} may be affected.`,
          ]
        : []),
      ...asInUse(state),
      ...rulingWords(state),
      ...(struck
        ? [`${struck} ${struck === 1 ? 'reading was' : 'readings were'} struck out; the reasons are in the record.`]
        : []),
      ...chosenItems(state),
      ...readLaterWords(state),
      ...reasonsGiven(state),
      ...standardsOver(state, day(completed.at)).map(
        ({ identification, due }) => `The certificate of ${identification} ran out on ${due}, before this run was finished.`,
      ),
      ...state.amended.map((a) => `${a.title} amended, before “${a.before || '–'}”: ${a.reason}`),
      ...state.corrections.map((c) => `Replaces certificate ${c.certificate}, which was issued with a mistake: ${c.reason}`),
      ...state.returned.map((r) => `Replaces certificate ${r.certificate}, which was returned in review: ${r.remark}`),
    ],
  };
}

/** What was done to the instrument before it was read as found, because its owner does it before every use. */
function asInUse({ procedure, steps }: RunState): string[] {
  const own = [...procedure.steps, ...procedure.series.flatMap((x) => x.steps)].filter((step) => step.touches && step.asInUse);
  const done = own.filter(({ id }) => steps.some((s) => s.item.id === id));
  const titles = [...new Set(done.map((step) => step.title))];
  return titles.length ? [`As found was read after this, which its owner does before every use: ${titles.join(', ')}.`] : [];
}
