import type { PlanItem } from './plan-schema';
import type { ProcedureDocument, StepDocument } from '../procedure/document-schema';

type Observation = ProcedureDocument['series'][number]['observe'][number];

/** A step is done once for all, unless it is about one instrument: what that is, or what is measured on it. */
const isStepShared = (step: StepDocument, procedure: ProcedureDocument): boolean => {
  if (step.shared !== undefined) return step.shared;
  switch (step.kind) {
    case 'confirm':
    case 'do':
    case 'wait':
      return true;
    case 'identify':
      return procedure.standards.some((r) => r.role === step.what);
    default:
      return false;
  }
};

/**
 * What a standard shows is read once for all, unless the document says that it is read for each.
 * @example isObservationShared({ of: 'instrument' }) // false
 */
export const isObservationShared = (o: Observation): boolean => o.shared ?? o.of !== 'instrument';

/**
 * Whether something in the plan is done once for all the instruments of a set-up: waits, questions about the set-up, conditions and
 * readings of the reference are; who an instrument is, what it shows, its judgement and its adjustment are not.
 * @example the reference of a bath is read once for all thermometers in it
 */
export function isShared(procedure: ProcedureDocument, item: PlanItem): boolean {
  switch (item.type) {
    case 'condition':
    case 'open':
    case 'begin':
      return true;
    case 'reading': {
      const o = procedure.series.find((s) => s.id === item.series)?.observe.find((x) => x.id === item.id);
      return o !== undefined && isObservationShared(o);
    }
    case 'step': {
      if (item.of !== undefined) return false;
      const steps = item.series === undefined ? procedure.steps : procedure.series.find((s) => s.id === item.series)?.steps;
      const step = steps?.find((s) => s.id === item.id);
      return step !== undefined && isStepShared(step, procedure);
    }
    default:
      return false;
  }
}
