import { asc, eq } from 'drizzle-orm';
import type { Database } from './database';
import { tokens } from './schema';
import { changed, made, writeSealed } from './seals';

export type TokenRow = typeof tokens.$inferSelect;

export const addToken = (db: Database, row: TokenRow): Promise<void> =>
  writeSealed(db, [db.insert(tokens).values(row)], [made('tokens', row)]);

export const tokenByDigest = async (db: Database, digest: string): Promise<TokenRow | undefined> =>
  (await db.select().from(tokens).where(eq(tokens.digest, digest)).limit(1))[0];

export const tokenById = async (db: Database, id: string): Promise<TokenRow | undefined> =>
  (await db.select().from(tokens).where(eq(tokens.id, id)).limit(1))[0];

export const allTokens = (db: Database): Promise<TokenRow[]> => db.select().from(tokens).orderBy(asc(tokens.madeAt)).limit(1000);

export const endToken = (db: Database, id: string, endedAt: string): Promise<void> =>
  writeSealed(db, [db.update(tokens).set({ endedAt }).where(eq(tokens.id, id))], [changed('tokens', { id }, { endedAt })]);
