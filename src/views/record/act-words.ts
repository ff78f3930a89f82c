import type { Act, ClockMark, Place } from '../../core/log/event-schema';
import { instanceTitle, placeTitle, seriesOf, setTitle } from '../../core/run/place-words';
import { stepOf } from '../../core/run/next-step';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import { schoolTitles } from '../../core/interval/proposal';
import { isQuickCheck, type RunState } from '../../core/run/run-state';
import { withPrintedUnit } from '../../core/run/shown-value';
import { stepSaid } from '../../core/steps/registry';
import { unitIn } from '../../core/steps/step-context';

const set = (id: string): string => setTitle(id).toLowerCase();
const joined = (...words: (string | undefined | false)[]): string => words.filter(Boolean).join(', ');

/** One entry of the log as a sentence. */
export function actWords(act: Act, state: RunState): string {
  const { procedure } = state;
  const where = (p: Place) => placeTitle(state, p) || seriesOf(state, p.series)?.title || '';
  const stepTitle = (p: Place & { id: string }) => {
    const item = state.plan.find((i) => i.type === 'step' && i.id === p.id && i.set === p.set && i.series === p.series);
    return (item?.type === 'step' && stepOf(state, item)) || undefined;
  };
  switch (act.type) {
    case 'run-started': {
      const used = Object.values(act.standards).flatMap((list) => list.map((s) => s.document.identification));
      return `Put on the bench with ${used.join(', ') || 'no standard'}; ${act.procedure.id} revision ${act.procedure.revision}${
        act.setUp ? `; number ${act.setUp.place} of ${act.setUp.of} in one set-up` : ''
      }`;
    }
    case 'step-done': {
      const step = stepTitle(act);
      const record = { value: act.value, text: act.text ?? null, reason: act.reason ?? null };
      return joined(
        placeTitle(state, act),
        `${step?.title ?? act.id}: ${step ? stepSaid(step, record as never) : String(act.value)}`,
      );
    }
    case 'wait-begun':
      return joined(placeTitle(state, act), `${stepTitle(act)?.title ?? act.id} begun`);
    case 'watched':
      return `${stepTitle(act)?.title ?? act.id}: ${act.text} seen`;
    case 'wait-ended':
      return joined(
        placeTitle(state, act),
        `${stepTitle(act)?.title ?? act.id} ended${act.reason ? ` early: ${act.reason}` : ''}`,
      );
    case 'conditions-recorded': {
      const values = Object.entries(act.values).map(([id, text]) => {
        const doc = procedure.conditions.find((c) => c.id === id);
        return `${doc?.title ?? id} ${withPrintedUnit(text, doc ? unitIn(state, doc.unit, act) : '')}`;
      });
      return `${joined(placeTitle(state, act), ...values)}${act.reason ? ` (${act.reason})` : ''}`;
    }
    case 'items-chosen':
      return `${where(act)}: ${act.items.join(' + ')} chosen`;
    case 'observed': {
      const observation = observationOf(state, act);
      const unit = observation ? observedUnit(state, act, observation) : '';
      const option = observation?.options?.find((o) => o.id === act.text)?.title;
      const text = observation?.type === 'file' ? `${act.text.length} characters` : (option ?? withPrintedUnit(act.text, unit));
      const note = act.reason ? `kept: ${act.reason}` : act.confirmed ? 'confirmed when asked' : '';
      return `${joined(set(act.set), where(act))}, ${observation?.title ?? act.observation}: ${text}${note ? ` (${note})` : ''}`;
    }
    case 'struck':
      return `Entry ${act.sequence} struck out: ${act.reason}`;
    case 'skipped':
      return `${joined(where(act))} skipped, ${set(act.set)}${act.reason ? `: ${act.reason}` : ''}`;
    case 'resumed':
      return `${where(act)} taken up again, ${set(act.set)}`;
    case 'plan-resolved':
      return `${seriesOf(state, act.series)?.title ?? act.series}: its points were resolved`;
    case 'gate-passed':
      return `${where(act)}: ${act.passes ? 'inside its limits' : `outside its limits; gone on because ${act.reason ?? 'of a decision'}`}`;
    case 'set-begun':
      return `Readings ${set(act.set)} begun${act.why ? ` (${act.why})` : ''}`;
    case 'set-ended':
      return `Readings ${set(act.set)} ended early: ${act.reason}`;
    case 'withdrawn':
      return `Readings ${set(act.set)} withdrawn: ${act.reason}`;
    case 'adjustment-decided': {
      const title = procedure.adjustments.find((a) => a.id === act.adjustment)?.title;
      const of = act.each
        ? ` (${instanceTitle(state, procedure.adjustments.find((a) => a.id === act.adjustment)?.of[0] ?? '', act.each)})`
        : '';
      return `${title ? `Decided: ${title}${of}` : 'Decided to leave it'}${act.adjustment === act.proposed ? ', as advised' : `, against the advice: ${act.reason}`}`;
    }
    case 'adjustment-abandoned':
      return `Nothing was adjusted after all: ${act.reason}`;
    case 'ruling-out':
      return `To be ruled out: ${procedure.ruleOut.find((r) => r.id === act.id)?.title ?? act.id}`;
    case 'adjusted': {
      const doc = procedure.adjustments.find((a) => a.id === act.id);
      const stored = Object.entries(act.stored).map(([id, s]) => {
        const declared = doc?.stored.find((d) => d.id === id);
        const unit = unitIn(state, declared?.unit, act);
        const after = withPrintedUnit(s.after, unit);
        return `${declared?.title ?? id} ${s.before === undefined ? after : `${withPrintedUnit(s.before, unit)} before, ${after} after`}`;
      });
      return `${doc?.title ?? act.id}${stored.length ? `: ${stored.join('; ')}` : ''}${act.note ? `. ${act.note}` : ''}`;
    }
    case 'note-added':
      return act.text;
    case 'left-set-up':
      return `Taken out of the set-up: ${act.reason}`;
    case 'interval-decided':
      return `Next date ${act.next}${act.next === act.proposed ? '' : ` in place of ${act.proposed}`}: ${act.reason}${act.school ? ` (${schoolTitles[act.school].toLowerCase()})` : ''}`;
    case 'run-completed':
      if (isQuickCheck(state)) return `Quick check finished${act.remark ? `. ${act.remark}` : ''}`;
      return `Finished, certificate ${act.certificate}${act.remark ? `. ${act.remark}` : ''}`;
    case 'run-reviewed':
      return `Reviewed and signed${act.remark ? `: ${act.remark}` : ''}`;
    case 'run-returned':
      return `Returned in review: ${act.remark}`;
    case 'run-broken-off':
      return `Broken off: ${act.reason}${act.outOfUse ? '. It is out of use until it is repaired' : ''}`;
  }
}

const span = (seconds: number): string =>
  seconds < 120
    ? `${Math.round(seconds)} s`
    : seconds < 7200
      ? `${Math.round(seconds / 60)} min`
      : `${Math.round(seconds / 3600)} h`;

/** What was odd about the server's clock, as a sentence for whoever reads the record. */
export function clockWords({ earlierBy, setBy }: ClockMark): string {
  const parts = [
    earlierBy && `${span(earlierBy)} earlier than the entry before it`,
    setBy && `the server's clock had been set ${setBy > 0 ? 'forward' : 'back'} by ${span(Math.abs(setBy))}`,
  ].filter(Boolean);
  return `Time in doubt: ${parts.join('; ')}.`;
}

/** When something was done where it was recorded much later; empty where both are the same. */
export function doneLater(event: { at: string; done?: { at: string; ahead: number } | undefined }): string {
  if (!event.done) return '';
  const late = (Date.parse(event.at) - Date.parse(event.done.at)) / 1000 + event.done.ahead;
  return late > 60 ? `recorded ${span(late)} later` : '';
}
