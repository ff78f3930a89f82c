import { readFileSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { makeToken } from '../src/service/token-service';
import { checkpoint, migrateDatabase, openDatabase } from '../src/store/database';
import { savePerson } from '../src/store/register';

const people = ['Maud Ellery', 'Tobias Wrenfield', 'Ines Calderstone'];
const beside = (file: string) => `${file}.tokens.json`;

/** Makes a token of each of three people in a database that nobody serves, with every role, so that tests need not sign in. */
export async function makeTokens(file: string): Promise<void> {
  const db = await openDatabase({ DATABASE_URL: `file:${file}` });
  await migrateDatabase(db);
  const tokens: Record<string, string> = {};
  for (const person of people) {
    await savePerson(db, { id: randomUUID(), name: person });
    const roles = ['technician', 'reviewer', 'approver', 'administrator'] as const;
    tokens[person] = (await makeToken(db, { person, roles: [...roles], days: 1 }, new Date().toISOString())).token;
  }
  await checkpoint(db);
  db.$client.close();
  writeFileSync(beside(file), JSON.stringify(tokens));
}

/** What a request by one of them carries, where tokens were made in a file, or in the one it was copied from. */
export const asPerson = (file: string, person: string): { authorization: string } => {
  const token = (JSON.parse(readFileSync(beside(file), 'utf8')) as Record<string, string>)[person];
  if (!token) throw new Error(`${person} has no token in ${file}.`);
  return { authorization: `Bearer ${token}` };
};
