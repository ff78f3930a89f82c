import * as z from 'zod';
import { everyKind } from '../../core/register/competence';
import type { Role } from '../../core/register/roles';
import * as store from '../../store/access';
import { database, type Database } from '../../store/database';
import { listPeople, readFact, saveFact } from '../../store/register';
import { hashSecret, mailOf } from './library';

/** A made-up person of the demo. */
export type DemoPerson = { name: string; roles: Role[]; digits: string; /** In a few words. */ does: string; owner?: string };

const saidSchema = z.object({
  password: z.string(),
  people: z.array(z.object({ name: z.string(), digits: z.string(), does: z.string() })),
});
const factOfDemo = 'demo-people';

export const isDemo = async (db: Database): Promise<boolean> => (await readFact(db, 'demo')) === 'whole';

/** Lets the made-up people of the demo in, with digits and a password that its first page shows. */
export async function letIn(db: Database, people: readonly DemoPerson[], password: string, at: string): Promise<void> {
  const known = await listPeople(db);
  const hash = await hashSecret(password);
  for (const { name, roles: may, digits, owner } of people) {
    const person = known.find((p) => p.name === name);
    if (!person) throw new Error(`${name} is nobody of the demo.`);
    await store.saveAccount(db, { id: person.id, name, email: mailOf(person.id), isBench: false, password: hash }, new Date(at));
    await store.saveKeys(db, person.id, { digits: await hashSecret(digits) });
    await store.changePerson(db, person.id, { roles: may, owner: owner ?? null });
  }
  await store.addCompetences(
    db,
    people.flatMap(({ name, roles: may }, i) =>
      (['run', 'review', 'approve'] as const)
        .filter((one) => may.includes(({ run: 'technician', review: 'reviewer', approve: 'approver' } as const)[one]))
        .map((one) => ({
          id: `competence-${i + 1}-${one}`,
          person: name,
          kind: everyKind,
          may: one,
          from: `${Number(at.slice(0, 4)) - 4}-01-01`,
          until: null,
          ground: 'Seen at work, and by comparisons between laboratories',
          notedBy: people.at(-1)!.name,
          notedAt: at,
        })),
    ),
  );
  await saveFact(
    db,
    factOfDemo,
    JSON.stringify({ password, people: people.map(({ name, digits, does }) => ({ name, digits, does })) }),
  );
}

/** What the first page of the demo shows; null in any other laboratory. */
export async function demoPeople(): Promise<z.output<typeof saidSchema> | null> {
  const db = await database();
  const said = (await isDemo(db)) ? await readFact(db, factOfDemo) : null;
  return said === null ? null : saidSchema.parse(JSON.parse(said));
}
