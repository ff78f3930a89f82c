import type { FindingKind, FindingOutcome } from '../core/register/finding';
import type { CardLine } from '../core/register/model-card';
import type { ClockMark } from '../core/state/logged';
import type { InstrumentSnapshot } from '../core/plan/snapshots';
import type { RecordedEvent } from '../core/acts/registry';
import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { IssuedCertificate } from '../core/certificate/certificate';
import type { DecisionRule } from '../core/conformity/conformity-schema';
import type { StoredEvent } from '../core/log/read-log';
import type { Budget } from '../core/uncertainty/budget-schema';
import type { CheckStanding } from '../core/interval/quick-checks';
import type { Debrief } from '../core/practice/debrief-shape';
import type { Policy, PolicyScope } from '../core/interval/policy';
import type { RunPairs } from '../core/interval/visit';
import type { RunSummary } from '../core/run/run-summary';
import type { Role } from '../core/register/roles';
import type { EntrySeal, LineKind, Parts } from '../core/seal/seal';
import type { StandardDocument } from '../core/standard/standard-schema';

export * from './sign-in-tables';

/** The laboratory itself: one row. */
export const laboratory = sqliteTable('laboratory', {
  id: integer('id').primaryKey(),
  name: text('name').notNull(),
  address: text('address').notNull(),
  /** What conditions are read from, for certificates. */
  conditionInstruments: text('condition_instruments').notNull().default(''),
  /** IANA name; null: the zone of the machine that serves. */
  timeZone: text('time_zone'),
  /** After so many minutes without a hand on it a bench asks again who is there. */
  signOffMinutes: integer('sign_off_minutes').notNull().default(15),
  /** Whether only those may run, review and approve a family of whom it is noted that they can. */
  asksCompetence: integer('asks_competence', { mode: 'boolean' }).notNull().default(false),
  /** There is nobody else who could review: whoever measured signs too, and each certificate says so. */
  isOfOne: integer('is_of_one', { mode: 'boolean' }).notNull().default(false),
});

/** What the store knows of itself, for instance that it holds the demo. */
export const facts = sqliteTable('facts', { key: text('key').primaryKey(), value: text('value').notNull() });

export const people = sqliteTable('people', {
  id: text('id').primaryKey(),
  name: text('name').notNull().unique(),
  /** Set when a name is no longer offered; records keep it. */
  retiredAt: text('retired_at'),
  /** What this person may do. */
  roles: text('roles', { mode: 'json' }).$type<Role[]>().notNull().default(['technician', 'reviewer', 'approver']),
  /** Of whom an owner sees the instruments; null for those of the laboratory. */
  owner: text('owner'),
});

/** Who was found able to run, review or approve the procedures of a family (`*`: of all), from when to when. */
export const competences = sqliteTable(
  'competences',
  {
    id: text('id').primaryKey(),
    person: text('person').notNull(),
    kind: text('kind').notNull(),
    may: text('may', { enum: ['run', 'review', 'approve'] }).notNull(),
    from: text('from').notNull(),
    until: text('until'),
    /** On what it rests: seen at work, a course, a comparison. */
    ground: text('ground').notNull(),
    notedBy: text('noted_by').notNull(),
    notedAt: text('noted_at').notNull(),
  },
  (t) => [index('competences_person').on(t.person)],
);

/** Instruments of any kind: numbers in `unit`, days as ISO text; what further a kind has is told by its procedures. */
export const instruments = sqliteTable(
  'instruments',
  {
    id: text('id').primaryKey(),
    identification: text('identification').notNull().unique(),
    serialNumber: text('serial_number').notNull().default(''),
    kind: text('kind').notNull(),
    designation: text('designation').notNull(),
    owner: text('owner').notNull(),
    ownerAddress: text('owner_address').notNull().default(''),
    place: text('place').notNull(),
    /** What it is used for, as far as that tells its kin apart. */
    use: text('use').notNull().default(''),
    unit: text('unit').notNull().default('mm'),
    lower: real('lower').notNull(),
    upper: real('upper').notNull(),
    usedLower: real('used_lower').notNull(),
    usedUpper: real('used_upper').notNull(),
    resolution: real('resolution').notNull(),
    characteristics: text('characteristics', { mode: 'json' })
      .$type<InstrumentSnapshot['characteristics']>()
      .notNull()
      .default({}),
    lists: text('lists', { mode: 'json' }).$type<InstrumentSnapshot['lists']>().notNull().default({}),
    parts: text('parts', { mode: 'json' }).$type<InstrumentSnapshot['parts']>().notNull().default({}),
    /** What it has stored, as the last adjustment left it. */
    stored: text('stored', { mode: 'json' }).$type<InstrumentSnapshot['stored']>().notNull().default({}),
    /** Settings as the last run left them. */
    settings: text('settings', { mode: 'json' }).$type<Record<string, string>>().notNull().default({}),
    decisionRule: text('decision_rule', { mode: 'json' }).$type<DecisionRule>(),
    adjustmentAllowed: integer('adjustment_allowed', { mode: 'boolean' }).notNull(),
    intervalMonths: integer('interval_months'),
    /** The owner wants the next date on the certificate. */
    nextDateWanted: integer('next_date_wanted', { mode: 'boolean' }).notNull().default(false),
    state: text('state', { enum: ['in-use', 'out-of-use'] }).notNull(),
    lastCalibrated: text('last_calibrated'),
    nextDue: text('next_due'),
  },
  (t) => [
    index('instruments_next_due').on(t.state, t.nextDue),
    index('instruments_kind').on(t.kind, t.state, t.nextDue, t.identification, t.lastCalibrated, t.id),
    index('instruments_owner').on(t.state, t.owner),
    index('instruments_place').on(t.state, t.place),
  ],
);

