// npm run -s token -- create --person "Name" --roles technician,reviewer --days 30 · token -- list · token -- end <id>
import { parseArgs } from 'node:util';
import { rolesSchema } from '../core/register/roles';
import { personEntrySchema } from '../core/register/entry-schemas';
import { endToken, makeToken, tokenState } from '../service/token-service';
import { readConfiguration } from '../store/configuration';
import { database, databaseFile, migrateDatabase } from '../store/database';
import { checkDatabaseFile } from '../store/check';
import { allTokens } from '../store/tokens';

const most = 3650;
const usage =
  'npm run -s token -- create --person "Name" --roles technician,reviewer --days 30, or: token -- list, or: token -- end <id>';

async function token(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { person: { type: 'string' }, roles: { type: 'string' }, days: { type: 'string', default: '30' } },
  });
  const [what, id] = positionals;
  if (!['create', 'list', 'end'].includes(what ?? '')) throw new Error(`Say what to do: ${usage}`);
  const file = databaseFile(readConfiguration(process.env).DATABASE_URL);
  if (file) await checkDatabaseFile(file);
  const db = await database();
  await migrateDatabase(db);
  const now = new Date().toISOString();
  try {
    if (what === 'create') {
      const days = Number(values.days);
      if (!Number.isInteger(days) || days < 1 || days > most)
        throw new Error(`--days takes a whole number from 1 to ${most}: it says ${values.days}.`);
      const said = (result: { success: boolean; error?: { issues: { message: string }[] } | undefined }) =>
        new Error(result.error?.issues[0]?.message ?? usage);
      const person = personEntrySchema.safeParse({ name: values.person ?? '' });
      if (!person.success) throw said(person);
      const roles = rolesSchema.safeParse((values.roles ?? '').split(',').filter(Boolean));
      if (!roles.success) throw said(roles);
      console.log((await makeToken(db, { person: person.data.name, roles: roles.data, days }, now)).token);
    } else if (what === 'list')
      for (const row of await allTokens(db))
        console.log(
          [row.id, row.person, row.roles.join(','), row.madeAt.slice(0, 10), row.endsAt.slice(0, 10), tokenState(row, now)].join(
            '\t',
          ),
        );
    else if (!id) throw new Error('Name the token: npm run -s token -- end <id>');
    else {
      await endToken(db, id, now);
      console.log(`Ended ${id}.`);
    }
  } finally {
    db.$client.close();
  }
}

token(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
