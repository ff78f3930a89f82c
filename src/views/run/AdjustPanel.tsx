import { Fragment, useEffect, useRef, useState, type FormEvent } from 'react';
import { isMove } from '../../core/document/declarations';
import { printedUnit } from '../../core/quantity/unit';
import { adjustmentEffects, heldByRecord, proposedFromHeld, roundsSentence } from '../../core/run/adjustment-advice';
import { ownFormIn } from '../../core/state/own-units';
import { filledText, instanceTitle } from '../../core/run/place-words';
import { turningOf } from '../../core/run/turning';
import type { RunState } from '../../core/state/run-state';
import { unitIn } from '../../core/steps/step-context';
import { CardNote } from './CardNote';
import { digitsApart } from './digits-apart';
import { TurnPanel } from './TurnPanel';
import { useRun } from './run-context';

/** What is asked of each stored value, in the order in which it is done; of a move only how far. */
const sides = [
  ['before', 'Holds now'],
  ['after', 'Set to'],
  ['readBack', 'Reads back'],
] as const;

/** A line of a stored value: what it is, the number, its unit; numbers stand one under the other. */
const line = 'flex items-baseline';
const name = 'w-24 shrink-0 whitespace-nowrap';
const unitName = 'min-w-10 shrink-0 text-lg text-soft';

type AdjustItem = Extract<RunState['plan'][number], { type: 'adjust' }>;

/**
 * An adjustment: two settings that fight in rounds, everything else by what it stores: first what the instrument holds, then what it is set to, then what is read back from it, field by field. Nothing is
 * filled in beforehand; the record and the proposal appear once it is known what is held.
 */
export function AdjustPanel({ item }: { item: AdjustItem }) {
  const { state } = useRun();
  const turning = turningOf(state);
  const doc = state.procedure.adjustments.find((a) => a.id === item.id)!;
  const place = { set: item.set, series: doc.of[0]!, ...(item.each === undefined ? {} : { each: item.each }) };
  return turning ? <TurnPanel doc={doc} turning={turning} place={place} /> : <StoredValues item={item} />;
}

