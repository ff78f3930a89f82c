import { and, desc, eq } from 'drizzle-orm';
import type { CardLine, ModelCard } from '../core/register/model-card';
import { writing, type Database } from './database';
import { made, writeSealed } from './seals';
import { modelCards } from './schema';

/** The card of a make and type as it holds now; undefined where there is none. */
export const cardOf = async (db: Database, kind: string, model: string): Promise<ModelCard | undefined> =>
  (
    await db
      .select()
      .from(modelCards)
      .where(and(eq(modelCards.kind, kind), eq(modelCards.model, model)))
      .orderBy(desc(modelCards.version))
      .limit(1)
  )[0];

/** Adds the next version of a card. @returns its number */
export const appendCard = (
  db: Database,
  card: { kind: string; model: string; lines: CardLine[]; at: string; person: string },
): Promise<number> =>
  writing(db, async () => {
    const version = ((await cardOf(db, card.kind, card.model))?.version ?? 0) + 1;
    const row = { ...card, version };
    await writeSealed(db, [db.insert(modelCards).values(row)], [made('modelCards', row)]);
    return version;
  });
