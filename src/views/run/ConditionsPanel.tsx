import { useEffect, useRef, useState, type FormEvent } from 'react';
import { flushSync } from 'react-dom';
import { conditionsNow } from '../../core/run/next-step';
import { placeTitle } from '../../core/run/place-words';
import { placeOf } from '../../core/state/place-keys';
import { unitIn, withUnit } from '../../core/steps/step-context';
import { printedUnit } from '../../core/quantity/unit';
import { useRun } from './run-context';

/** Conditions that are wanted now, or read again: Enter goes to the next, the last Enter records them. */
export function ConditionsPanel({ onDone }: { onDone: (() => void) | null }) {
  const { state, act } = useRun();
  const wanted = conditionsNow(state);
  const set = wanted[0]?.set ?? state.sets.at(-1)!.id;
  const ids = onDone ? [...new Set(state.conditions.filter((c) => c.set === set).map((c) => c.id))] : wanted.map((c) => c.id);
  const asked = state.procedure.conditions.filter((c) => ids.includes(c.id));
  const place = onDone || !wanted[0] ? { set } : placeOf(wanted[0]);
  const [values, setValues] = useState<Record<string, string>>({});
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const [reason, setReason] = useState('');
  const form = useRef<HTMLFormElement>(null);
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);
  useEffect(() => form.current?.querySelector('input')?.focus(), []);

  function submit(event: FormEvent) {
    event.preventDefault();
    const empty = asked.find((c) => (values[c.id] ?? '').trim() === '');
    if (empty && document.activeElement !== field(empty.id)) return field(empty.id)?.focus();
    const refusal = act({
      type: 'conditions-recorded',
      ...place,
      values: Object.fromEntries(asked.map((c) => [c.id, values[c.id]?.trim() || ' '])),
      ...(reason.trim().length >= 3 ? { reason: reason.trim() } : {}),
    });
    if (!refusal) return onDone?.();
    const at = String(refusal.path.at(-1));
    // Drawn at once, so that the next key meets the field that is asked about.
    flushSync(() => setFault({ message: refusal.message, at }));
    field(at)?.focus();
  }
  const where = placeTitle(state, place);

  return (
    <form ref={form} onSubmit={submit} onKeyDown={(e) => e.key === 'Escape' && onDone?.()} className="flex flex-col gap-3">
      <h2 className="text-xl leading-snug">Conditions{where && ` at ${where}`}</h2>
      {asked.map((c) => {
        const unit = unitIn(state, c.unit, place);
        const limits =
          typeof c.lower === 'number' && typeof c.upper === 'number'
            ? `${withUnit(c.lower, unit)} to ${withUnit(c.upper, unit)}`
            : '';
        return (
          <label key={c.id} className="flex items-baseline gap-3 border-b border-rule-strong">
            <span className="w-36 shrink-0">
              {c.title}
              {limits && <span className="block text-xs text-soft">{limits}</span>}
            </span>
            <input
              name={c.id}
              value={values[c.id] ?? ''}
              onChange={(e) => setValues({ ...values, [c.id]: e.target.value })}
              inputMode="decimal"
              autoComplete="off"
              maxLength={12}
              data-keys
              aria-invalid={fault?.at === c.id || undefined}
              className="figure w-full min-w-0 !border-0 !bg-transparent !text-right !text-3xl font-bold"
            />
            <span className="text-xl text-soft">{printedUnit(unit)}</span>
          </label>
        );
      })}
      {fault?.at === 'reason' && (
        <label>
          <span className="block text-sm text-soft">Reason for going on</span>
          <input name="reason" value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
        </label>
      )}
      {fault && (
        <p className={fault.at === 'reason' ? 'caution' : 'fault'} role="alert">
          {fault.message}
        </p>
      )}
      <div className="flex gap-3">
        <button className="button button-main min-h-13 flex-1 !text-lg">Record them</button>
        {onDone && (
          <button type="button" className="button button-quiet" onClick={onDone}>
            Back <span className="key">Esc</span>
          </button>
        )}
      </div>
    </form>
  );
}
