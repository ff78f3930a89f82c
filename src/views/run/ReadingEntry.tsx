import type { ChangeEvent, KeyboardEvent, Ref } from 'react';
import type { SeriesDocument } from '../../core/procedure/document-schema';
import { placeTitle, seriesOf } from '../../core/run/place-words';
import type { Reading, Slot } from '../../core/state/run-state';
import { BigEntry } from '../../ui/BigEntry';
import { useRun } from './run-context';

const largestFile = 400_000;

type Props = {
  slot: Slot;
  observation: SeriesDocument['observe'][number];
  unit: string;
  entryRef: Ref<HTMLInputElement & HTMLTextAreaElement>;
  typed: string;
  /** What is taken there already. */ selected: Reading | undefined;
  isSkipped: boolean;
  onTyped: (text: string) => void;
  onTake: (text: string) => unknown;
  onRefused: (why: string) => void;
};

/** What a reading is given by: digits, one of some answers, or a file. */
export function ReadingEntry(props: Props) {
  switch (props.observation.type) {
    case 'choice':
      return <ChoiceEntry {...props} />;
    case 'file':
      return <FileEntry {...props} />;
    default:
      return <NumberEntry {...props} />;
  }
}

function NumberEntry({ slot, observation, unit, entryRef, typed, selected, isSkipped, onTyped }: Props) {
  const { state } = useRun();
  const where = placeTitle(state, slot) || seriesOf(state, slot.series)!.title;
  return (
    <BigEntry
      unit={unit}
      entryRef={entryRef}
      value={typed}
      onChange={(e) => onTyped(e.target.value)}
      disabled={isSkipped}
      inputMode="decimal"
      maxLength={20}
      aria-label={`${observation.title ?? observation.id}${unit ? ` in ${unit}` : ''}, ${where}, reading ${slot.repeat}`}
      placeholder={selected?.text ?? ''}
    />
  );
}

function ChoiceEntry({ observation, entryRef, selected, isSkipped, onTake }: Props) {
  /** A digit chooses. */
  function onChoiceKey(event: KeyboardEvent) {
    const option = selected ? undefined : observation.options?.[Number(event.key) - 1];
    if (!option) return;
    event.preventDefault();
    onTake(option.id);
  }
  return (
    <div className="grid gap-2" onKeyDown={onChoiceKey}>
      {observation.options?.map((o, i) => (
        <button
          key={o.id}
          ref={i === 0 ? (entryRef as never) : undefined}
          type="button"
          {...(i === 0 ? { 'data-keys': true } : {})}
          disabled={selected !== undefined || isSkipped}
          className={`button min-h-13 !justify-start !text-lg ${selected?.value === o.id ? 'button-main' : ''}`}
          onClick={() => onTake(o.id)}
        >
          <span className="key">{i + 1}</span> {o.title}
        </button>
      ))}
    </div>
  );
}

function FileEntry({ observation, entryRef, typed, selected, isSkipped, onTyped, onTake, onRefused }: Props) {
  async function takeFile(event: ChangeEvent<HTMLInputElement>) {
    const file = event.target.files?.[0];
    event.target.value = '';
    if (!file) return;
    if (file.size > largestFile) return onRefused(`${file.name} is larger than ${largestFile / 1000} kB.`);
    onTake(await file.text());
  }
  return (
    <div className="grid gap-2">
      <textarea
        ref={entryRef}
        data-keys
        value={typed}
        onChange={(e) => onTyped(e.target.value)}
        disabled={isSkipped || selected !== undefined}
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
  );
}
