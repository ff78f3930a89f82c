import type { Act, ClockMark } from '../../core/run/event-schema';
import type { RunState } from '../../core/run/run-state';

/** One entry of the log as a sentence. */
export function actWords(act: Act, state: RunState): string {
  const point = (id: string) => `${state.points.find((p) => p.id === id)?.nominal.toFixed(1) ?? id} mm`;
  const pass = (p: 'as-found' | 'as-left') => p.replace('-', ' ');
  switch (act.type) {
    case 'run-started':
      return `Put on the bench with ${act.standard.identification}, ${act.procedure.id} revision ${act.procedure.revision}`;
    case 'check-answered':
      return `${state.procedure.checks.find((c) => c.id === act.check)?.title ?? act.check}: ${act.outcome}${act.note ? `, ${act.note}` : ''}`;
    case 'soak-started':
      return 'Soak started';
    case 'soak-ended':
      return act.earlyReason ? `Soak ended early: ${act.earlyReason}` : 'Soak ended';
    case 'conditions-recorded':
      return `Temperatures: room ${act.room} °C, instrument ${act.instrument} °C, blocks ${act.standard} °C${act.reason ? ` (${act.reason})` : ''}`;
    case 'stack-chosen':
      return `Blocks chosen for ${point(act.point)}: ${act.items.map((id) => state.standard.items.find((i) => i.id === id)?.nominal).join(' + ')}`;
    case 'reading-taken':
      return `${pass(act.pass)}, ${point(act.point)}: ${act.text} mm${act.confirmed ? ' (confirmed when asked)' : ''}`;
    case 'reading-struck':
      return `Reading ${act.sequence} struck out: ${act.reason}`;
    case 'point-skipped':
      return `${point(act.point)} skipped, ${pass(act.pass)}: ${act.reason}`;
    case 'point-resumed':
      return `${point(act.point)} taken up again, ${pass(act.pass)}`;
    case 'adjustment-decided':
      return `${act.adjust ? 'Decided to adjust' : 'Decided to leave it'}${act.adjust === act.proposed ? ', as advised' : `, against the advice: ${act.reason}`}`;
    case 'zero-adjusted':
      return `Zero adjusted: ${act.before} mm before, ${act.after} mm after${act.note ? `. ${act.note}` : ''}`;
    case 'note-added':
      return act.text;
    case 'interval-decided':
      return `Next date ${act.next}: ${act.reason}`;
    case 'run-completed':
      return `Finished, certificate ${act.certificate}${act.remark ? `. ${act.remark}` : ''}`;
    case 'run-reviewed':
      return `Reviewed and signed${act.remark ? `: ${act.remark}` : ''}`;
    case 'run-abandoned':
      return `Broken off: ${act.reason}`;
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
