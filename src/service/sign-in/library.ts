import { randomBytes, randomUUID } from 'node:crypto';
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { hash, verify } from '@node-rs/argon2';
import { betterAuth } from 'better-auth';
import { drizzleAdapter } from 'better-auth/adapters/drizzle';
import { readConfiguration } from '../../store/configuration';
import { databaseFile, type Database } from '../../store/database';
import { accounts, credentials, sessions, verifications } from '../../store/schema';

/*
 * The library of sign-in: it makes, reads and ends sessions and holds the cookie. Who may act by a session, digits and codes are ours.
 */

/** Argon2id with 19 MiB, two passes, one lane (OWASP, Password Storage). */
const cost = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
export const hashSecret = (secret: string): Promise<string> => hash(secret.normalize('NFKC'), cost);
export const isSecret = (stored: string, secret: string): Promise<boolean> => verify(stored, secret.normalize('NFKC'));

/** What a secret is held against where there is none, so that a name that is not known takes as long as one that is. */
let nothing: Promise<string> | undefined;
export const isSecretOrNone = async (stored: string | null, secret: string): Promise<boolean> => {
  const held = stored ?? (await (nothing ??= hashSecret(randomBytes(16).toString('hex'))));
  return (await isSecret(held, secret)) && stored !== null;
};

/** There is no mail: what stands in its place for the library. */
export const mailOf = (id: string): string => `${id}@people.invalid`;

/** How long a device stays signed in without being used, in seconds. */
const staysFor = 30 * 24 * 60 * 60;

/** The key by which cookies are signed: from the environment, or made once and kept beside the database, readable by its owner alone. */
function signingKey(): string {
  const { SIGN_IN_KEY, DATABASE_URL } = readConfiguration(process.env);
  if (SIGN_IN_KEY) return SIGN_IN_KEY;
  const file = databaseFile(DATABASE_URL);
  if (!file) throw new Error('SIGN_IN_KEY is missing: beside a remote database it is given, 32 characters or more by chance.');
  const path = `${file}.key`;
  if (!existsSync(path)) {
    writeFileSync(path, randomBytes(32).toString('base64url'), { mode: 0o600, flag: 'wx' });
    chmodSync(path, 0o600);
  }
  return readFileSync(path, 'utf8').trim();
}

/** Whose address it was, as the front door saw it. */
export const addressHeader = 'x-client-address';

const make = (db: Database) =>
  betterAuth({
    baseURL: 'http://localhost',
    secret: signingKey(),
    database: drizzleAdapter(db, {
      provider: 'sqlite',
      schema: { user: accounts, session: sessions, account: credentials, verification: verifications },
    }),
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: 1,
      maxPasswordLength: 128,
      password: { hash: hashSecret, verify: ({ hash: stored, password }) => isSecret(stored, password) },
    },
    session: { expiresIn: staysFor, updateAge: 24 * 60 * 60 },
    advanced: {
      cookiePrefix: 'just-twice',
      useSecureCookies: readConfiguration(process.env).HTTPS === '1',
      defaultCookieAttributes: { httpOnly: true, sameSite: 'lax', path: '/' },
      ipAddress: { ipAddressHeaders: [addressHeader] },
      database: { generateId: () => randomUUID() },
    },
    telemetry: { enabled: false },
    rateLimit: { enabled: false },
    logger: { level: 'error' },
  });

type Library = ReturnType<typeof make>;
const made = new WeakMap<Database, Library>();

export function signInLibrary(db: Database): Library {
  const known = made.get(db) ?? make(db);
  made.set(db, known);
  return known;
}
