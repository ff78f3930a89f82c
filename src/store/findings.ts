import { asc, eq } from 'drizzle-orm';
import type { Finding, FindingOutcome } from '../core/register/finding';
import { takesOutOfUse } from '../core/register/finding';
import { touch, writing, type Database } from './database';
import { findings, instruments } from './schema';

/** Findings of an instrument, oldest first. */
export const findingsOf = (db: Database, instrumentId: string): Promise<Finding[]> =>
  db
    .select({ day: findings.day, kind: findings.kind, text: findings.text, outcome: findings.outcome, person: findings.person })
    .from(findings)
    .where(eq(findings.instrumentId, instrumentId))
    .orderBy(asc(findings.day), asc(findings.sequence));

/** Adds a finding, and takes the instrument out of use where that follows from it: both, or neither. */
export async function appendFinding(db: Database, instrumentId: string, finding: Finding & { at: string }): Promise<void> {
  await writing(db, async () => {
    await db.insert(findings).values({ instrumentId, ...finding });
    if (takesOutOfUse(finding.outcome as FindingOutcome))
      await db.update(instruments).set({ state: 'out-of-use' }).where(eq(instruments.id, instrumentId));
  });
  touch(db, instrumentId);
}
