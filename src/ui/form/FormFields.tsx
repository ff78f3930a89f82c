import { get, useFormContext, type FieldErrors } from 'react-hook-form';
import { printedUnit, unitCodes } from '../../core/quantity/unit';
import { Combobox } from '../Combobox';
import { dayField } from '../date-input';
import { Field } from '../Field';

/** A field of a form, as a declaration or the register itself asks for it. Its name is its path in what is sent. */
export type FormField = {
  name: string;
  title: string;
  type: 'text' | 'number' | 'whole' | 'day' | 'check' | 'rows' | 'unit' | 'choice';
  /** Of a choice, in their order. */ options?: readonly { value: string; title: string }[];
  unit?: string;
  hint?: string;
  placeholder?: string;
  isWanted?: boolean;
  longest?: number;
  isFocused?: boolean;
};

/** Every message in a part of what is wrong with a form. */
export function faultsIn(node: unknown): string[] {
  if (node === null || typeof node !== 'object') return [];
  const { message } = node as { message?: unknown };
  if (typeof message === 'string') return [message];
  // The field itself hangs there too.
  return Object.entries(node).flatMap(([key, child]) => (key === 'ref' ? [] : faultsIn(child)));
}

/** The first message at a place of the form or anywhere below it. */
export const faultIn = (errors: FieldErrors, name: string): string | undefined => faultsIn(get(errors, name))[0];

const figures = { className: 'figure w-full', autoComplete: 'off' };
const looks = {
  text: { className: 'w-full', autoComplete: 'off' },
  number: { ...figures, inputMode: 'decimal' },
  whole: { ...figures, inputMode: 'numeric' },
  day: { ...dayField, className: 'figure w-full' },
} as const;

/** One field, with what is wrong with it under it. */
export function FormInput({ field }: { field: FormField }) {
  const { register, formState } = useFormContext();
  const { name, type, hint, unit, isWanted, longest = 120 } = field;
  const fault = faultIn(formState.errors, name);
  const title = unit && unit !== '1' ? `${field.title}, ${printedUnit(unit)}` : field.title;
  const marks = { 'aria-invalid': fault ? true : undefined, 'aria-required': isWanted || undefined };
  if (type === 'unit') return <UnitInput field={field} fault={fault} />;
  if (type === 'check')
    return (
      <label className="flex items-center gap-3">
        <input type="checkbox" {...register(name)} />
        {field.title}
      </label>
    );
  return (
    <Field label={title} fault={fault} {...(hint ? { hint } : {})}>
      {type === 'choice' ? (
        <select className="w-full" {...marks} {...register(name)}>
          {field.options?.map((o) => (
            <option key={o.value} value={o.value}>
              {o.title}
            </option>
          ))}
        </select>
      ) : type === 'rows' ? (
        <textarea rows={4} className="figure w-full" spellCheck={false} maxLength={longest} {...marks} {...register(name)} />
      ) : (
        <input
          {...looks[type]}
          {...(type === 'day' ? {} : { maxLength: longest })}
          {...(field.placeholder ? { placeholder: field.placeholder } : {})}
          {...marks}
          {...register(name)}
          autoFocus={field.isFocused}
        />
      )}
    </Field>
  );
}

const unitOptions = unitCodes
  .filter((code) => code !== '1')
  .map((code) => ({ value: code, title: printedUnit(code) === code ? code : `${printedUnit(code)} (${code})` }));

/** A unit of the list, or the code of another. */
function UnitInput({ field, fault }: { field: FormField; fault: string | undefined }) {
  const { setValue, watch } = useFormContext();
  const set = (value: string) => setValue(field.name, value, { shouldDirty: true, shouldTouch: true, shouldValidate: true });
  return (
    <Combobox
      label={field.title}
      value={watch(field.name) as string}
      options={unitOptions}
      onChoose={set}
      onOther={set}
      fault={fault}
      {...(field.hint ? { hint: field.hint } : {})}
    />
  );
}

export const FormInputs = ({ fields }: { fields: readonly FormField[] }) =>
  fields.map((field) => <FormInput key={field.name} field={field} />);
