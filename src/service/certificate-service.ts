import { certificateOf, type Certificate } from '../core/certificate/certificate';
import { getLaboratory } from './register-service';
import { loadRun } from './run-service';
import { ServiceError } from './service-error';

/** @throws ServiceError when the run is not finished */
export async function certificateFor(runId: string): Promise<Certificate> {
  const { state } = await loadRun(runId);
  if (!state.completed) throw new ServiceError(409, 'This run is not finished: its certificate is made when it is.');
  const { name, address } = await getLaboratory();
  return certificateOf(state, { name: name || 'Laboratory not named yet', address });
}
