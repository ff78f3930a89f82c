import type { ClockMark } from '../../core/state/logged';

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
