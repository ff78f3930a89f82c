import Papa from 'papaparse';
import { endpoints } from '../../contract/endpoints';
import { deedWords } from '../../core/acts/deeds';
import { addDeed, findActs, findDeeds, type DeedQuery, type DeedRow } from '../../store/deeds';
import { database } from '../../store/database';
import { log } from '../log';
import type { Who } from '../token-service';

/** What tells a thing that was sent, from its members that name it. */
function nameIn(body: unknown): string {
  if (typeof body !== 'object' || body === null) return '';
  const { identification, name, title, id, subject } = body as Record<string, unknown>;
  return String([identification, name, title, subject, id].find((v) => typeof v === 'string' && v !== '') ?? '').slice(0, 120);
}

/** Notes who asked an endpoint that changed something, and what it was. What was done stays done where that cannot be written: the log says so. */
export async function noteDeed(endpoint: string, subject: string, body: unknown, who: Who): Promise<void> {
  const deed = {
    at: new Date().toISOString(),
    person: who.person,
    what: endpoint,
    subject,
    detail: nameIn(body),
    by: who.token ? `token ${who.token}` : (who.bench ?? ''),
  };
  await addDeed(await database(), deed).catch((error: unknown) => log.error({ err: error, deed }, 'a deed could not be noted'));
}

/** Something that somebody did, as a list shows it. */
export type DeedLine = { at: string; person: string; what: string; about: string; href: string | null; by: string };

const wordsOf = new Map<string, string>(Object.entries(endpoints).map(([name, e]) => [name, e.what]));
/** What is noted beside endpoints. */
const otherWords: Readonly<Record<string, string>> = {
  'sign in': 'Signed in',
  'take over': 'Took a bench over',
  'new password': 'Took a new password',
  'first administrator': 'Became the first administrator',
};
const what = (deed: DeedRow): string =>
  (otherWords[deed.what] ?? wordsOf.get(deed.what) ?? deed.what) + (deed.detail === 'in vain' ? ', in vain' : '');

/** Who did what, the latest first: of runs what their records sign, and everything that was changed beside them. @param limit lines */
export async function deedLines(query: DeedQuery, limit: number): Promise<DeedLine[]> {
  const db = await database();
  const type = Object.keys(deedWords);
  const next = query.to && new Date(Date.parse(`${query.to}T00:00:00Z`) + 86_400_000).toISOString();
  const asked = Object.fromEntries(Object.entries({ ...query, to: next }).filter(([, v]) => v)) as DeedQuery;
  const [deeds, acts] = await Promise.all([
    findDeeds(db, asked, limit),
    findActs(db, { types: type, ...(asked as Record<string, string>) }, limit),
  ]);
  return [
    ...deeds.map((d) => ({
      at: d.at,
      person: d.person ?? 'a name that is not known',
      what: what(d),
      about: d.detail === 'in vain' ? '' : d.detail,
      href: null,
      by: d.by,
    })),
    ...acts.map((a) => ({
      at: a.at,
      person: a.person,
      what: `${deedWords[a.type as keyof typeof deedWords] ?? a.type}`.replace(/^./, (c) => c.toUpperCase()),
      about: a.certificate ? `${a.identification}, ${a.certificate}` : a.identification,
      href: `/runs/${a.run}`,
      by: a.token ? `token ${a.token}` : '',
    })),
  ]
    .sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0))
    .slice(0, limit);
}

/** The same as a table; what would be a formula is text. */
export const deedTable = async (query: DeedQuery): Promise<string> =>
  Papa.unparse(
    (await deedLines(query, 50_000)).map(({ at, person, what: deed, about, by }) => ({ at, person, deed, about, by })),
    { escapeFormulae: true },
  );