/** Standards of any kind: the present certificate is in the document; what is listed and searched stands beside it. */
export const standards = sqliteTable('standards', {
  id: text('id').primaryKey(),
  identification: text('identification').notNull().unique(),
  kind: text('kind').notNull(),
  designation: text('designation').notNull(),
  place: text('place').notNull(),
  /** Null where nothing runs out. */
  due: text('due'),
  document: text('document', { mode: 'json' }).$type<StandardDocument>().notNull(),
});

/** Certificates that a later one replaced, with all that they stated. */
export const formerCertificates = sqliteTable(
  'former_certificates',
  {
    standardId: text('standard_id')
      .notNull()
      .references(() => standards.id),
    number: text('number').notNull(),
    replacedAt: text('replaced_at').notNull(),
    document: text('document', { mode: 'json' }).$type<StandardDocument>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.standardId, t.number, t.replacedAt] })],
);

/** Every revision of every procedure, kept for ever: runs pin one. */
export const procedures = sqliteTable(
  'procedures',
  {
    id: text('id').notNull(),
    revision: integer('revision').notNull(),
    /** As it was written; of version 1 or 2. */
    document: text('document', { mode: 'json' }).$type<{ version: number }>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.id, t.revision] })],
);

/** An index over the logs. Everything here but the ids is derived from a run's events, and written with them. */
export const runs = sqliteTable(
  'runs',
  {
    id: text('id').primaryKey(),
    instrumentId: text('instrument_id')
      .notNull()
      .references(() => instruments.id),
    procedureId: text('procedure_id').notNull(),
    procedureRevision: integer('procedure_revision').notNull(),
    status: text('status', { enum: ['open', 'finished', 'abandoned'] }).notNull(),
    startedAt: text('started_at').notNull(),
    finishedAt: text('finished_at'),
    certificate: text('certificate').unique(),
    isReviewed: integer('is_reviewed', { mode: 'boolean' }).notNull().default(false),
    summary: text('summary', { mode: 'json' }).$type<RunSummary>(),
    /** The set-up that it was put into with other instruments. */
    setUp: text('set_up'),
    purpose: text('purpose', { enum: ['calibration', 'quick'] })
      .notNull()
      .default('calibration'),
    /** Every judged value, as found and as left; null for runs finished before it was kept: then it is worked out from the log. */
    pairs: text('pairs', { mode: 'json' }).$type<RunPairs>(),
  },
  (t) => [
    index('runs_instrument').on(t.instrumentId, t.startedAt),
    index('runs_set_up').on(t.setUp),
    index('runs_finished').on(t.purpose, t.status, t.instrumentId),
    uniqueIndex('runs_one_open_per_instrument')
      .on(t.instrumentId)
      .where(sql`status = 'open'`),
    index('runs_unreviewed')
      .on(t.finishedAt)
      .where(sql`status = 'finished' and is_reviewed = 0`),
    index('runs_without_pairs')
      .on(t.id)
      .where(sql`status = 'finished' and pairs is null`),
  ],
);

/** How the quick checks of an instrument stand. Derived from its runs: whatever finishes takes it away, and it is worked out again. */
export const checkStandings = sqliteTable(
  'check_standings',
  {
    instrumentId: text('instrument_id')
      .primaryKey()
      .references(() => instruments.id),
    /** When it was last checked, and the laboratory's day of that. */
    lastAt: text('last_at').notNull(),
    lastDay: text('last_day'),
    /** Null: to be worked out. */
    standing: text('standing', { mode: 'json' }).$type<CheckStanding>(),
    isAlarm: integer('rings', { mode: 'boolean' }).notNull().default(false),
  },
  (t) => [
    index('check_standings_open')
      .on(t.instrumentId)
      .where(sql`standing is null`),
    index('check_standings_rings')
      .on(t.instrumentId)
      .where(sql`rings = 1`),
  ],
);

