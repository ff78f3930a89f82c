import { useEffect, useRef, useState, type FormEvent, type KeyboardEvent } from 'react';
import { actionSentence } from '../../core/run/next-action';
import { referenceValue, type PointResult } from '../../core/run/point-results';
import { liveReadings } from '../../core/run/run-state';
import type { Pass } from '../../core/run/event-schema';
import { timeOfDay } from '../../ui/clock';
import { ReasonPrompt } from './ReasonPrompt';
import { ReferenceMakeup } from './ReferenceMakeup';
import { StackChooser } from './StackChooser';
import { useRun } from './run-context';
import type { Slot } from './PointSheet';

type Props = {
  pass: Pass;
  cursor: Slot;
  onCursor: (slot: Slot | null) => void;
  onTemperatures: () => void;
  onOpen: (result: PointResult) => void;
  results: PointResult[];
};

const strikeReasons = ['Mistyped', 'Not seated squarely', 'Dirt on a face', 'Read before it had settled'];
const skipReasons = ['No block of this length', 'Spindle does not reach it'];

type Note = { slot: string; message: string; doubt: { text: string; suggestion: string | undefined } | null };

type Asking = 'strike' | 'skip' | 'stack' | null;

/** Takes the readings of a pass: digits and Enter; everything else is a key away. */
export function ReadingPanel({ pass, cursor, onCursor, onTemperatures, onOpen, results }: Props) {
  const { state, act } = useRun();
  const [typed, setTyped] = useState('');
  const here = `${pass} ${cursor.point} ${cursor.index}`;
  /** What was said about this slot, and a text that looked implausible and was asked about once. */
  const [note, setNote] = useState<Note | null>(null);
  const { message = '', doubt = null } = note?.slot === here ? note : {};
  const say = (text: string, about: Note['doubt'] = null) => setNote(text ? { slot: here, message: text, doubt: about } : null);
  const [asking, setAsking] = useState<Asking>(null);
  const input = useRef<HTMLInputElement>(null);
  const point = state.points.find((p) => p.id === cursor.point)!;
  const readings = liveReadings(state.passes[pass][point.id]);
  const selected = readings[cursor.index];
  const skipped = state.passes[pass][point.id]!.skipped;
  const repeats = state.procedure.points.repeats;
  const result = results.find((r) => r.point.id === point.id);

  useEffect(() => {
    if (!asking) input.current?.focus();
  }, [asking, cursor.point, cursor.index]);
  function take(text: string, confirmed: boolean) {
    const refusal = act({ type: 'reading-taken', pass, point: point.id, text, ...(confirmed ? { confirmed } : {}) });
    if (!refusal) {
      setTyped('');
      onCursor(null);
      return;
    }
    say(
      refusal.message,
      refusal.path[0] === 'text' && !text.trim().startsWith('-') ? { text, suggestion: refusal.suggestion } : null,
    );
  }

  function submit(event: FormEvent) {
    event.preventDefault();
    if (selected && typed.trim() === '') return onCursor(null);
    if (selected) return say('This reading is taken. Strike it out (x) to take it again, or press Enter to go on.');
    take(typed, doubt !== null && doubt.text === typed);
  }

  /** The slot before or after the present one along the sheet. */
  function step(by: 1 | -1) {
    const slots = state.points.flatMap((p) =>
      Array.from({ length: Math.min(repeats, liveReadings(state.passes[pass][p.id]).length + 1) }, (_, index) => ({
        point: p.id,
        index,
      })),
    );
    const here = slots.findIndex((s) => s.point === cursor.point && s.index === cursor.index);
    const next = slots[here + by];
    if (next) onCursor(next);
  }

  function onKey(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const does = (action: () => void) => {
      event.preventDefault();
      action();
    };
    const key = event.key.toLowerCase();
    if (key === 'arrowup' || (key === 'backspace' && typed === '')) return does(() => step(-1));
    if (key === 'arrowdown') return does(() => step(1));
    if (key === 'x' || key === 'delete') {
      if (typed !== '') return;
      return does(() =>
        selected ? setAsking('strike') : say('Step to the reading with the up arrow, then press x to strike it out.'),
      );
    }
    if (key === 's') return does(() => setAsking('stack'));
    if (key === 'k') return does(() => setAsking('skip'));
    if (key === 't') return does(onTemperatures);
    if (key === 'u') return does(() => result && onOpen(result));
    if (key === 'y' && doubt?.suggestion) return does(() => take(doubt.suggestion!, false));
  }

  if (asking === 'stack') return <StackChooser point={point} onDone={() => setAsking(null)} />;
  if (asking === 'strike' && selected)
    return (
      <ReasonPrompt
        title={`Strike out ${selected.text} mm: why?`}
        ready={strikeReasons}
        confirm="Strike it out"
        onCancel={() => setAsking(null)}
        onReason={(reason) => {
          const refusal = act({ type: 'reading-struck', sequence: selected.sequence, reason });
          if (refusal) return refusal.message;
          setAsking(null);
          onCursor({ point: point.id, index: readings.length - 1 });
          return null;
        }}
      />
    );
  if (asking === 'skip')
    return (
      <ReasonPrompt
        title={`Skip ${point.nominal.toFixed(1)} mm: why?`}
        ready={skipReasons}
        confirm="Skip this point"
        onCancel={() => setAsking(null)}
        onReason={(reason) => {
          const refusal = act({ type: 'point-skipped', pass, point: point.id, reason });
          if (refusal) return refusal.message;
          setAsking(null);
          onCursor(null);
          return null;
        }}
      />
    );

  const sentence = selected
    ? `${point.nominal.toFixed(1)} mm, reading ${cursor.index + 1}: taken ${timeOfDay(selected.at)} by ${selected.person}.`
    : actionSentence(state, { kind: 'take-reading', stage: pass, pass, point: point.id, repeat: cursor.index + 1 });
  return (
    <div className="flex flex-col gap-3">
      <h2 className="text-lg" aria-live="polite">
        {sentence}
      </h2>
      <form onSubmit={submit}>
        <div className="flex items-baseline gap-2 border-b-[3px] border-ink bg-sheet px-3 focus-within:border-verdigris">
          <input
            ref={input}
            value={typed}
            onChange={(e) => {
              setTyped(e.target.value);
              setNote(null);
            }}
            onKeyDown={onKey}
            disabled={skipped !== null}
            inputMode="decimal"
            autoComplete="off"
            maxLength={20}
            aria-label={`Indication in mm at ${point.nominal.toFixed(1)} mm, reading ${cursor.index + 1}`}
            placeholder={selected?.text ?? ''}
            className="figure !min-h-0 w-full !border-0 !bg-transparent !px-0 !py-1 !text-[3.9rem] leading-none font-bold !outline-none placeholder:text-rule-strong"
          />
          <span className="text-2xl text-soft">mm</span>
        </div>
        {message && (
          <div className={`mt-2 ${doubt ? 'caution' : 'fault'}`} role="alert">
            <p>{message}</p>
            {doubt && (
              <p className="mt-1 flex flex-wrap gap-2">
                {doubt.suggestion && (
                  <button type="button" className="button" onClick={() => take(doubt.suggestion!, false)}>
                    Take {doubt.suggestion} <span className="key">y</span>
                  </button>
                )}
                <button type="submit" className="button">
                  Keep {doubt.text} <span className="key">Enter</span>
                </button>
              </p>
            )}
          </div>
        )}
        {skipped !== null ? (
          <div className="caution mt-2">
            <p>This point was skipped: {skipped}</p>
            <button type="button" className="button mt-2" onClick={() => act({ type: 'point-resumed', pass, point: point.id })}>
              Take it up again
            </button>
          </div>
        ) : (
          <div className="mt-2 flex flex-wrap gap-2">
            {selected ? (
              <button type="button" className="button flex-1" onClick={() => setAsking('strike')}>
                Strike it out <span className="key">x</span>
              </button>
            ) : (
              <button className="button button-main min-h-13 flex-1 !text-lg">Take the reading</button>
            )}
            <button type="button" className="button min-h-13" onClick={() => step(-1)} aria-label="Step back">
              ↑ back
            </button>
          </div>
        )}
      </form>
      <ReferenceMakeup
        point={point}
        reference={referenceValue(state, point, state.conditions)}
        {...(readings.length === 0 ? { onStack: () => setAsking('stack') } : {})}
      />
      <p className="text-sm">{state.procedure.points.instruction}</p>
      {state.procedure.points.caution && <p className="caution text-sm">{state.procedure.points.caution}</p>}
    </div>
  );
}
