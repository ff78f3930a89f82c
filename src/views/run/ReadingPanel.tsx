import { readingBeside } from '../../core/run/open-readings';
import { useEffect, useRef, useState, type ChangeEvent, type FormEvent, type KeyboardEvent } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { printedUnit } from '../../core/quantity/unit';
import { filledText, placeTitle, pointTitle, seriesOf } from '../../core/run/place-words';
import { sentenceOf } from '../../core/run/next-step';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import { placeOf, skipOf, slotKey, type RunState, type Slot } from '../../core/state/run-state';
import { BigEntry } from '../../ui/BigEntry';
import { later } from '../../ui/later';
import { timeLeft, timeOfDay } from '../../ui/clock';
import { ItemsChooser } from './ItemsChooser';
import { runKeys } from './keymap';
import { ReasonPrompt } from './ReasonPrompt';
import { itemUses, ReferencePanel } from './ReferencePanel';
import type { OpenResult } from './SeriesSheet';
import { useRun } from './run-context';

const Sketch = later(async () => (await import('../sketches/Sketch')).Sketch);

type Props = {
  slot: Slot;
  onCursor: (slot: Slot | null) => void;
  /** Steps elsewhere than to the reading beside it in this run. */ onStep?: (by: 1 | -1) => void;
  onConditions: () => void;
  onOpen: (result: OpenResult) => void;
};

const strikeReasons = ['Mistyped', 'Not settled', 'Disturbed', 'Dirt, wiped since'];
const skipReasons = ['The standard has nothing for it', 'The instrument does not reach it'];
const keepReasons = ['Read twice: it shows this', 'The instrument is damaged'];
const endReasons = ['The owner needs only this range', 'It cannot go further', 'No time today'];

/** What was typed and is doubted: what is offered in its place, and whether it may be kept on purpose. */
type Doubt = { text: string; suggestion: string | undefined; keepable: boolean };
type Note = { slot: string; message: string; doubt: Doubt | null };
type Asking = 'strike' | 'skip' | 'end' | 'reason' | { items: string } | null;

const largestFile = 400_000;

/** What was typed for readings that are not taken yet, by run and slot. */
const drafts = new Map<string, string>();

