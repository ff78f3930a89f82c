import { certificateOf, withReview, type IssuedCertificate } from '../core/certificate/certificate';
import { runState } from '../core/acts/fold';
import type { RecordedEvent } from '../core/acts/registry';
import type { RunState } from '../core/state/run-state';
import { database, type Database } from '../store/database';
import { oldCertificate } from '../store/run-log';
import { certificateHead } from './register-service';
import { loadRun } from './run-service';
import { ServiceError } from './service-error';

/** What was issued and its digest: in the event that finished the run, or beside the log where it is of version 1; null before both. */
export async function issuedFor(
  db: Database,
  run: string,
  state: RunState,
): Promise<{ content: IssuedCertificate; digest: string } | null> {
  const issued = state.completed?.issued;
  if (issued) return { content: issued.content as unknown as IssuedCertificate, digest: issued.digest };
  return (await oldCertificate(db, run)) ?? null;
}

/** The certificate of a finished run, as `certificateFor` has it, where its log has been read already. */
export async function certificateOfRead(runId: string, state: RunState): Promise<IssuedCertificate> {
  if (!state.completed) throw new ServiceError(409, 'This run is not finished: its certificate is made when it is.');
  const issued = await issuedFor(await database(), runId, state);
  return withReview(issued?.content ?? certificateOf(state, await certificateHead()), state);
}

/**
 * The certificate of a run as it was issued, with the review that followed. Only a run finished before contents were kept is computed
 * anew from its log.
 * @param number of an issue that another replaced
 * @throws ServiceError when the run is not finished
 */
export async function certificateFor(runId: string, number?: string): Promise<IssuedCertificate> {
  const { events, state } = await loadRun(runId);
  if (number === undefined || number === state.completed?.certificate) return certificateOfRead(runId, state);
  const issue = replacedIssues(events).find((i) => i.number === number);
  if (!issue) throw new ServiceError(404, `This run has no certificate ${number} that was kept.`, ['number']);
  return { ...issue.content, ...(state.completed ? { replacedBy: state.completed.certificate } : {}) };
}

/** Issues of a certificate that another replaced or is to replace, oldest first: as they were issued, each with its own review. */
function replacedIssues(events: readonly RecordedEvent[]): { number: string; content: IssuedCertificate }[] {
  return events.flatMap(({ act }, at) => {
    if (act.type !== 'run-completed' || !act.issued) return [];
    const end = events.findIndex((e, i) => i > at && ['run-returned', 'correction-begun'].includes(e.act.type));
    if (end < 0) return [];
    const content = act.issued.content as unknown as IssuedCertificate;
    return [{ number: act.certificate, content: withReview(content, runState(events.slice(0, end))) }];
  });
}
