import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { Certificate } from '../core/certificate/certificate';
import type { Act, ClockMark } from '../core/run/event-schema';
import type { Procedure } from '../core/procedure/procedure-schema';
import type { Budget } from '../core/uncertainty/budget-schema';
import type { RunSummary } from '../core/run/run-summary';

/** The laboratory itself: one row. */
export const laboratory = sqliteTable('laboratory', {
  id: integer('id').primaryKey(),
  name: text('name').notNull(),
  address: text('address').notNull(),
  /** IANA name; null: the zone of the machine that serves. */
  timeZone: text('time_zone'),
});

/** What the store knows of itself, for instance that it holds the demo. */
export const facts = sqliteTable('facts', { key: text('key').primaryKey(), value: text('value').notNull() });

export const people = sqliteTable('people', {
  id: text('id').primaryKey(),
  name: text('name').notNull().unique(),
  /** Set when a name is no longer offered; records keep it. */
  retiredAt: text('retired_at'),
});

/** Lengths in mm, days as ISO text. */
export const instruments = sqliteTable(
  'instruments',
  {
    id: text('id').primaryKey(),
    identification: text('identification').notNull().unique(),
    kind: text('kind').notNull(),
    designation: text('designation').notNull(),
    owner: text('owner').notNull(),
    place: text('place').notNull(),
    rangeLower: real('range_lower').notNull(),
    rangeUpper: real('range_upper').notNull(),
    calibratedLower: real('calibrated_lower').notNull(),
    calibratedUpper: real('calibrated_upper').notNull(),
    resolution: real('resolution').notNull(),
    maximumPermissibleError: real('maximum_permissible_error'),
    adjustmentAllowed: integer('adjustment_allowed', { mode: 'boolean' }).notNull(),
    intervalMonths: integer('interval_months'),
    state: text('state', { enum: ['in-use', 'out-of-use'] }).notNull(),
    lastCalibrated: text('last_calibrated'),
    nextDue: text('next_due'),
  },
  (t) => [index('instruments_next_due').on(t.state, t.nextDue)],
);

export const standards = sqliteTable('standards', {
  id: text('id').primaryKey(),
  identification: text('identification').notNull().unique(),
  kind: text('kind').notNull(),
  designation: text('designation').notNull(),
  place: text('place').notNull(),
  certificateIssuer: text('certificate_issuer').notNull(),
  certificateNumber: text('certificate_number').notNull(),
  certificateDate: text('certificate_date').notNull(),
  due: text('due').notNull(),
});

export const standardItems = sqliteTable(
  'standard_items',
  {
    id: text('id').primaryKey(),
    standardId: text('standard_id')
      .notNull()
      .references(() => standards.id),
    nominal: real('nominal').notNull(),
    certified: real('certified').notNull(),
    expandedUncertainty: real('expanded_uncertainty').notNull(),
    coverageFactor: real('coverage_factor').notNull(),
    expansionCoefficient: real('expansion_coefficient').notNull(),
    marking: text('marking').notNull(),
  },
  (t) => [index('standard_items_standard').on(t.standardId)],
);

/** Every revision of every procedure, kept for ever: runs pin one. */
export const procedures = sqliteTable(
  'procedures',
  {
    id: text('id').notNull(),
    revision: integer('revision').notNull(),
    document: text('document', { mode: 'json' }).$type<Procedure>().notNull(),
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
    standardId: text('standard_id')
      .notNull()
      .references(() => standards.id),
    procedureId: text('procedure_id').notNull(),
    procedureRevision: integer('procedure_revision').notNull(),
    status: text('status', { enum: ['open', 'finished', 'abandoned'] }).notNull(),
    startedAt: text('started_at').notNull(),
    finishedAt: text('finished_at'),
    certificate: text('certificate').unique(),
    isReviewed: integer('is_reviewed', { mode: 'boolean' }).notNull().default(false),
    summary: text('summary', { mode: 'json' }).$type<RunSummary>(),
  },
  (t) => [
    index('runs_instrument').on(t.instrumentId, t.startedAt),
    index('runs_standard').on(t.standardId),
    uniqueIndex('runs_one_open_per_instrument')
      .on(t.instrumentId)
      .where(sql`status = 'open'`),
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
    act: text('act', { mode: 'json' }).$type<Act>().notNull(),
    /** What was odd about the server's clock when this was recorded; null when nothing was. */
    clock: text('clock', { mode: 'json' }).$type<ClockMark>(),
  },
  (t) => [primaryKey({ columns: [t.runId, t.sequence] }), uniqueIndex('events_idempotency').on(t.runId, t.idempotencyKey)],
);

/** Certificates as they were issued: nothing that is changed later, in the register or in the code, changes one. */
export const certificates = sqliteTable('certificates', {
  runId: text('run_id')
    .primaryKey()
    .references(() => runs.id),
  number: text('number').notNull().unique(),
  content: text('content', { mode: 'json' }).$type<Certificate>().notNull(),
  /** SHA-256 of the content's text, in hexadecimal. */
  digest: text('digest').notNull(),
});

/** Budgets a laboratory keeps apart from runs. */
export const budgets = sqliteTable('budgets', {
  id: text('id').primaryKey(),
  document: text('document', { mode: 'json' }).$type<Budget>().notNull(),
  changedAt: text('changed_at').notNull(),
});