/** The standards of each run, by the role that they fill. */
export const runStandards = sqliteTable(
  'run_standards',
  {
    runId: text('run_id')
      .notNull()
      .references(() => runs.id),
    role: text('role').notNull(),
    standardId: text('standard_id')
      .notNull()
      .references(() => standards.id),
    /** When the run began: the latest uses of a standard are found without the others. */
    startedAt: text('started_at').notNull().default(''),
  },
  (t) => [
    primaryKey({ columns: [t.runId, t.role, t.standardId] }),
    index('run_standards_standard').on(t.standardId, t.startedAt),
  ],
);

/** The log: appended to, never changed (triggers refuse UPDATE and DELETE). */
export const events = sqliteTable(
  'events',
  {
    runId: text('run_id')
      .notNull()
      .references(() => runs.id),
    sequence: integer('sequence').notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
    idempotencyKey: text('idempotency_key').notNull(),
    act: text('act', { mode: 'json' }).$type<StoredEvent['act']>().notNull(),
    /** What was odd about the server's clock when this was recorded; null when nothing was. */
    clock: text('clock', { mode: 'json' }).$type<ClockMark>(),
    /** When it was done, by the clock at the bench; null where that was not told. */
    done: text('done', { mode: 'json' }).$type<NonNullable<RecordedEvent['done']>>(),
    /** Its hash over itself and the entry before; null for what was recorded before entries were sealed. */
    seal: text('seal', { mode: 'json' }).$type<EntrySeal>(),
    /** The token by which the person did it; null at a screen. */
    token: text('token'),
  },
  (t) => [
    primaryKey({ columns: [t.runId, t.sequence] }),
    uniqueIndex('events_idempotency').on(t.runId, t.idempotencyKey),
    index('events_at').on(t.at),
    // What looking for causes gave: few of all, and asked for at every judgement.
    index('events_looked')
      .on(t.runId)
      .where(sql`json_extract(act, '$.type') = 'looked'`),
  ],
);

/** Certificates of logs of version 1, as they were issued; those issued since stand in the event that finished their run. */
export const certificates = sqliteTable('certificates', {
  runId: text('run_id')
    .primaryKey()
    .references(() => runs.id),
  number: text('number').notNull().unique(),
  content: text('content', { mode: 'json' }).$type<IssuedCertificate>().notNull(),
  /** SHA-256 of the content's text, in hexadecimal. */
  digest: text('digest').notNull(),
});

/** Budgets a laboratory keeps apart from runs. */
export const budgets = sqliteTable('budgets', {
  id: text('id').primaryKey(),
  document: text('document', { mode: 'json' }).$type<Budget>().notNull(),
  changedAt: text('changed_at').notNull(),
});

/** How next dates are told, as it was set; the latest line of a scope and subject holds. Appended to, never changed (triggers). */
export const policies = sqliteTable('policies', {
  sequence: integer('sequence').primaryKey({ autoIncrement: true }),
  scope: text('scope').$type<PolicyScope>().notNull(),
  /** A kind, an owner, the id of an instrument; empty for the laboratory. */
  subject: text('subject').notNull(),
  /** Null: nothing holds here any more. */
  policy: text('policy', { mode: 'json' }).$type<Policy>(),
  at: text('at').notNull(),
  person: text('person').notNull(),
});

/** Cards of make and type, as the laboratory writes them; the latest version holds. Appended to, never changed (triggers). */
export const modelCards = sqliteTable(
  'model_cards',
  {
    kind: text('kind').notNull(),
    /** The designation of the instruments that it is for. */ model: text('model').notNull(),
    version: integer('version').notNull(),
    lines: text('lines', { mode: 'json' }).$type<CardLine[]>().notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
  },
  (t) => [primaryKey({ columns: [t.kind, t.model, t.version] })],
);

/** Damage, worn parts, maintenance and repairs, apart from calibration. Appended to, never changed (triggers). */
export const findings = sqliteTable(
  'findings',
  {
    sequence: integer('sequence').primaryKey({ autoIncrement: true }),
    instrumentId: text('instrument_id')
      .notNull()
      .references(() => instruments.id),
    day: text('day').notNull(),
    kind: text('kind').$type<FindingKind>().notNull(),
    text: text('text').notNull(),
    outcome: text('outcome').$type<FindingOutcome>().notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
  },
  (t) => [index('findings_instrument').on(t.instrumentId, t.day)],
);

