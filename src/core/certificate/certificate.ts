import type { Verdict } from '../conformity/decide';
import { dayIn } from '../quantity/calendar-day';
import { convertDifference, printedUnit } from '../quantity/unit';
import { printedPair, reportedPair, roundToDecimals } from '../quantity/rounding';
import { passResults, passVerdict, toleranceOf, type PointResult } from '../run/point-results';
import { asLeftPass, type RunState } from '../run/run-state';
import { statementHalfWidth } from '../conformity/tolerance';
import type { Pass } from '../run/event-schema';

export type Laboratory = { name: string; address: string };

/** One line of the results: numbers as reported (text, rounded once) and as computed. */
export type CertificatePoint = {
  nominal: string;
  reference: string;
  indication: string;
  error: string;
  expandedUncertainty: string;
  coverageFactor: string;
  verdict: Verdict;
  computed: {
    error: number;
    expandedUncertainty: number;
    coverageFactor: number;
    effectiveDof: number | null;
    toleranceUsed: number | null;
    probabilityOfConformity: number;
  };
  blocks: string[];
};

export type CertificateSet = {
  verdict: Verdict | null;
  points: CertificatePoint[];
  skipped: { nominal: string; reason: string }[];
  conditions: { room: string; instrument: string; standard: string }[];
};

/** The content of a certificate: what the PDF prints and the JSON carries. */
export type Certificate = {
  format: 'just-twice/certificate';
  version: 1;
  number: string;
  laboratory: Laboratory;
  owner: string;
  instrument: { identification: string; designation: string; range: string; calibratedRange: string; resolution: string };
  measured: { from: string; to: string };
  issued: string;
  place: string;
  procedure: { id: string; revision: number; title: string; sources: string[] };
  units: { length: string; error: string };
  tolerance: { halfWidth: string; value: number };
  decisionRule: string;
  coverageStatement: string;
  asFound: CertificateSet;
  /** Null when nothing was adjusted: the as-found set then stands for both. */
  asLeft: CertificateSet | null;
  asLeftStatement: string;
  adjustment: { kind: string; before: string; after: string; at: string; note: string } | null;
  standards: { identification: string; designation: string; issuer: string; certificate: string; date: string; due: string }[];
  next: { date: string; reason: string };
  persons: { measuredBy: string[]; finishedBy: string; reviewedBy: string | null; reviewedOn: string | null };
  remarks: string[];
};

/** A mean of readings to 0.001 mm is worth one digit more. */
const meanDecimals = 4;

function certificatePoint(result: PointResult, errorUnit: string): CertificatePoint {
  const toErrorUnit = (mm: number) => convertDifference(mm, 'mm', errorUnit);
  const error = toErrorUnit(result.conformity.error);
  const U = toErrorUnit(result.uncertainty.expandedUncertainty);
  // Kept with a plain minus, like every number of a document; over a power of ten where two digits count of more.
  const reported = printedPair(reportedPair(error, U));
  return {
    nominal: result.point.nominal.toFixed(1),
    reference: roundToDecimals(result.reference.value, 5),
    indication: roundToDecimals(result.mean, meanDecimals),
    error: reported.estimate.replace('−', '-'),
    expandedUncertainty: reported.expandedUncertainty,
    coverageFactor: roundToDecimals(result.uncertainty.coverageFactor, 2),
    verdict: result.conformity.verdict,
    computed: {
      error,
      expandedUncertainty: U,
      coverageFactor: result.uncertainty.coverageFactor,
      effectiveDof: result.uncertainty.effectiveDof,
      toleranceUsed: result.conformity.toleranceUsed,
      probabilityOfConformity: result.conformity.probabilityOfConformity,
    },
    blocks: result.point.stack.map((b) => b.marking || String(b.nominal)),
  };
}

function certificateSet(state: RunState, pass: Pass): CertificateSet {
  const results = passResults(state, pass);
  const readings = Object.values(state.passes[pass]).flatMap((p) => p.readings.filter((r) => !r.struck));
  const conditions = [...new Map(readings.map((r) => [r.conditions.sequence, r.conditions])).values()];
  return {
    verdict: passVerdict(state, pass, results),
    points: results.map((r) => certificatePoint(r, state.procedure.indication.errorUnit)),
    skipped: state.points.flatMap((p) => {
      const reason = state.passes[pass][p.id]!.skipped;
      return reason === null ? [] : [{ nominal: p.nominal.toFixed(1), reason }];
    }),
    conditions: conditions.map((c) => ({ room: c.room.text, instrument: c.instrument.text, standard: c.standard.text })),
  };
}

const verdictInWords: Record<Verdict, string> = {
  pass: 'pass',
  'conditional-pass': 'conditional pass',
  'conditional-fail': 'conditional fail',
  fail: 'fail',
  'not-determined': 'not determined',
};

export const verdictWords = (verdict: Verdict): string => verdictInWords[verdict];

