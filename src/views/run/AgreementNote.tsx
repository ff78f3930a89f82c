import { agreementAt } from '../../core/run/agreement';
import { placeTitle } from '../../core/run/place-words';
import { slotKey } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';

/** Whether the repeats taken last agree, by a stated rule: at this point, or at the one just left. */
export function AgreementNote({ state, slot }: { state: RunState; slot: Slot }) {
  const latest = state.readings.findLast((r) => r.struck === null && state.live.has(slotKey(r.slot)));
  if (!latest || latest.slot.set !== slot.set || latest.slot.series !== slot.series) return null;
  const said = agreementAt(state, latest.slot);
  if (!said) return null;
  const isHere = latest.slot.point === slot.point && (latest.slot.sweep ?? null) === (slot.sweep ?? null);
  // That those behind agree is no news.
  if (!isHere && said.state === 'agree') return null;
  const where = isHere ? '' : `${placeTitle(state, latest.slot)}: `;
  return (
    <p className={said.state === 'agree' ? 'text-sm' : 'caution text-sm'} role="status">
      {where}
      {said.words}
    </p>
  );
}
