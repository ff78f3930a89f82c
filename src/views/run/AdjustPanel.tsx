import { useEffect, useRef, useState, type FormEvent } from 'react';
import { adjustmentAdvice, proposedToStore, roundsSentence } from '../../core/run/adjustment-advice';
import { filledText, instanceTitle } from '../../core/run/place-words';
import { printedUnit } from '../../core/quantity/unit';
import { unitIn } from '../../core/steps/step-context';
import type { RunState } from '../../core/run/run-state';
import { useRun } from './run-context';

/** An adjustment: what was stored before, what is stored now, and what is read back. */
export function AdjustPanel({ item }: { item: Extract<RunState['plan'][number], { type: 'adjust' }> }) {
  const { state, act } = useRun();
  const [values, setValues] = useState<Record<string, string>>({});
  const [note, setNote] = useState('');
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => form.current?.querySelector<HTMLElement>('input, button')?.focus(), []);
  const doc = state.procedure.adjustments.find((a) => a.id === item.id)!;
  const proposed = proposedToStore(adjustmentAdvice(state, item.set), item.id, item.each ?? null);
  const rounds = roundsSentence(state, item.set, item.id, item.each ?? null);
  const place = { set: item.set, series: doc.of[0]!, ...(item.each === undefined ? {} : { each: item.each }) };
  const sides = [
    ['before', 'before'],
    ['after', 'after'],
  ] as const;
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);

  function submit(event: FormEvent) {
    event.preventDefault();
    const names = doc.stored.flatMap((s) => sides.map(([side]) => `${s.id}.${side}`));
    const empty = names.find((n) => (values[n] ?? '').trim() === '');
    if (empty && document.activeElement !== field(empty) && names.includes(document.activeElement?.getAttribute('name') ?? ''))
      return field(empty)?.focus();
    const stored = Object.fromEntries(
      doc.stored.map((s) => {
        const [before, after] = sides.map(([side]) => (values[`${s.id}.${side}`] ?? '').trim());
        return [s.id, { ...(before ? { before } : {}), after: after || ' ' }];
      }),
    );
    const refusal = act({
      type: 'adjusted',
      set: item.set,
      id: item.id,
      ...(item.each === undefined ? {} : { each: item.each }),
      stored,
      note: note.trim(),
    });
    setFault(refusal && { message: refusal.message, at: refusal.path.slice(1).join('.') });
  }
  return (
    <form ref={form} onSubmit={submit} className="flex flex-col gap-3">
      <p className="text-sm text-soft">
        {item.each ? `${instanceTitle(state, doc.of[0]!, item.each)}: ` : ''}
        {doc.title}
      </p>
      {doc.instruction && <h2 className="text-lg leading-snug">{filledText(state, doc.instruction, place)}</h2>}
      {rounds && <p>{rounds}</p>}
      {doc.caution && <p className="caution">{doc.caution}</p>}
      {doc.stored.map((s) => (
        <fieldset key={s.id} className="border-t border-rule pt-1">
          <legend className="flex w-full items-baseline justify-between gap-3">
            <span className="font-bold">{s.title}</span>
            {proposed[s.id] !== undefined && (
              <span className="text-sm text-soft">
                proposed <span className="figure">{proposed[s.id]!.replace('-', '−')}</span>{' '}
                {printedUnit(unitIn(state, s.unit, place))}
              </span>
            )}
          </legend>
          {sides.map(([side, label]) => (
            <label key={side} className="flex items-baseline gap-3 border-b border-rule-strong">
              <span className="w-20">{label}</span>
              <input
                name={`${s.id}.${side}`}
                value={values[`${s.id}.${side}`] ?? ''}
                onChange={(e) => setValues({ ...values, [`${s.id}.${side}`]: e.target.value })}
                inputMode="decimal"
                autoComplete="off"
                maxLength={20}
                data-keys
                aria-label={`${s.title}, ${label}`}
                aria-invalid={fault?.at === `${s.id}.${side}` || undefined}
                className="figure w-full min-w-0 !border-0 !bg-transparent !text-right !text-3xl font-bold"
              />
              <span className="text-xl text-soft">{printedUnit(unitIn(state, s.unit, place))}</span>
            </label>
          ))}
        </fieldset>
      ))}
      <label>
        <span className="block text-sm text-soft">Note, if any</span>
        <input name="note" value={note} onChange={(e) => setNote(e.target.value)} className="w-full" maxLength={300} />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault.message}
        </p>
      )}
      <button className="button button-main min-h-13 !text-lg">Record the adjustment</button>
    </form>
  );
}
