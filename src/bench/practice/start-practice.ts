import type { RecordedEvent } from '../../core/acts/registry';
import type { ProcedureDocument } from '../../core/procedure/document-schema';
import type { InstrumentSnapshot } from '../../core/plan/snapshots';
import { startAct } from '../../core/run/start-run';
import { dayIn } from '../../core/quantity/day-in-zone';
import { hiddenBenches } from '../works/hidden-benches';
import { instrumentRow, standardsOn } from '../works/register-rows';

/** The first entry of a practice run: a made-up instrument and made-up standards, whose certificates hold on that day. */
export function practiceStart(procedure: ProcedureDocument, person: string, at: string): RecordedEvent {
  const { instrument: demo } = hiddenBenches.get(procedure.id)!;
  const { state: _state, nextDue: _nextDue, use: _use, ...row } = instrumentRow(demo);
  const today = dayIn(at, 'UTC');
  const instrument: InstrumentSnapshot = row;
  const standards = standardsOn(demo, today, today);
  const act = startAct({ instrument, standards, procedure, choices: demo.choices, timeZone: 'UTC' }, today, 'calibration');
  return { sequence: 1, at, person, act };
}
