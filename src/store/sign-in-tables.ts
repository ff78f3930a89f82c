import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';

/*
 * Who can sign in, as the library of sign-in keeps it: an account is a person of the laboratory (of the same id) or a bench. Sessions
 * come and go; none of it is a record.
 */
export const accounts = sqliteTable('accounts', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** There is no mail: an address made of the id stands here. */
  email: text('email').notNull().unique(),
  emailVerified: integer('email_verified', { mode: 'boolean' }).notNull().default(true),
  image: text('image'),
  createdAt: integer('created_at', { mode: 'timestamp_ms' }).notNull(),
  updatedAt: integer('updated_at', { mode: 'timestamp_ms' }).notNull(),
  isBench: integer('is_bench', { mode: 'boolean' }).notNull().default(false),
});

export const sessions = sqliteTable(
  'sessions',
  {
    id: text('id').primaryKey(),
    token: text('token').notNull().unique(),
    userId: text('user_id')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    expiresAt: integer('expires_at', { mode: 'timestamp_ms' }).notNull(),
    createdAt: integer('created_at', { mode: 'timestamp_ms' }).notNull(),
    updatedAt: integer('updated_at', { mode: 'timestamp_ms' }).notNull(),
    ipAddress: text('ip_address'),
    userAgent: text('user_agent'),
    /** Who acts by it now: at a bench one after the other. */
    person: text('person'),
    /** When somebody last did something, in ms. */
    activeAt: integer('active_at').notNull().default(0),
    /** When whoever acts last typed digits or password for a signature that is not made yet, in ms. */
    confirmedAt: integer('confirmed_at').notNull().default(0),
  },
  (t) => [index('sessions_user').on(t.userId)],
);

export const credentials = sqliteTable(
  'credentials',
  {
    id: text('id').primaryKey(),
    accountId: text('account_id').notNull(),
    providerId: text('provider_id').notNull(),
    userId: text('user_id')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    accessToken: text('access_token'),
    refreshToken: text('refresh_token'),
    idToken: text('id_token'),
    accessTokenExpiresAt: integer('access_token_expires_at', { mode: 'timestamp_ms' }),
    refreshTokenExpiresAt: integer('refresh_token_expires_at', { mode: 'timestamp_ms' }),
    scope: text('scope'),
    /** Argon2id. */
    password: text('password'),
    createdAt: integer('created_at', { mode: 'timestamp_ms' }).notNull(),
    updatedAt: integer('updated_at', { mode: 'timestamp_ms' }).notNull(),
  },
  (t) => [index('credentials_user').on(t.userId)],
);

export const verifications = sqliteTable('verifications', {
  id: text('id').primaryKey(),
  identifier: text('identifier').notNull(),
  value: text('value').notNull(),
  expiresAt: integer('expires_at', { mode: 'timestamp_ms' }).notNull(),
  createdAt: integer('created_at', { mode: 'timestamp_ms' }).notNull(),
  updatedAt: integer('updated_at', { mode: 'timestamp_ms' }).notNull(),
});

/** What a person takes a bench over with, and how often it was tried in vain. */
export const keys = sqliteTable('keys', {
  person: text('person').primaryKey(),
  /** Argon2id of four to eight digits. */
  digits: text('digits'),
  digitTries: integer('digit_tries').notNull().default(0),
  /** SHA-256 of a code that is good once, handed over by an administrator, and until when, in ms. */
  code: text('code'),
  codeEndsAt: integer('code_ends_at').notNull().default(0),
});
