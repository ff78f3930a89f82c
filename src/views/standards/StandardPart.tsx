import { useMemo } from 'react';
import { useFormContext } from 'react-hook-form';
import type { StandardDeclaration } from '../../core/document/declarations';
import type { StandardDocument } from '../../core/standard/standard-schema';
import { plainTitles, readStandardTable, type FurtherColumn } from '../../core/standard/standard-table';
import { Combobox } from '../../ui/Combobox';
import { Field } from '../../ui/Field';
import { faultIn, FormInput, FormInputs } from '../../ui/form/FormFields';
import {
  contentTitles,
  functionFields,
  functionNames,
  furtherColumns,
  isTable,
  partFields,
  type StandardTyped,
} from './standard-fields';

/** How a table is pasted, with the columns that procedures ask for beside those of every table. */
const pasteHint = (further: readonly FurtherColumn[]): string =>
  `Paste the table of the certificate with its headings: serial, nominal, deviation (µm), U (µm), k${further.map((f) => `, ${f.title.toLowerCase()}`).join('')} and what is asked of each line are found by name. Comma or point; tabs, semicolons, commas or spaces between.`;

/** What the certificate states of a standard, or of one part of it: a table, a function, or the whole as a document. */
export function StandardPart({
  index,
  isOne,
  declared,
  former,
  onRemove,
}: {
  index: number;
  /** It is the standard itself: it has no name of its own. */ isOne: boolean;
  declared: StandardDeclaration | undefined;
  former: StandardDocument;
  onRemove: (() => void) | null;
}) {
  const form = useFormContext<StandardTyped>();
  const at = `parts.${index}` as const;
  const [content, table, unit, smallUnit, id] = form.watch([
    `${at}.content`,
    `${at}.table`,
    `${at}.unit`,
    `${at}.smallUnit`,
    `${at}.id`,
  ]);
  const name = form.watch(`${at}.function.name`);
  const { errors } = form.formState;
  const columns = new Set(declared?.columns);
  const further = useMemo(() => furtherColumns(declared, former), [declared, former]);
  const list = useMemo(
    () => (isTable(content) ? readStandardTable(table, content, unit.trim(), smallUnit.trim(), further) : null),
    [table, content, unit, smallUnit, further],
  );
  // What the server or the entry's schema says of a certified value stands with the table.
  const beneath = isOne ? `document.${content}` : `document.parts.${index}`;
  const tableFault = faultIn(errors, `${at}.table`) ?? faultIn(errors, beneath);
  const kinds = Object.entries(contentTitles).filter(([kind]) => kind !== 'document' || isOne);
  return (
    <fieldset className={isOne ? '' : 'border-t border-rule-strong pt-3'}>
      <div className={isOne ? '' : 'grid grid-cols-[1fr_2fr_auto] items-end gap-4'}>
        {!isOne && <FormInput field={{ name: `${at}.id`, title: 'Part, as procedures name it', type: 'text', isWanted: true }} />}
        <Field label="What its certificate states">
          <select {...form.register(`${at}.content`)} className="w-full">
            {kinds.map(([kind, title]) => (
              <option key={kind} value={kind}>
                {title}
              </option>
            ))}
          </select>
        </Field>
        {onRemove && (
          <button type="button" className="button button-quiet" onClick={onRemove} aria-label={`Take away the part ${id}`}>
            Take away
          </button>
        )}
      </div>
      {content !== 'document' && (
        <div className="mt-4 grid grid-cols-3 gap-4">
          <FormInputs fields={partFields(index, content)} />
        </div>
      )}
      {list && isTable(content) && (
        <>
          <div className="mt-4">
            <Field
              label={`A line each: ${plainTitles[content]}`}
              {...(index === 0 ? { hint: pasteHint(further.filter((f) => columns.has(f.id))) } : {})}
              fault={tableFault}
            >
              <textarea
                {...form.register(`${at}.table`)}
                rows={isOne ? 14 : 5}
                className="figure w-full !whitespace-pre"
                spellCheck={false}
                maxLength={80_000}
              />
            </Field>
          </div>
          <p className="mt-2" aria-live="polite">
            <span className="font-bold">
              {list.rows.length} {list.rows.length === 1 ? 'line' : 'lines'} read
            </span>
            {list.rows.length > 0 && <span className="text-soft">: {list.columns.join(' · ')}</span>}
          </p>
          {!tableFault &&
            list.faults.slice(0, 6).map((f, i) => (
              <p key={i} className="fault mt-2 text-sm">
                Line {f.line}: {f.message}
              </p>
            ))}
        </>
      )}
      {content === 'function' && (
        <div className="mt-4 flex flex-col gap-4">
          <Combobox
            label="Function"
            value={name}
            options={functionNames}
            onChoose={(chosen) => form.setValue(`${at}.function.name`, chosen, { shouldTouch: true, shouldDirty: true })}
            fault={faultIn(errors, `${at}.function.name`) ?? faultIn(errors, beneath)}
          />
          <div className="grid grid-cols-2 gap-4">
            <FormInputs fields={functionFields(index, name)} />
          </div>
        </div>
      )}
      {content === 'document' && (
        <div className="mt-4">
          <Field
            label="The standard as a document"
            hint="just-twice/standard, version 1"
            fault={faultIn(errors, 'source') ?? faultIn(errors, 'document')}
          >
            <textarea
              {...form.register('source')}
              rows={20}
              className="w-full font-mono text-sm"
              spellCheck={false}
              maxLength={400_000}
              placeholder='{ "format": "just-twice/standard", "version": 1, … }'
            />
          </Field>
        </div>
      )}
    </fieldset>
  );
}
