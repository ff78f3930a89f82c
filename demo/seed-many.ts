import { addDays, format, parseISO } from 'date-fns';
import type { Database } from '../src/store/database';
import { standingsAnew } from '../src/store/standings';
import { digestOfStored } from '../src/store/log-seals';
import { certificateDigest, lastCertificateNumber } from '../src/store/run-log';
import { sealBareRows } from '../src/service/seal-service';

/** How much a large laboratory has: for every instrument some calibrations, for one in five so many quick checks. */
const [fewest, most, quickChecks, oneIn] = [3, 4, 25, 5];

type Row = Record<string, string | number | null>;

/** What differs between an instrument of the demo and another like it. */
type Named = { id: string; identification: string; daysEarlier: number; certificates: ReadonlyMap<string, string> };

/** A text cut where something is named that another instrument has otherwise. */
class Template {
  private readonly parts: string[];
  constructor(text: string, names: readonly string[]) {
    const told = [...names.map((n) => `\\b${n}\\b(?![-\\w])`), '\\b20\\d\\d-\\d\\d-\\d\\d(?=T|"|\\b)'];
    this.parts = text.split(new RegExp(`(${told.join('|')})`));
  }
  as({ id, identification, daysEarlier, certificates }: Named, own: { id: string; identification: string }): string {
    return this.parts
      .map((part, i) => {
        if (i % 2 === 0) return part;
        if (part === own.id) return id;
        if (part === own.identification) return identification;
        return certificates.get(part) ?? earlier(part, daysEarlier);
      })
      .join('');
  }
}

const days = new Map<string, string>();
function earlier(day: string, by: number): string {
  const key = `${day} ${by}`;
  const known = days.get(key);
  if (known) return known;
  const made = format(addDays(parseISO(day), -by), 'yyyy-MM-dd');
  days.set(key, made);
  return made;
}

/** Rows as text that may name things, and as they are. */
const cut = (row: Row, names: readonly string[]) =>
  Object.entries(row).map(([column, value]) => [column, typeof value === 'string' ? new Template(value, names) : value] as const);
type Cut = ReturnType<typeof cut>;

const filled = (row: Cut, named: Named, own: Named): Row =>
  Object.fromEntries(row.map(([column, value]) => [column, value instanceof Template ? value.as(named, own) : value]));

type Model = { own: Named; instrument: Cut; runs: { run: Cut; certificate: string | null; events: Cut[]; standards: Cut[] }[] };

/** An instrument of the demo with its latest finished runs. */
async function modelOf(db: Database, id: string, isChecked: boolean): Promise<Model> {
  const all = async (sql: string, args: (string | number)[]): Promise<Row[]> =>
    (await db.$client.execute({ sql, args })).rows.map((r) => ({ ...r }) as unknown as Row);
  const latest = (purpose: string, most: number) =>
    all(`SELECT * FROM runs WHERE instrument_id = ? AND purpose = ? AND status = 'finished' ORDER BY started_at DESC LIMIT ?`, [
      id,
      purpose,
      most,
    ]);
  const [instrument] = await all('SELECT * FROM instruments WHERE id = ?', [id]);
  const rows = [...(await latest('calibration', most)), ...(isChecked ? await latest('quick', quickChecks) : [])];
  const numbers = rows.flatMap((r) => (r.certificate === null ? [] : [String(r.certificate)]));
  const own: Named = { id, identification: String(instrument!.identification), daysEarlier: 0, certificates: new Map() };
  const names = [id, own.identification, ...numbers];
  const runs = [];
  for (const row of rows) {
    const events = await all('SELECT * FROM events WHERE run_id = ? ORDER BY sequence', [String(row.id)]);
    const standards = await all('SELECT * FROM run_standards WHERE run_id = ?', [String(row.id)]);
    runs.push({
      run: cut(row, names),
      certificate: row.certificate === null ? null : String(row.certificate),
      events: events.map((e) => cut(e, names)),
      standards: standards.map((s) => cut(s, [])),
    });
  }
  return { own, instrument: cut(instrument!, names), runs };
}

