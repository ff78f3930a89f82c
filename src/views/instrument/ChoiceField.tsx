import { Combobox } from '../../ui/Combobox';
import { Radio } from './Radio';
import type { BenchChoice } from './start-fields';

/** More options than this are chosen from a list. */
const mostBeside = 5;

/** A choice that is made before the first reading. */
export function ChoiceField({
  choice,
  value,
  onChoose,
}: {
  choice: BenchChoice;
  value: string;
  onChoose: (option: string) => void;
}) {
  const caution = choice.options.find((o) => o.id === value)?.caution;
  return choice.options.length > mostBeside ? (
    <div className="mt-4">
      <Combobox
        label={choice.title}
        value={value}
        options={choice.options.map((o) => ({ value: o.id, title: o.title ?? o.id }))}
        onChoose={onChoose}
      />
      {caution && <p className="caution mt-1">{caution}</p>}
    </div>
  ) : (
    <fieldset className="mt-4">
      <legend>{choice.title}</legend>
      {choice.options.map((o) => (
        <Radio key={o.id} name={`choice-${choice.id}`} isChecked={value === o.id} onChoose={() => onChoose(o.id)}>
          {o.title ?? o.id}
          {value === o.id && caution && <span className="caution mt-1 block">{caution}</span>}
        </Radio>
      ))}
    </fieldset>
  );
}
