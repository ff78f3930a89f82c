import type { Verdict } from '../conformity/decide';
import type { Certificate, CertificateSet, IssuedCertificate, Laboratory } from './certificate';
import type { CertificateCell, CertificateRow } from './certificate-tables';

/** Certificates as they were issued before version 2; kept as they are, and shown in today's shape. Frozen. */

type Point1 = {
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

type Set1 = {
  verdict: Verdict | null;
  points: Point1[];
  skipped: { nominal: string; reason: string }[];
  conditions: { room: string; instrument: string; standard: string }[];
};

export type Certificate1 = {
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
  asFound: Set1;
  asLeft: Set1 | null;
  asLeftStatement: string;
  adjustment: { kind: string; before: string; after: string; at: string; note: string } | null;
  standards: { identification: string; designation: string; issuer: string; certificate: string; date: string; due: string }[];
  next: { date: string; reason: string };
  persons: { measuredBy: string[]; finishedBy: string; reviewedBy: string | null; reviewedOn: string | null };
  remarks: string[];
};

const cell = (p: Point1): CertificateCell => ({
  indication: p.indication,
  value: p.error,
  expandedUncertainty: p.expandedUncertainty,
  coverageFactor: p.coverageFactor,
  verdict: p.verdict,
  computed: { value: p.computed.error, ...p.computed },
});

const condition = (title: string, values: string[]) => ({ title, value: `${[...new Set(values)].join(', ')} °C` });

const set = (title: string, s: Set1, unit: string): CertificateSet => ({
  title,
  verdict: s.verdict,
  incomplete: null,
  skipped: s.skipped.map((k) => ({ what: `${k.nominal} ${unit}`, reason: k.reason })),
  conditions: [
    condition(
      'Room',
      s.conditions.map((c) => c.room),
    ),
    condition(
      'Instrument',
      s.conditions.map((c) => c.instrument),
    ),
    condition(
      'Standard',
      s.conditions.map((c) => c.standard),
    ),
  ],
});

function rows(c: Certificate1): CertificateRow[] {
  const left = new Map((c.asLeft?.points ?? []).map((p) => [p.nominal, p]));
  const found = new Map(c.asFound.points.map((p) => [p.nominal, p]));
  const nominals = [...new Set([...found.keys(), ...left.keys()])].sort((a, b) => Number(a) - Number(b));
  return nominals.map((nominal): CertificateRow => {
    const [f, l] = [found.get(nominal), left.get(nominal)];
    return {
      point: `${nominal} ${c.units.length}`,
      sweep: '',
      reference: (f ?? l)!.reference,
      limits: { lower: -c.tolerance.value, upper: c.tolerance.value },
      limitWords: c.tolerance.halfWidth,
      found: f ? cell(f) : null,
      left: l ? cell(l) : null,
    };
  });
}

/** A certificate in today's shape, whatever program issued it. */
export function presentCertificate(c: IssuedCertificate): Certificate {
  if (c.version === 2) return c;
  const { withdrawn, replacedBy } = c as Pick<Certificate, 'withdrawn' | 'replacedBy'>;
  return {
    ...(withdrawn ? { withdrawn } : {}),
    ...(replacedBy ? { replacedBy } : {}),
    format: c.format,
    version: 2,
    number: c.number,
    laboratory: c.laboratory,
    owner: c.owner,
    instrument: {
      identification: c.instrument.identification,
      serialNumber: '',
      designation: c.instrument.designation,
      range: c.instrument.range,
      usedRange: c.instrument.calibratedRange,
      resolution: c.instrument.resolution,
      details: [],
    },
    measured: c.measured,
    issued: c.issued,
    place: c.place,
    procedure: { ...c.procedure, choices: [] },
    decisionRule: c.decisionRule,
    coverageStatement: c.coverageStatement,
    asFound: set('As found', c.asFound, c.units.length),
    asLeft: c.asLeft && set('As left', c.asLeft, c.units.length),
    asLeftStatement: c.asLeftStatement,
    tables: [
      {
        series: 'Error of indication',
        of: '',
        result: 'Error',
        units: { reference: c.units.length, value: c.units.error },
        limits: c.tolerance.halfWidth,
        rows: rows(c),
        lines: [],
      },
    ],
    check: null,
    adjustments: c.adjustment
      ? [
          {
            title: c.adjustment.kind,
            at: c.adjustment.at,
            stored: [{ title: 'Indication', before: c.adjustment.before, after: c.adjustment.after }],
            note: c.adjustment.note,
          },
        ]
      : [],
    standards: c.standards,
    next: c.next,
    persons: c.persons,
    remarks: c.remarks,
  };
}
