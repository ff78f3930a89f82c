import { readingBeside } from '../../core/run/open-readings';
import { useEffect, useRef, useState, type FormEvent } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { printedUnit } from '../../core/quantity/unit';
import { filledText, placeTitle, seriesOf } from '../../core/run/place-words';
import { sentenceOf } from '../../core/run/next-step';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import { placeOf, slotKey } from '../../core/state/place-keys';
import { skipOf } from '../../core/state/progress';
import type { Slot } from '../../core/state/run-state';
import { later } from '../../ui/later';
import { timeOfDay } from '../../ui/clock';
import { AgreementNote } from './AgreementNote';
import { CardNote } from './CardNote';
import { DoubtNote, type Doubt } from './DoubtNote';
import { runKeys } from './keymap';
import { ReadingEntry } from './ReadingEntry';
import { ReadingQuestion, type Asking } from './ReadingQuestion';
import { itemUses, ReferencePanel } from './ReferencePanel';
import type { OpenResult } from './SeriesSheet';
import { Settling } from './Settling';
import { useDraft } from './use-draft';
import { useRun } from './run-context';

const Sketch = later(async () => (await import('../sketches/Sketch')).Sketch);

type Props = {
  slot: Slot;
  onCursor: (slot: Slot | null) => void;
  /** Steps elsewhere than to the reading beside it in this run. */ onStep?: (by: 1 | -1) => void;
  onConditions: () => void;
  onOpen: (result: OpenResult) => void;
};

type Note = { slot: string; message: string; doubt: Doubt | null };

/** Takes the readings of a set: digits and Enter; everything else is a key away. */
export function ReadingPanel({ slot, onCursor, onStep, onConditions, onOpen }: Props) {
  const { run, state, act, now } = useRun();
  const here = slotKey(slot);
  const [typed, setTyped] = useDraft(run, here);
  /** What was said about this slot, and a text that looked implausible and was asked about once. */
  const [note, setNote] = useState<Note | null>(null);
  const { message = '', doubt = null } = note?.slot === here ? note : {};
  const say = (text: string, about: Doubt | null = null) => setNote(text ? { slot: here, message: text, doubt: about } : null);
  const [asking, setAsking] = useState<Asking | null>(null);
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

  const isAsked = asking !== null && (asking !== 'strike' || selected) && (asking !== 'reason' || doubt);
  if (isAsked)
    return (
      <ReadingQuestion
        asking={asking}
        slot={slot}
        series={series}
        scope={scope}
        selected={selected && { reading: selected, words: observation.type === 'number' ? `${selected.text} ${unit}` : 'this' }}
        doubted={doubt && { message, doubt }}
        onKeep={(text, reason) => take(text, { confirmed: true, reason })}
        onDone={(cursor) => {
          setAsking(null);
          onCursor(cursor);
        }}
        onBack={() => setAsking(null)}
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
        <ReadingEntry
          slot={slot}
          observation={observation}
          unit={unit}
          entryRef={input}
          typed={typed}
          selected={selected}
          isSkipped={skipped !== null}
          onTyped={(text) => {
            setTyped(text);
            setNote(null);
          }}
          onTake={take}
          onRefused={say}
        />
        {message && asking === null && (
          <DoubtNote message={message} doubt={doubt} onMeant={takeMeant} onKeep={() => setAsking('reason')} />
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
      <CardNote moments={[`${slot.series}.${slot.observation}`]} place={slot} />
      <ReferencePanel state={state} series={series} slot={slot} onItems={isRead ? null : (use) => setAsking({ items: use })} />
      {observation.instruction && <p className="text-sm">{filledText(state, observation.instruction, slot)}</p>}
      {observation.capture && observation.capture !== 'last' && (
        <p className="text-sm">Watch it, and type the {observation.capture} value that it shows.</p>
      )}
      {observation.settleSeconds !== undefined && !selected && (
        <Settling state={state} slot={slot} seconds={observation.settleSeconds} now={now} />
      )}
      {!selected && <AgreementNote state={state} slot={slot} />}
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