/** What counters of use showed. Appended to, never changed (triggers). */
export const useCounts = sqliteTable(
  'use_counts',
  {
    sequence: integer('sequence').primaryKey({ autoIncrement: true }),
    instrumentId: text('instrument_id')
      .notNull()
      .references(() => instruments.id),
    day: text('day').notNull(),
    count: real('count').notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
  },
  (t) => [index('use_counts_instrument').on(t.instrumentId, t.day)],
);

/** Instruments that were taken out to be used, and came back. Appended to, never changed (triggers). */
export const outings = sqliteTable(
  'outings',
  {
    sequence: integer('sequence').primaryKey({ autoIncrement: true }),
    instrumentId: text('instrument_id')
      .notNull()
      .references(() => instruments.id),
    what: text('what').$type<'out' | 'back'>().notNull(),
    /** Where it was taken. */
    place: text('place').notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
  },
  (t) => [index('outings_instrument').on(t.instrumentId)],
);

/** Due dates that a person moved outside a run, with the reason. Appended to, never changed (triggers). */
export const movedDates = sqliteTable(
  'moved_dates',
  {
    sequence: integer('sequence').primaryKey({ autoIncrement: true }),
    instrumentId: text('instrument_id')
      .notNull()
      .references(() => instruments.id),
    before: text('before'),
    after: text('after').notNull(),
    reason: text('reason').notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
  },
  (t) => [index('moved_dates_instrument').on(t.instrumentId)],
);

/** Tokens by which programs act in a person's name; of the token itself only its digest. */
export const tokens = sqliteTable(
  'tokens',
  {
    id: text('id').primaryKey(),
    person: text('person').notNull(),
    roles: text('roles', { mode: 'json' }).$type<Role[]>().notNull(),
    /** SHA-256 of the token, in base64url. */
    digest: text('digest').notNull().unique(),
    madeAt: text('made_at').notNull(),
    endsAt: text('ends_at').notNull(),
    /** When it was ended before its time. */
    endedAt: text('ended_at'),
  },
  (t) => [index('tokens_person').on(t.person)],
);

/** What was changed beside the logs of runs, by whom. Appended to, never changed (triggers). */
export const deeds = sqliteTable(
  'deeds',
  {
    sequence: integer('sequence').primaryKey({ autoIncrement: true }),
    at: text('at').notNull(),
    /** Nobody where somebody tried to sign in under a name that is not known. */
    person: text('person'),
    /** The endpoint that was asked. */
    what: text('what').notNull(),
    /** What it was done to: an id of the address. */
    subject: text('subject').notNull().default(''),
    /** What tells it further, in a few words. */
    detail: text('detail').notNull().default(''),
    /** The token, or the bench, by which it was done. */
    by: text('by').notNull().default(''),
  },
  (t) => [index('deeds_person').on(t.person, t.sequence)],
);

/** One chain over every row that was written, each line with the hash of it and the line before. Appended to, never changed (triggers). */
export const seals = sqliteTable(
  'seals',
  {
    sequence: integer('sequence').primaryKey(),
    at: text('at').notNull(),
    what: text('what').$type<LineKind>().notNull(),
    table: text('of_table').notNull(),
    row: text('of_row').notNull(),
    /** Digests of what was written, by column; of a run also the head of its log and what it was finished with. */
    parts: text('parts', { mode: 'json' }).$type<Parts>().notNull(),
    hash: text('hash').notNull(),
  },
  (t) => [index('seals_row').on(t.table, t.row, t.sequence)],
);

/** Runs to practise on: made-up instruments with hidden faults, kept apart from everything that is a record. */
export const practices = sqliteTable(
  'practices',
  {
    id: text('id').primaryKey(),
    person: text('person').notNull(),
    caseId: text('case_id').notNull(),
    procedureId: text('procedure_id').notNull(),
    /** What sizes, places and causes are drawn from. */
    seed: integer('seed').notNull(),
    startedAt: text('started_at').notNull(),
    endedAt: text('ended_at'),
    /** How it went, told when it was over. */
    debrief: text('debrief', { mode: 'json' }).$type<Debrief>(),
  },
  (t) => [index('practices_person').on(t.person, t.startedAt)],
);

/** What was done in them. Appended to, never changed (triggers). */
export const practiceEvents = sqliteTable(
  'practice_events',
  {
    practiceId: text('practice_id')
      .notNull()
      .references(() => practices.id),
    sequence: integer('sequence').notNull(),
    at: text('at').notNull(),
    person: text('person').notNull(),
    act: text('act', { mode: 'json' }).$type<RecordedEvent['act']>().notNull(),
    idempotencyKey: text('idempotency_key').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.practiceId, t.sequence] }),
    uniqueIndex('practice_events_key').on(t.practiceId, t.idempotencyKey),
  ],
);
