import { useEffect, useRef, useState, type FormEvent } from 'react';
import { stackNominal } from '../../core/disciplines/dimensional/gauge-stack';
import { parseReading } from '../../core/quantity/reading';
import type { RunPoint } from '../../core/run/run-state';
import { useRun } from './run-context';

/** Chooses other blocks for a point: the sizes are typed, or tapped in the set. */
export function StackChooser({ point, onDone }: { point: RunPoint; onDone: () => void }) {
  const { state, act } = useRun();
  const [chosen, setChosen] = useState(point.stack.map((b) => b.id));
  const [typed, setTyped] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const items = state.standard.items;
  const total = stackNominal(chosen.map((id) => items.find((i) => i.id === id)!));
  const toggle = (id: string) => setChosen((before) => (before.includes(id) ? before.filter((c) => c !== id) : [...before, id]));

  function submit(event: FormEvent) {
    event.preventDefault();
    if (typed.trim()) {
      const parsed = parseReading(typed);
      const block = parsed.ok && items.find((i) => Math.abs(i.nominal - parsed.reading.value) < 1e-9);
      if (!block) return setFault(`There is no block of ${typed} mm in ${state.standard.identification}.`);
      toggle(block.id);
      setTyped('');
      return setFault('');
    }
    const refusal = act({ type: 'stack-chosen', point: point.id, items: chosen });
    if (refusal) setFault(refusal.message);
    else onDone();
  }

  return (
    <form onSubmit={submit} onKeyDown={(e) => e.key === 'Escape' && onDone()} className="flex min-h-0 flex-col gap-2">
      <h2>Blocks for {point.nominal.toFixed(1)} mm</h2>
      <p className="text-sm text-soft">Type a size and Enter to put it in or take it out. Enter alone takes the stack.</p>
      <div className="flex items-baseline gap-3">
        <input
          ref={input}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          inputMode="decimal"
          aria-label="Block size in mm"
          className="figure w-28"
        />
        <span className={`figure text-lg font-bold ${Math.abs(total - point.nominal) < 1e-6 ? 'text-verdigris' : 'text-brick'}`}>
          {total} of {point.nominal.toFixed(1)} mm
        </span>
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
            {i.nominal}
          </button>
        ))}
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="flex gap-2">
        <button className="button button-main">Take this stack</button>
        <button type="button" className="button button-quiet" onClick={onDone}>
          Back <span className="key">Esc</span>
        </button>
      </div>
    </form>
  );
}
