import { expect, it } from 'vitest';
import type { Database } from '../store/database';
import * as schema from '../store/schema';
import { heldAgainstTheDoor } from './fixtures/held-against-the-door';
import { ownCopy } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));

it('every run of the demo gives at the door what the screen shows', { timeout: 300_000 }, async () => {
  const all = await db.select({ id: schema.runs.id }).from(schema.runs);
  expect(await heldAgainstTheDoor(all.map((r) => r.id))).toBeGreaterThan(300);
});
