import { useEffect, useRef, useState, type FormEvent, type ReactNode } from 'react';
import { flushSync } from 'react-dom';
import { printedUnit } from '../../core/quantity/unit';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import type { TypedAt as Typed } from '../../core/run/typed-at';
import type { Refusal } from '../../core/state/refusal';
import type { Slot } from '../../core/state/run-state';
import { BigEntry } from '../../ui/BigEntry';
import { useRun } from './run-context';

type Props = {
  slots: readonly Slot[];
  /** Said of each field after its name. @example 'read once more' */ when: string;
  confirm: string;
  onTake: (texts: Typed) => Refusal | null;
  /** Beside the button that takes it. */ beside?: ReactNode;
};

/** What a point reads beside the readings of its set: Enter goes to the next field, the last Enter takes it. */
export function TypedAt({ slots, when, confirm, onTake, beside }: Props) {
  const { state } = useRun();
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const form = useRef<HTMLFormElement>(null);
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);
  useEffect(() => form.current?.querySelector('input')?.focus(), []);

  function submit(event: FormEvent) {
    event.preventDefault();
    const empty = slots.find((s) => (texts[s.observation] ?? '').trim() === '');
    if (empty && document.activeElement !== field(empty.observation)) return field(empty.observation)?.focus();
    const refusal = onTake(Object.fromEntries(slots.map((s) => [s.observation, texts[s.observation]?.trim() ?? ''])));
    if (!refusal) return;
    const at = String(refusal.path.at(-1));
    // Drawn at once, so that the next key meets the field that is asked about.
    flushSync(() => setFault({ message: refusal.message, at }));
    field(at)?.focus();
  }
  return (
    <form ref={form} onSubmit={submit} className="flex flex-col gap-3">
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
              className={slots.length > 1 ? '!text-[2rem]' : ''}
              aria-label={`${title}${unit ? ` in ${unit}` : ''}, ${when}`}
              aria-invalid={fault?.at === slot.observation || undefined}
            />
          </label>
        );
      })}
      {fault && (
        <p className="fault" role="alert">
          {fault.message}
        </p>
      )}
      <div className="flex gap-3">
        <button className="button button-main min-h-13 flex-1 !text-lg">{confirm}</button>
        {beside}
      </div>
    </form>
  );
}