/** A certificate with the signature of its review, which follows the issue and changes nothing else. */
export function withReview(certificate: Certificate, { reviewed, timeZone }: RunState): Certificate {
  if (!reviewed) return certificate;
  const persons = { ...certificate.persons, reviewedBy: reviewed.person, reviewedOn: dayIn(reviewed.at, timeZone) };
  return { ...certificate, persons };
}

/**
 * The certificate of a finished run as it is issued, before its review; computed from its log.
 * @throws Error when the run is not finished (a broken invariant: the certificate exists only then)
 */
export function certificateOf(state: RunState, laboratory: Laboratory): Certificate {
  const { completed, interval, instrument, procedure, standard, adjustment } = state;
  if (!completed || !interval) throw new Error('A certificate is made from a finished run.');
  const day = (instant: string) => dayIn(instant, state.timeZone);
  const asFound = certificateSet(state, 'as-found');
  const asLeft = asLeftPass(state) === 'as-left' ? certificateSet(state, 'as-left') : null;
  const readings = Object.values(state.passes).flatMap((pass) => Object.values(pass).flatMap((p) => p.readings));
  const times = readings.map((r) => r.at).sort();
  const struck = readings.filter((r) => r.struck).length;
  const { errorUnit, unit } = procedure.indication;
  const half = convertDifference(statementHalfWidth(toleranceOf(state), instrument.calibratedUpper), unit, errorUnit);
  const failed = asFound.verdict === 'fail' || asFound.verdict === 'conditional-fail';
  const coverage =
    procedure.budget.coverage && 'probability' in procedure.budget.coverage ? procedure.budget.coverage.probability : null;
  return {
    format: 'just-twice/certificate',
    version: 1,
    number: completed.certificate,
    laboratory,
    owner: instrument.owner,
    instrument: {
      identification: instrument.identification,
      designation: instrument.designation,
      range: `${instrument.rangeLower} mm to ${instrument.rangeUpper} mm`,
      calibratedRange: `${instrument.calibratedLower} mm to ${instrument.calibratedUpper} mm`,
      resolution: `${instrument.resolution} mm`,
    },
    measured: { from: day(times[0] ?? completed.at), to: day(times.at(-1) ?? completed.at) },
    issued: day(completed.at),
    place: instrument.place,
    procedure: { id: procedure.id, revision: procedure.revision, title: procedure.title, sources: procedure.sources },
    units: { length: printedUnit(unit), error: printedUnit(errorUnit) },
    tolerance: { halfWidth: `±${roundToDecimals(half, 1)} ${printedUnit(errorUnit)}`, value: half },
    decisionRule: procedure.decisionRuleStatement,
    coverageStatement:
      coverage === null
        ? 'The expanded uncertainty U is the standard uncertainty multiplied by the coverage factor k of the line.'
        : `The expanded uncertainty U is the standard uncertainty multiplied by the coverage factor k of the line, which for a t distribution with the effective degrees of freedom gives a coverage probability of ${roundToDecimals(coverage * 100, 2)} % (JCGM 100:2008).`,
    asFound,
    asLeft,
    asLeftStatement: asLeft
      ? `As left after the zero was adjusted on ${day(adjustment!.at)}.`
      : 'Nothing was adjusted: the as-found results are also the as-left results.',
    adjustment: adjustment
      ? {
          kind: procedure.adjustment.title,
          before: `${adjustment.before.text} mm`,
          after: `${adjustment.after.text} mm`,
          at: day(adjustment.at),
          note: adjustment.note,
        }
      : null,
    standards: [
      {
        identification: standard.identification,
        designation: standard.designation,
        issuer: standard.certificate.issuer,
        certificate: standard.certificate.number,
        date: standard.certificate.date,
        due: standard.certificate.due,
      },
    ],
    next: {
      date: interval.next,
      reason: interval.next === interval.proposed ? interval.reason || 'By policy.' : interval.reason,
    },
    persons: {
      measuredBy: [...new Set(readings.map((r) => r.person))],
      finishedBy: completed.person,
      reviewedBy: null,
      reviewedOn: null,
    },
    remarks: [
      ...(completed.remark ? [completed.remark] : []),
      ...(failed
        ? [
            `As found it was outside its limits. Measurements made with it since ${instrument.lastCalibrated ?? 'it was last known good'} may be affected.`,
          ]
        : []),
      ...(struck
        ? [`${struck} ${struck === 1 ? 'reading was' : 'readings were'} struck out; the reasons are in the record.`]
        : []),
      ...(state.soak?.earlyReason ? [`The soak was ended early: ${state.soak.earlyReason}`] : []),
      ...Object.entries(state.checks).flatMap(([check, answer]) =>
        answer.outcome === 'no' ? [`${procedure.checks.find((c) => c.id === check)?.title ?? check}: ${answer.note}`] : [],
      ),
    ],
  };
}
