import { asc, eq } from 'drizzle-orm';
import type { Finding, FindingOutcome } from '../core/register/finding';
import { takesOutOfUse } from '../core/register/finding';
import { touch, writing, type Database } from './database';
import { changed, made, nextNumber, writeSealed } from './seals';
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
    const row = { sequence: await nextNumber(db, findings), instrumentId, ...finding };
    const state = takesOutOfUse(finding.outcome as FindingOutcome) ? [{ state: 'out-of-use' as const }] : [];
    await writeSealed(
      db,
      [
        db.insert(findings).values(row),
        ...state.map((set) => db.update(instruments).set(set).where(eq(instruments.id, instrumentId))),
      ],
      [made('findings', row), ...state.map((set) => changed('instruments', { id: instrumentId }, set))],
    );
  });
  touch(db, instrumentId);
}