/** Writes rows of one table, many in one statement. */
function inserts(table: string, rows: readonly Row[], most = 60): { sql: string; args: (string | number | null)[] }[] {
  const columns = Object.keys(rows[0] ?? {});
  return Array.from({ length: Math.ceil(rows.length / most) }, (_, i) => {
    const part = rows.slice(most * i, most * (i + 1));
    const places = part.map(() => `(${columns.map(() => '?').join(',')})`).join(',');
    return {
      sql: `INSERT INTO ${table} (${columns.join(',')}) VALUES ${places}`,
      args: part.flatMap((row) => columns.map((c) => row[c] ?? null)),
    };
  });
}

const uuid = (n: number): string => `00000000-0000-4000-9000-${String(n).padStart(12, '0')}`;

/** The entries of a run with the digests that they have as they stand. */
function sealed(events: Row[]): Row[] {
  return events.map((event, i) => {
    const act = JSON.parse(String(event.act)) as { type: string; issued?: { content: unknown; digest: string; log?: string } };
    if (act.type !== 'run-completed' || !act.issued) return event;
    const { content } = act.issued;
    const before = events.slice(0, i);
    const issued = { content, digest: certificateDigest(content), ...(act.issued.log ? { log: digestOfStored(before) } : {}) };
    return { ...event, act: JSON.stringify({ ...act, issued }) };
  });
}

/**
 * Adds instruments like those of the demo until there are so many, each with its calibrations, one in five with quick checks: whole
 * logs with certificates as they would have been issued. The demo must be there.
 * @param wanted how many instruments there are to be @param onDone told how many there are
 */
export async function seedMany(db: Database, wanted: number, onDone: (there: number) => void = () => {}): Promise<void> {
  const idsOf = async (sql: string): Promise<string[]> => (await db.$client.execute(sql)).rows.map((r) => String(r[0]));
  const having = (purpose: string, least: number) => `
    SELECT i.id FROM instruments i JOIN runs r ON r.instrument_id = i.id
    WHERE r.purpose = '${purpose}' AND r.status = 'finished' AND i.state = 'in-use' AND i.id NOT IN (SELECT instrument_id FROM runs WHERE set_up IS NOT NULL)
    GROUP BY i.id HAVING count(*) >= ${least} ORDER BY i.id`;
  const calibrated = await idsOf(having('calibration', fewest));
  const checked = await idsOf(having('quick', quickChecks - 1));
  if (!calibrated.length || !checked.length) throw new Error('The demo must be made before more like it is.');
  const models = new Map<string, Model>();
  const modelFor = async (id: string, isChecked: boolean): Promise<Model> => {
    const known = models.get(id);
    if (known) return known;
    const made = await modelOf(db, id, isChecked);
    models.set(id, made);
    return made;
  };
  const there = Number((await db.$client.execute('SELECT count(*) FROM instruments')).rows[0]![0]);
  const numbers = new Map<string, number>();
  let run = 0;
  for (let n = there; n < wanted; n++) {
    const isChecked = n % oneIn === 0;
    const ids = isChecked ? checked : calibrated;
    const model = await modelFor(ids[Math.floor(n / oneIn) % ids.length]!, isChecked);
    const daysEarlier = n % 28;
    const certificates = new Map<string, string>();
    for (const old of model.runs.flatMap((r) => r.certificate ?? [])) {
      const prefix = old.slice(0, old.indexOf('-') + 1);
      if (!numbers.has(prefix)) numbers.set(prefix, await lastCertificateNumber(db, prefix));
      numbers.set(prefix, numbers.get(prefix)! + 1);
      certificates.set(old, `${prefix}${String(numbers.get(prefix)).padStart(4, '0')}`);
    }
    const named: Named = {
      id: `${model.own.id}-${n}`,
      identification: `${model.own.identification}-${n}`,
      daysEarlier,
      certificates,
    };
    const statements = inserts('instruments', [filled(model.instrument, named, model.own)]);
    for (const { run: row, events, standards } of model.runs) {
      const id = uuid(++run);
      const entries = events.map((e): Row => ({
        ...filled(e, named, model.own),
        run_id: id,
        seal: null,
        idempotency_key: `${id}:${String(new Map(e).get('sequence'))}`,
      }));
      statements.push(
        ...inserts('runs', [{ ...filled(row, named, model.own), id }]),
        ...inserts(
          'run_standards',
          standards.map((s) => ({ ...filled(s, named, model.own), run_id: id })),
        ),
        ...inserts('events', sealed(entries)),
      );
    }
    await db.$client.batch(statements, 'write');
    onDone(n + 1);
  }
  await standingsAnew(db);
  await sealBareRows(db);
}