function StoredValues({ item }: { item: AdjustItem }) {
  const { state, act } = useRun();
  const [values, setValues] = useState<Record<string, string>>({});
  const [note, setNote] = useState('');
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => form.current?.querySelector<HTMLElement>('input, button')?.focus(), []);
  const doc = state.procedure.adjustments.find((a) => a.id === item.id)!;
  const each = item.each ?? null;
  const place = { set: item.set, series: doc.of[0]!, ...(item.each === undefined ? {} : { each: item.each }) };
  const sidesOf = (id: string) => (isMove(doc, id) ? sides.filter(([side]) => side === 'after') : sides);
  const of = (side: string) => Object.fromEntries(doc.stored.map((s) => [s.id, (values[`${s.id}.${side}`] ?? '').trim()]));
  const held = of('before');
  const isHeldKnown = doc.stored.every((s) => isMove(doc, s.id) || held[s.id] !== '');
  const proposed = isHeldKnown ? proposedFromHeld(state, item.set, item.id, each, held) : {};
  const record = isHeldKnown ? heldByRecord(state, item.set, item.id, each) : {};
  const rounds = roundsSentence(state, item.set, item.id, each);
  const effects = adjustmentEffects(state, item.set, item.id, each);
  const names = sides.flatMap(([side]) =>
    doc.stored.flatMap((s) => (sidesOf(s.id).some(([of]) => of === side) ? [`${s.id}.${side}`] : [])),
  );
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);

  function submit(event: FormEvent) {
    event.preventDefault();
    const empty = names.find((n) => (values[n] ?? '').trim() === '');
    if (empty && document.activeElement !== field(empty) && names.includes(document.activeElement?.getAttribute('name') ?? ''))
      return field(empty)?.focus();
    const stored = Object.fromEntries(
      doc.stored.map((s) => {
        const [before, after, readBack] = sides.map(([side]) => (values[`${s.id}.${side}`] ?? '').trim());
        return [s.id, { ...(before ? { before } : {}), after: after || ' ', ...(readBack ? { readBack } : {}) }];
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
    const at = refusal ? refusal.path.slice(1).join('.') : '';
    setFault(refusal && { message: refusal.message, at });
    if (refusal) field(at || (refusal.path[0] === 'note' ? 'note' : ''))?.focus();
  }
  return (
    <form ref={form} onSubmit={submit} className="flex flex-col gap-3">
      <p className="text-sm text-soft">
        {item.each ? `${instanceTitle(state, doc.of[0]!, item.each)}: ` : ''}
        {doc.title}
      </p>
      {doc.instruction && <h2 className="text-lg leading-snug">{filledText(state, doc.instruction, place)}</h2>}
      <CardNote moments={[doc.id]} place={place} />
      {rounds && <p>{rounds}</p>}
      {doc.caution && <p className="caution">{doc.caution}</p>}
      {doc.stored.map((s) => {
        const unit = printedUnit(ownFormIn(state, s.unit)?.unit ?? unitIn(state, s.unit, place));
        const [after, readBack] = [of('after')[s.id]!, of('readBack')[s.id]!];
        const apart = readBack ? digitsApart(after, readBack) : null;
        return (
          <fieldset key={s.id} className="min-w-0 border-t border-rule pt-1">
            <legend className="flex w-full items-baseline justify-between gap-3">
              <span className="font-bold">{s.title}</span>
              {record[s.id] !== undefined && !isMove(doc, s.id) && (
                <span className="text-sm text-soft">
                  by the record <span className="figure">{record[s.id]!.replace('-', '−')}</span> {unit}
                </span>
              )}
            </legend>
            {sidesOf(s.id).map(([side, label]) => (
              <Fragment key={side}>
                {side === 'after' && proposed[s.id] !== undefined && (
                  <p className={line}>
                    <span className={name}>Proposed</span>
                    <span className="figure flex-1 px-3 text-right text-2xl">{proposed[s.id]!.replace('-', '−')}</span>
                    <span className={unitName}>{unit}</span>
                  </p>
                )}
                <label className={`${line} border-b-2 border-rule-strong focus-within:border-verdigris`}>
                  <span className={name}>{isMove(doc, s.id) ? 'Move it by' : label}</span>
                  <input
                    name={`${s.id}.${side}`}
                    value={values[`${s.id}.${side}`] ?? ''}
                    onChange={(e) => setValues({ ...values, [`${s.id}.${side}`]: e.target.value })}
                    inputMode="decimal"
                    autoComplete="off"
                    maxLength={20}
                    data-keys
                    aria-label={`${s.title}, ${isMove(doc, s.id) ? 'moved by' : label.toLowerCase()}`}
                    aria-invalid={fault?.at === `${s.id}.${side}` || undefined}
                    className="figure !min-h-12 w-0 min-w-0 flex-1 !border-0 !bg-transparent !px-3 !py-0 !text-right !text-2xl font-bold !outline-none"
                  />
                  <span className={unitName}>{unit}</span>
                </label>
              </Fragment>
            ))}
            {apart && (
              <p className="fault">
                Read back as{' '}
                <span className="figure">
                  {apart.map(({ text, differs }, i) => (differs ? <mark key={i}>{text}</mark> : <span key={i}>{text}</span>))}
                </span>
                : not what was set.
              </p>
            )}
          </fieldset>
        );
      })}
      {effects.length > 0 && (
        <dl className="ruled text-sm" aria-label="What this would leave">
          {effects.map((e) => (
            <div key={e.title} className="flex flex-wrap items-baseline justify-between gap-x-3 py-1">
              <dt className="text-soft">{e.title}</dt>
              <dd className={e.isOutside ? 'font-bold text-brick' : ''}>
                {e.now} → {e.left}
                {e.isOutside ? ', outside' : ''}
              </dd>
            </div>
          ))}
        </dl>
      )}
      <label>
        <span className="block text-sm text-soft">
          {doc.stored.some((s) => !isMove(doc, s.id))
            ? 'Note; needed where the instrument holds something else than the record'
            : 'Note, if any'}
        </span>
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
