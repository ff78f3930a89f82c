import { useEffect, useRef, useState, type FormEvent } from 'react';
import { parsePlainNumber } from '../../core/quantity/reading';
import { offeredItems } from '../../core/standard/assigned-value';
import { sourcesOf } from '../../core/evaluate/setting';
import { pointTitle } from '../../core/run/place-words';
import { itemsAt } from '../../core/state/run-case';
import { settingIn } from '../../core/run/run-results';
import { placedPoint, type Slot } from '../../core/state/run-state';
import { useRun } from './run-context';

/** Chooses other items of the standard for a point: type a marking and Enter, or touch. */
export function ItemsChooser({ slot, use, onDone }: { slot: Slot; use: string; onDone: () => void }) {
  const { state, act } = useRun();
  const s = settingIn(state, slot.set);
  const series = s.series.get(slot.series)!;
  const isStack = series.doc.uses[use]?.stack !== undefined;
  const items = offeredItems(sourcesOf(s, series, use), {}).map((o) => o.item);
  const [chosen, setChosen] = useState<readonly string[]>(itemsAt(state, slot, use) ?? []);
  const [typed, setTyped] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const nominal = placedPoint(state, slot)?.nominal;
  const total = Number(items.reduce((sum, i) => sum + (chosen.includes(i.id) ? i.nominal : 0), 0).toPrecision(12));
  const toggle = (id: string) => {
    setFault('');
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : isStack ? [...chosen, id] : [id]);
  };

  function submit(event: FormEvent) {
    event.preventDefault();
    if (typed.trim() !== '') {
      const parsed = parsePlainNumber(typed);
      const item = items.find((i) => i.marking === typed.trim() || (parsed.ok && i.nominal === parsed.reading.value));
      if (!item) return setFault(`${typed.trim()} is not in the standard.`);
      toggle(item.id);
      return setTyped('');
    }
    const { repeat: _repeat, observation: _observation, sweep: _sweep, ...place } = slot;
    const refusal = act({ type: 'items-chosen', ...place, use, items: [...chosen] });
    if (refusal) setFault(refusal.message);
    else onDone();
  }

  return (
    <form onSubmit={submit} onKeyDown={(e) => e.key === 'Escape' && onDone()} className="flex min-h-0 flex-col gap-2">
      <h2>What is used for {pointTitle(state, slot)}</h2>
      <p className="text-sm text-soft">Type a marking and Enter to put it in or take it out. Enter alone takes what is chosen.</p>
      <div className="flex items-baseline gap-3">
        <input
          ref={input}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          inputMode="decimal"
          maxLength={20}
          aria-label="Marking"
          className="figure w-28"
        />
        {isStack && nominal !== undefined && (
          <span
            className={`figure text-lg font-bold ${Math.abs(total - nominal) <= 1e-9 * Math.max(1, Math.abs(nominal)) ? 'text-verdigris' : 'text-brick'}`}
          >
            {total} of {nominal}
          </span>
        )}
      </div>
      <div className="grid max-h-56 grid-cols-6 gap-1 overflow-auto">
        {items.map((i) => (
          <button
            key={i.id}
            type="button"
            tabIndex={-1}
            aria-pressed={chosen.includes(i.id)}
            onClick={() => toggle(i.id)}
            className={`figure h-9 cursor-pointer border text-sm ${chosen.includes(i.id) ? 'border-ink bg-ink text-white' : 'border-rule-strong bg-sheet'}`}
          >
            {i.marking || i.nominal}
          </button>
        ))}
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="flex gap-2">
        <button className="button button-main">Take these</button>
        <button type="button" className="button button-quiet" onClick={onDone}>
          Back <span className="key">Esc</span>
        </button>
      </div>
    </form>
  );
}
