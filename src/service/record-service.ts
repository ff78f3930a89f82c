import type { RecordedEvent } from '../core/acts/registry';
import { runState } from '../core/acts/fold';
import { certificateOf } from '../core/certificate/certificate';
import { sameResults } from '../core/certificate/same-results';
import { readLog } from '../core/log/read-log';
import { checkRecordText, recordText, type ExportedRecord } from '../core/seal/record';
import { partOf } from '../core/seal/seal';
import { isQuickCheck } from '../core/state/run-state';
import { database, type Database } from '../store/database';
import * as logSeals from '../store/log-seals';
import * as log from '../store/run-log';
import { headOfChain, linesOfRun, partsOfStored, sha256 } from '../store/seals';
import { finishedWith } from './run-service';
import { ServiceError } from './service-error';

/** The record of a run as the text of a file that can be checked with nothing but itself. @throws ServiceError 404 */
export const exportRecord = async (id: string): Promise<string> => recordOf(await database(), id);

/** The same of a database that is at hand. */
export async function recordOf(db: Database, id: string): Promise<string> {
  const row = await log.runById(db, id);
  if (!row) throw new ServiceError(404, 'There is no run with this id. Open it from its instrument.');
  const { summary: _summary, pairs: _pairs, ...run } = row;
  return recordText(
    {
      format: 'just-twice-record',
      version: 2,
      run,
      standards: (await log.standardsOfRuns(db, [id])).get(id) ?? [],
      entries: (await logSeals.sealedEntries(db, id)).map(
        ({ sequence, at, person, act, clock, done, idempotencyKey, token, seal }) => ({
          sequence,
          at,
          person,
          act: act as { type: string },
          clock: clock ?? null,
          done: done ?? null,
          idempotencyKey,
          token: token ?? null,
          seal,
        }),
      ),
      lines: await linesOfRun(db, id),
      head: await headOfChain(db),
    },
    sha256,
  );
}

/** The log in a record, in the present shape. */
export const eventsIn = ({ entries }: ExportedRecord): RecordedEvent[] =>
  readLog(
    entries.map(({ clock, done, act, token: _token, ...e }) => ({
      ...e,
      act,
      ...(clock ? { clock } : {}),
      ...(done ? { done } : {}),
    })) as Parameters<typeof readLog>[0],
  );

/**
 * Checks an exported record with nothing but its text: against its seals, and what was issued against its log.
 * @returns what was found, in sentences; nothing where it is as it was
 */
export function checkRecord(text: string): { faults: string[]; words: string } {
  const { faults, record } = checkRecordText(text, sha256);
  if (!record) return { faults, words: 'No record.' };
  const { run, entries, lines, standards } = record;
  const words = `${entries.length} entries of the run ${run.id}`;
  const parts = Object.assign({}, ...lines.map((l) => l.parts)) as Record<string, string>;
  for (const [column, part] of Object.entries(partsOfStored('runs', run)))
    if (parts[column] !== undefined && parts[column] !== part)
      faults.push(`run, ${run.id}, ${column}: it is not what was written.`);
  if (logSeals.standardsPart(standards) !== parts['standards'])
    faults.push(`standards, ${run.id}: these are not the standards that were recorded.`);
  try {
    const events = eventsIn(record);
    const state = runState(events);
    const last = events.findLast((e) => e.act.type === 'run-completed');
    const issued = state.completed?.issued;
    if (last && issued && !isQuickCheck(state)) {
      const content = issued.content as unknown as Parameters<typeof sameResults>[1];
      if (!sameResults(certificateOf(state, content.laboratory), content))
        faults.push(`entries, ${last.sequence}, act: the log gives other results than the certificate that was issued.`);
      if (parts['finished'] !== undefined && parts['finished'] !== partOf(finishedWith(state, last), sha256))
        faults.push(`run, ${run.id}, finished: procedure, standards or certificate are not those that it was sealed with.`);
    }
  } catch (error) {
    faults.push(`entries: the log cannot be read (${error instanceof Error ? error.message : 'unknown'}).`);
  }
  return { faults, words };
}
