import { useEffect, useRef, useState, type FormEvent } from 'react';
import { flushSync } from 'react-dom';
import type { PlanItem } from '../../core/plan/plan-schema';
import { printedUnit } from '../../core/quantity/unit';
import { sentenceOf } from '../../core/run/next-step';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import { lookedAt } from '../../core/run/rungs';
import { placeOf } from '../../core/state/place-keys';
import { BigEntry } from '../../ui/BigEntry';
import { useRun } from './run-context';

/** After a cause was looked for: the point that was outside, read once more, before all is read again. */
export function LookAgainPanel({ item }: { item: Extract<PlanItem, { type: 'look' }> }) {
  const { state, act, now } = useRun();
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const form = useRef<HTMLFormElement>(null);
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);
  useEffect(() => form.current?.querySelector('input')?.focus(), []);
  const cause = state.procedure.ruleOut.find((r) => r.id === item.id);
  const slots = lookedAt(state, item);
  const record = (of: Record<string, string>) =>
    act({ type: 'looked', ...placeOf(item), series: item.series!, point: item.point!, id: item.id, texts: of });

  function submit(event: FormEvent) {
    event.preventDefault();
    const empty = slots.find((s) => (texts[s.observation] ?? '').trim() === '');
    if (empty && document.activeElement !== field(empty.observation)) return field(empty.observation)?.focus();
    const refusal = record(Object.fromEntries(slots.map((s) => [s.observation, texts[s.observation]?.trim() ?? ''])));
    if (!refusal) return;
    const at = String(refusal.path.at(-1));
    // Drawn at once, so that the next key meets the field that is asked about.
    flushSync(() => setFault({ message: refusal.message, at }));
    field(at)?.focus();
  }
  return (
    <form ref={form} onSubmit={submit} className="flex flex-col gap-3">
      <h2 className="text-xl leading-snug">{sentenceOf(state, item, now)}</h2>
      {cause && (
        <p>
          <strong>{cause.title}.</strong> {cause.instruction}
        </p>
      )}
      {cause?.caution && <p className="caution">{cause.caution}</p>}
      {slots.map((slot) => {
        const observation = observationOf(state, slot)!;
        const unit = printedUnit(observedUnit(state, slot, observation));
        const title = observation.title ?? observation.id;
        return (
          <label key={slot.observation} className="block">
            <span className="text-soft">{title}</span>
            <BigEntry
              unit={unit}
              name={slot.observation}
              value={texts[slot.observation] ?? ''}
              onChange={(e) => setTexts({ ...texts, [slot.observation]: e.target.value })}
              inputMode="decimal"
              maxLength={20}
              aria-label={`${title}${unit ? ` in ${unit}` : ''}, read once more`}
              aria-invalid={fault?.at === slot.observation || undefined}
            />
          </label>
        );
      })}
      <p className="text-sm text-soft">It stands beside the readings of the set, which stay as they are.</p>
      {fault && (
        <p className="fault" role="alert">
          {fault.message}
        </p>
      )}
      <div className="flex gap-3">
        <button className="button button-main min-h-13 flex-1 !text-lg">Record it</button>
        <button type="button" className="button button-quiet" onClick={() => record({})}>
          Not read again
        </button>
      </div>
    </form>
  );
}
