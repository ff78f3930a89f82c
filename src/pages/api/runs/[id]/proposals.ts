import { dayIn } from '../../../../core/quantity/day-in-zone';
import { proposalsAtFinish } from '../../../../service/interval-service';
import { loadRun } from '../../../../service/run-service';
import { notAllowed, served } from '../../_endpoint';

/** What every school proposes for a run as far as it is recorded here. */
export const GET = served('GET /api/runs/[id]/proposals', async ({ id }) => {
  const { state } = await loadRun(id);
  const proposals = await proposalsAtFinish(state, dayIn(new Date().toISOString(), state.timeZone));
  return { sequence: state.sequence, ...proposals };
});
export const ALL = notAllowed;
