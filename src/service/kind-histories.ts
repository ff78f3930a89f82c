import { setImmediate } from 'node:timers/promises';
import type { Visit } from '../core/interval/visit';
import { dayIn } from '../core/quantity/day-in-zone';
import { visitOf } from '../core/run/run-pairs';
import { isAlone, touchedIn, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';

/** All instruments of a kind with their visits, as they stand; not to be changed by whoever reads them. */
export type KindHistory = {
  /** In the order of their names. */ members: readonly register.MemberRow[];
  visits: ReadonlyMap<string, readonly Visit[]>;
};

type Kept = {
  zone: string;
  /** How many of those touched have been read. */ upTo: number;
  members: Map<string, register.MemberRow>;
  visits: Map<string, readonly Visit[]>;
  told: KindHistory | null;
};

const keptIn = new WeakMap<Database, Map<string, Promise<Kept>>>();

/** As many are read before others have their turn. */
const atOnce = 40;

/** A visit without its values: enough for everything but drift. */
const bareVisit = (row: intervals.CalibrationRow, zone: string): Visit =>
  visitOf({ id: row.run, day: dayIn(row.finishedAt, zone), summary: row.summary }, { certificates: [], pairs: [] });

async function readVisits(db: Database, kept: Kept, ids: readonly string[]): Promise<void> {
  const found = new Map<string, Visit[]>(ids.map((id) => [id, []]));
  for (const row of await intervals.calibrationsOf(db, ids)) found.get(row.instrumentId)!.push(bareVisit(row, kept.zone));
  for (const [id, visits] of found) kept.visits.set(id, visits);
}

/** Everything of a kind, read in parts. */
async function readKind(db: Database, kind: string, zone: string): Promise<Kept> {
  const kept: Kept = { zone, upTo: touchedIn(db).length, members: new Map(), visits: new Map(), told: null };
  for (let after = ''; ;) {
    const part = await register.membersAfter(db, kind, after, atOnce);
    for (const member of part) kept.members.set(member.id, member);
    await readVisits(
      db,
      kept,
      part.map((m) => m.id),
    );
    if (part.length < atOnce) return kept;
    after = part.at(-1)!.id;
    await setImmediate();
  }
}

/** Reads again what was touched since it was read. */
async function refresh(db: Database, kind: string, kept: Kept): Promise<void> {
  const touched = touchedIn(db);
  if (touched.length === kept.upTo) return;
  const ids = [...new Set(touched.slice(kept.upTo))];
  const upTo = touched.length;
  for (const id of ids) {
    const member = await register.memberById(db, id);
    const isOfKind = member?.kind === kind;
    if (!isOfKind && !kept.members.has(id)) continue;
    kept.told = null;
    if (isOfKind) {
      kept.members.set(id, member);
      await readVisits(db, kept, [id]);
    } else {
      kept.members.delete(id);
      kept.visits.delete(id);
    }
  }
  kept.upTo = upTo;
}

/**
 * What is known of all instruments of a kind. Kept while this process alone writes, and only what changed is read again; the same thing
 * is returned as long as nothing did.
 */
export async function kindHistory(db: Database, kind: string, zone: string): Promise<KindHistory> {
  const all = keptIn.get(db) ?? new Map<string, Promise<Kept>>();
  keptIn.set(db, all);
  const anew = () => {
    const reading = readKind(db, kind, zone);
    all.set(kind, reading);
    // What failed is tried again by whoever asks next.
    reading.catch(() => all.delete(kind));
    return reading;
  };
  const known = await all.get(kind);
  const kept = known && known.zone === zone && isAlone(db) ? known : await anew();
  await refresh(db, kind, kept);
  kept.told ??= {
    members: [...kept.members.values()].sort((a, b) => (a.identification < b.identification ? -1 : 1)),
    visits: new Map(kept.visits),
  };
  return kept.told;
}
