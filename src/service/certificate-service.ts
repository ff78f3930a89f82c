import { certificateOf, withReview, type Certificate } from '../core/certificate/certificate';
import { database } from '../store/database';
import { issuedCertificate } from '../store/run-log';
import { certificateHead } from './register-service';
import { loadRun } from './run-service';
import { ServiceError } from './service-error';

/**
 * The certificate of a run as it was issued, with the review that followed. Only a run finished before contents were kept is computed
 * anew from its log.
 * @throws ServiceError when the run is not finished
 */
export async function certificateFor(runId: string): Promise<Certificate> {
  const { state } = await loadRun(runId);
  if (!state.completed) throw new ServiceError(409, 'This run is not finished: its certificate is made when it is.');
  const issued = await issuedCertificate(await database(), runId);
  return withReview(issued?.content ?? certificateOf(state, await certificateHead()), state);
}