/** Takes the readings of a set: digits and Enter; everything else is a key away. */
export function ReadingPanel({ slot, onCursor, onStep, onConditions, onOpen }: Props) {
  const { run, state, act, now } = useRun();
  const here = slotKey(slot);
  const [, setChanged] = useState(0);
  // What is typed belongs to its own reading: it waits there when another is stepped to, and follows nowhere.
  const draft = `${run}|${here}`;
  const typed = drafts.get(draft) ?? '';
  const setTyped = (text: string) => {
    if (text === '') drafts.delete(draft);
    else drafts.set(draft, text);
    setChanged((n) => n + 1);
  };
  /** What was said about this slot, and a text that looked implausible and was asked about once. */
  const [note, setNote] = useState<Note | null>(null);
  const { message = '', doubt = null } = note?.slot === here ? note : {};
  const say = (text: string, about: Doubt | null = null) => setNote(text ? { slot: here, message: text, doubt: about } : null);
  const [asking, setAsking] = useState<Asking>(null);
  const input = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const series = seriesOf(state, slot.series)!;
  const observation = observationOf(state, slot)!;
  const selected = state.live.get(here);
  const skipped = skipOf(state, slot);
  const unit = printedUnit(observedUnit(state, slot, observation));
  const result = series.results.find((r) => (r.tolerance ?? r.tolerances) !== undefined) ?? series.results[0];
  const uses = itemUses(state, series, slot);
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  const scope = series.points
    ? { set: slot.set, series: slot.series, ...(slot.each ? { each: slot.each } : {}), point: slot.point }
    : place;
  const isRead = [...state.live.values()].some(
    (r) => r.slot.set === slot.set && r.slot.series === slot.series && r.slot.each === slot.each && r.slot.point === slot.point,
  );

  useEffect(() => {
    if (!asking) input.current?.focus();
  }, [asking, here]);

  function take(text: string, more: { confirmed?: boolean; reason?: string } = {}): string | null {
    const refusal = act({ type: 'observed', ...placeOf(slot), ...slot, text, ...more });
    if (!refusal) {
      setTyped('');
      setAsking(null);
      onCursor(null);
      return null;
    }
    if (refusal.path[0] === 'reason') {
      say(refusal.message, { text, suggestion: undefined, keepable: true });
      setAsking('reason');
    } else {
      const { suggestion, keepable } = refusal;
      say(refusal.message, suggestion || keepable ? { text, suggestion, keepable: keepable === true } : null);
      // What is typed next takes the place of what was doubted.
      input.current?.select?.();
    }
    return refusal.message;
  }

  function submit(event: FormEvent) {
    event.preventDefault();
    if (selected && typed.trim() === '') return onCursor(null);
    if (selected) return say('This reading is taken. Strike it out (x) to take it again, or press Enter to go on.');
    // Enter records what was typed, or asks again: what is offered and what is kept are chosen on purpose, each by a key of its own.
    take(typed);
  }

  /** Takes what was perhaps meant: chosen on purpose, never by the key that records. */
  function takeMeant() {
    if (doubt?.suggestion) take(doubt.suggestion);
  }

  function step(by: 1 | -1) {
    if (onStep) return onStep(by);
    const next = readingBeside(state, slot, by);
    if (next) onCursor(next);
  }

  /** The keys of the map, while the entry or something beside it has the keyboard. */
  const keyOptions = {
    enableOnFormTags: ['INPUT' as const],
    preventDefault: true,
    useKey: true,
    enabled: asking === null,
    ignoreEventWhen: () => !document.activeElement?.closest('[aria-label="Now"]'),
  };
  const whenEmpty = { ...keyOptions, enabled: asking === null && typed === '' };
  useHotkeys(runKeys.back.keys, () => step(-1), keyOptions);
  useHotkeys('backspace', () => step(-1), whenEmpty);
  useHotkeys(runKeys.on.keys, () => step(1), keyOptions);
  useHotkeys(
    runKeys.strike.keys,
    () => (selected ? setAsking('strike') : say('Step to the reading with the up arrow, then press x to strike it out.')),
    whenEmpty,
  );
  useHotkeys(runKeys.items.keys, () => uses[0] && !isRead && setAsking({ items: uses[0].use }), keyOptions);
  useHotkeys(runKeys.skip.keys, () => setAsking('skip'), keyOptions);
  useHotkeys(runKeys.end.keys, () => setAsking('end'), whenEmpty);
  useHotkeys(runKeys.conditions.keys, onConditions, keyOptions);
  useHotkeys(runKeys.open.keys, () => result && onOpen({ place, symbol: result.symbol }), keyOptions);
  useHotkeys(runKeys.meant.keys, takeMeant, { ...keyOptions, enabled: asking === null && Boolean(doubt?.suggestion) });
  useHotkeys(runKeys.keep.keys, () => doubt?.keepable && setAsking('reason'), keyOptions);

  /** A digit chooses where the reading is a choice. */
  function onChoiceKey(event: KeyboardEvent) {
    const option = selected ? undefined : observation.options?.[Number(event.key) - 1];
    if (!option) return;
    event.preventDefault();
    take(option.id);
  }

  async function takeFile(event: ChangeEvent<HTMLInputElement>) {
    const file = event.target.files?.[0];
    event.target.value = '';
    if (!file) return;
    if (file.size > largestFile) return say(`${file.name} is larger than ${largestFile / 1000} kB.`);
    take(await file.text());
  }

  if (asking !== null && typeof asking === 'object')
    return <ItemsChooser slot={slot} use={asking.items} onDone={() => setAsking(null)} />;
  if (asking === 'strike' && selected)
    return (
      <ReasonPrompt
        title={`Strike out ${observation.type === 'number' ? `${selected.text} ${unit}` : 'this'}: why?`}
        ready={strikeReasons}
        confirm="Strike it out"
        onCancel={() => setAsking(null)}
        onReason={(reason) => {
          const refusal = act({ type: 'struck', sequence: selected.sequence, reason });
          if (refusal) return refusal.message;
          setAsking(null);
          onCursor(slot);
          return null;
        }}
      />
    );
  if (asking === 'skip')
    return (
      <ReasonPrompt
        title={`Skip ${series.points ? pointTitle(state, slot) : series.title}: why?`}
        ready={skipReasons}
        confirm="Skip it"
        onCancel={() => setAsking(null)}
        onReason={(reason) => {
          const refusal = act({ type: 'skipped', ...scope, reason });
          if (refusal) return refusal.message;
          setAsking(null);
          onCursor(null);
          return null;
        }}
      />
    );
  if (asking === 'end')
    return (
      <ReasonPrompt
        title="End these readings here: why? What is there stays; the record says that it is not complete."
        ready={endReasons}
        confirm="End them here"
        onCancel={() => setAsking(null)}
        onReason={(reason) => {
          const refusal = act({ type: 'set-ended', set: slot.set, reason });
          if (refusal) return refusal.message;
          setAsking(null);
          onCursor(null);
          return null;
        }}
      />
    );
  if (asking === 'reason' && doubt)
    return (
      <ReasonPrompt
        title={message}
        ready={keepReasons}
        confirm={`Keep ${doubt.text}`}
        onCancel={() => setAsking(null)}
        onReason={(reason) => take(doubt.text, { confirmed: true, reason })}
      />
    );

  const sentence = selected
    ? `${placeTitle(state, slot) || series.title}, ${observation.title ?? observation.id} ${slot.repeat}: taken ${timeOfDay(selected.at)} by ${selected.person}.`
    : sentenceOf(state, { type: 'reading', ...placeOf(slot), repeat: slot.repeat, id: slot.observation }, now);
  return (
    <div className="flex flex-col gap-3">
      <h2 className="text-lg" aria-live="polite">
        {sentence}
      </h2>
      <form onSubmit={submit}>
        {observation.type === 'number' && (
          <BigEntry
            unit={unit}
            entryRef={input}
            value={typed}
            onChange={(e) => {
              setTyped(e.target.value);
              setNote(null);
            }}
            disabled={skipped !== null}
            inputMode="decimal"
            maxLength={20}
            aria-label={`${observation.title ?? observation.id}${unit ? ` in ${unit}` : ''}, ${placeTitle(state, slot) || series.title}, reading ${slot.repeat}`}
            placeholder={selected?.text ?? ''}
          />
        )}
        {observation.type === 'choice' && (
          <div className="grid gap-2" onKeyDown={onChoiceKey}>
            {observation.options?.map((o, i) => (
              <button
                key={o.id}
                ref={i === 0 ? (input as never) : undefined}
                type="button"
                {...(i === 0 ? { 'data-keys': true } : {})}
                disabled={selected !== undefined || skipped !== null}
                className={`button min-h-13 !justify-start !text-lg ${selected?.value === o.id ? 'button-main' : ''}`}
                onClick={() => take(o.id)}
              >
                <span className="key">{i + 1}</span> {o.title}
              </button>
            ))}
          </div>
        )}
        {observation.type === 'file' && (
          <div className="grid gap-2">
            <textarea
              ref={input}
              data-keys
              value={typed}
              onChange={(e) => {
                setTyped(e.target.value);
                setNote(null);
              }}
              disabled={skipped !== null || selected !== undefined}
              rows={6}
              maxLength={largestFile}
              spellCheck={false}
              aria-label={`${observation.title ?? observation.id}: paste its text`}
              placeholder={selected ? 'taken' : 'Paste the text here, or take the file in'}
              className="figure w-full text-sm"
            />
            <label className="button cursor-pointer">
              Take in a file
              <input type="file" onChange={takeFile} className="sr-only !min-h-0" disabled={selected !== undefined} />
            </label>
          </div>
        )}
        {message && asking === null && (
          <div className={`mt-2 ${doubt ? 'caution' : 'fault'}`} role="alert">
            <p>{message}</p>
            {doubt && (
              <p className="mt-1 flex flex-wrap gap-2">
                {doubt.suggestion && (
                  <button type="button" className="button" onClick={() => takeMeant()}>
                    Take {doubt.suggestion} <span className="key">{runKeys.meant.shown}</span>
                  </button>
                )}
                {doubt.keepable && (
                  <button type="button" className="button" onClick={() => setAsking('reason')}>
                    Keep {doubt.text} <span className="key">=</span>
                  </button>
                )}
              </p>
            )}
          </div>
        )}
        {skipped !== null ? (
          <div className="caution mt-2">
            <p>This was skipped: {skipped.reason || 'not wanted'}</p>
            <button type="button" data-keys className="button mt-2" onClick={() => act({ type: 'resumed', ...scope })}>
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
              observation.type !== 'choice' && (
                <button className="button button-main min-h-13 flex-1 !text-lg">Take the reading</button>
              )
            )}
            {observation.type === 'number' && !selected && (
              <button
                type="button"
                tabIndex={-1}
                className="button min-h-13"
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => {
                  setTyped(/^[-−]/.test(typed) ? typed.slice(1) : `-${typed.replace(/^\+/, '')}`);
                  setNote(null);
                }}
                aria-label="Change the sign"
              >
                ±
              </button>
            )}
            <button
              type="button"
              className="button min-h-13"
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => step(-1)}
              aria-label="Step back"
            >
              ↑ back
            </button>
          </div>
        )}
      </form>
      <ReferencePanel state={state} series={series} slot={slot} onItems={isRead ? null : (use) => setAsking({ items: use })} />
      {observation.instruction && <p className="text-sm">{filledText(state, observation.instruction, slot)}</p>}
      {observation.capture && observation.capture !== 'last' && (
        <p className="text-sm">Watch it, and type the {observation.capture} value that it shows.</p>
      )}
      {observation.settleSeconds !== undefined && !selected && (
        <Settling state={state} slot={slot} seconds={observation.settleSeconds} now={now} />
      )}
      {observation.caution && <p className="caution text-sm">{filledText(state, observation.caution, slot)}</p>}
      <p className="flex flex-wrap gap-2 text-sm">
        <button type="button" tabIndex={-1} className="button button-quiet !min-h-9" onClick={() => setAsking('skip')}>
          Skip <span className="key">k</span>
        </button>
        {state.procedure.conditions.length > 0 && (
          <button type="button" tabIndex={-1} className="button button-quiet !min-h-9" onClick={onConditions}>
            Conditions <span className="key">t</span>
          </button>
        )}
        <button type="button" tabIndex={-1} className="button button-quiet !min-h-9" onClick={() => setAsking('end')}>
          End here <span className="key">{runKeys.end.shown}</span>
        </button>
      </p>
      {series.sketch && <Sketch name={series.sketch} state={state} slot={slot} />}
    </div>
  );
}

/** How long it should stand yet, by the clock, since the reading before it. */
function Settling({ state, slot, seconds, now }: { state: RunState; slot: Slot; seconds: number; now: string }) {
  const before = [...state.live.values()]
    .filter((r) => r.slot.set === slot.set && r.slot.series === slot.series && r.slot.each === slot.each)
    .reduce((latest, r) => Math.max(latest, Date.parse(r.at)), -Infinity);
  const until = before + 1000 * seconds;
  if (until <= Date.parse(now)) return <p className="text-sm">Read it {seconds} s after it stands.</p>;
  return (
    <p className="text-lg" role="timer">
      Let it stand: <span className="figure">{timeLeft(new Date(until).toISOString(), now)}</span> of {seconds} s.
    </p>
  );
}
