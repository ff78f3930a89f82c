import { dayIn } from '../../../../core/quantity/day-in-zone';
import { gainsOfAdjusting } from '../../../../service/interval-service';
import { loadRun } from '../../../../service/run-service';
import { notAllowed, served } from '../../_endpoint';

/** What each adjustment would gain, of a run as far as it is recorded here. */
export const GET = served('GET /api/runs/[id]/gains', async ({ id, query: { set } }) => {
  const { state } = await loadRun(id);
  const gains = await gainsOfAdjusting(state, set, dayIn(new Date().toISOString(), state.timeZone));
  return { sequence: state.sequence, gains };
});
export const ALL = notAllowed;
