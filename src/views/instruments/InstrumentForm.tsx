import { useState, type FormEvent } from 'react';
import { printedUnit } from '../../core/quantity/unit';
import { parseCertificateTable, type TableColumn } from '../../core/standard/certificate-table';
import type { InstrumentSnapshot } from '../../core/log/event-schema';
import type { InstrumentDeclaration } from '../../core/procedure/declarations';
import { dayField } from '../../ui/date-input';
import { askServer, type ServerRefusal } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { FormNumbers } from '../../ui/form-numbers';
import { guarded } from '../../ui/guarded';
import { kindTitle } from './kind-title';

type Numbers = 'lower' | 'upper' | 'usedLower' | 'usedUpper' | 'resolution';
/** An entry of the register; numbers are missing until they are typed. */
export type InstrumentValues = Pick<
  InstrumentSnapshot,
  | 'identification'
  | 'serialNumber'
  | 'kind'
  | 'designation'
  | 'owner'
  | 'ownerAddress'
  | 'nextDateWanted'
  | 'place'
  | 'unit'
  | 'characteristics'
  | 'lists'
  | 'parts'
  | 'stored'
  | 'decisionRule'
  | 'adjustmentAllowed'
  | 'intervalMonths'
> &
  Record<Numbers, number | null> & { id: string | null; state: 'in-use' | 'out-of-use'; nextDue: string | null };

type List = InstrumentDeclaration['lists'][number];

/** Rows of a list as text: id, title, then its columns; a line a row. */
const columnsOf = (list: List): TableColumn[] => [
  { id: 'id', title: 'id', type: 'text' },
  { id: 'title', title: 'title', type: 'text' },
  ...list.columns.map((c): TableColumn => ({
    id: c.id,
    title: c.title,
    ...(c.type === 'text' ? { type: 'text' as const } : {}),
  })),
];
const listText = (list: List, rows: InstrumentValues['lists'][string] | undefined): string =>
  (rows ?? [])
    .map((r) =>
      columnsOf(list)
        .map((c) => String((r as Record<string, unknown>)[c.id] ?? '–'))
        .join('; '),
    )
    .join('\n');

/** Registers an instrument, or changes its entry. What is asked follows its kind; runs keep what was true when they began. */
export const InstrumentForm = guarded(function InstrumentForm({
  values,
  declarations,
}: {
  values: InstrumentValues;
  declarations: InstrumentDeclaration[];
}) {
  const [refusal, setRefusal] = useState<ServerRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  const [kind, setKind] = useState(values.kind);
  const [unit, setUnit] = useState(values.unit);
  const declared = declarations.find((d) => d.kind === kind);
  const faultAt = (name: string) =>
    refusal && (refusal.path[0] === name || refusal.path.join('.') === name) ? refusal.message : undefined;

  async function save(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const numbers = new FormNumbers(form);
    const words = (name: string) => String(form.get(name) ?? '').trim();
    const lists: Record<string, unknown[]> = {};
    for (const list of declared?.lists ?? []) {
      const { rows, faults } = parseCertificateTable(words(`lists.${list.id}`), columnsOf(list));
      if (faults[0])
        return setRefusal({
          status: 422,
          message: `${list.title}, line ${faults[0].line}: ${faults[0].message}`,
          path: [`lists.${list.id}`],
          details: {},
        });
      if (rows.length) lists[list.id] = rows;
    }
    const characteristics: Record<string, number | string> = {};
    for (const c of declared?.characteristics ?? []) {
      const name = `characteristics.${c.id}`;
      if (words(name) === '') continue;
      const value = c.type === 'text' ? words(name) : numbers.at(name);
      if (value !== null) characteristics[c.id] = value;
    }
    // Only what was typed here: a run may have stored something since the form was opened.
    const stored: Record<string, number | null> = {};
    for (const s of declared?.stored ?? []) {
      const value = numbers.at(`stored.${s.id}`);
      if (value !== storedNumber(values, s.id)) stored[s.id] = value;
    }
    const entry = {
      identification: words('identification'),
      serialNumber: words('serialNumber'),
      kind,
      designation: words('designation'),
      owner: words('owner'),
      ownerAddress: words('ownerAddress'),
      place: words('place'),
      unit,
      lower: numbers.at('lower'),
      upper: numbers.at('upper'),
      usedLower: numbers.at('usedLower') ?? numbers.at('lower'),
      usedUpper: numbers.at('usedUpper') ?? numbers.at('upper'),
      resolution: numbers.at('resolution'),
      // What another procedure asked for stays, though this form does not show it.
      characteristics: { ...hidden(values.characteristics, declared?.characteristics), ...characteristics },
      lists: { ...hidden(values.lists, declared?.lists), ...lists },
      parts: {
        ...hidden(values.parts, declared?.parts),
        ...Object.fromEntries(
          (declared?.parts ?? []).flatMap((p) => (words(`parts.${p.id}`) ? [[p.id, words(`parts.${p.id}`)]] : [])),
        ),
      },
      stored,
      decisionRule: values.decisionRule,
      adjustmentAllowed: form.get('adjustmentAllowed') === 'on',
      nextDateWanted: form.get('nextDateWanted') === 'on',
      intervalMonths: numbers.at('intervalMonths'),
      state: form.get('outOfUse') === 'on' ? 'out-of-use' : 'in-use',
      nextDue: words('nextDue') || null,
    };
    if (numbers.refusal) return setRefusal(numbers.refusal);
    setBusy(true);
    const answer = await askServer<{ id: string }>(
      values.id ? 'PUT' : 'POST',
      values.id ? `/api/instruments/${values.id}` : '/api/instruments',
      entry,
    );
    setBusy(false);
    if (answer.ok) window.location.assign(`/instruments/${answer.body.id}`);
    else setRefusal(answer.refusal);
  }

  const input = (name: string, value: string | number | null | undefined, more: Record<string, unknown> = {}) => (
    <input
      name={name}
      defaultValue={value === null || value === undefined ? '' : String(value)}
      className="w-full"
      maxLength={120}
      aria-invalid={faultAt(name) ? true : undefined}
      {...more}
    />
  );
  const figure = { inputMode: 'decimal', className: 'figure w-full' };
  const withUnit = (title: string) => (unit ? `${title}, ${printedUnit(unit)}` : title);

  return (
    <form onSubmit={save} className="mt-4 max-w-3xl">
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
        <Field label="Kind" hint="Decides which procedures serve it" fault={faultAt('kind')}>
          <select value={kind} onChange={(e) => setKind(e.target.value)} className="w-full" autoFocus={values.id === null}>
            {[...new Set([...declarations.map((d) => d.kind), ...(kind ? [kind] : [])])].map((k) => (
              <option key={k} value={k}>
                {kindTitle(k)}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Unit" hint="UCUM: mm, g, Cel, kPa, V" fault={faultAt('unit')}>
          <input
            value={unit}
            onChange={(e) => setUnit(e.target.value.trim())}
            className="figure w-full"
            maxLength={20}
            required
          />
        </Field>
        <Field label="Identification" hint="As engraved or on its label" fault={faultAt('identification')}>
          {input('identification', values.identification, { required: true })}
        </Field>
        <Field label="Serial number" fault={faultAt('serialNumber')}>
          {input('serialNumber', values.serialNumber)}
        </Field>
        <Field label="Make and type" fault={faultAt('designation')}>
          {input('designation', values.designation)}
        </Field>
        <Field label="Owner" fault={faultAt('owner')}>
          {input('owner', values.owner, { required: true })}
        </Field>
        <Field label="Address of the owner" hint="As certificates state it" fault={faultAt('ownerAddress')}>
          {input('ownerAddress', values.ownerAddress)}
        </Field>
        <Field label="Place" fault={faultAt('place')}>
          {input('place', values.place)}
        </Field>
        <Field label={withUnit('Resolution')} hint="One step of what it shows" fault={faultAt('resolution')}>
          {input('resolution', values.resolution, { ...figure, required: true })}
        </Field>
        <fieldset className="grid grid-cols-2 gap-3">
          <legend className="font-bold">Range of the instrument</legend>
          <Field label={withUnit('from')} fault={faultAt('lower')}>
            {input('lower', values.lower, { ...figure, required: true })}
          </Field>
          <Field label={withUnit('to')} fault={faultAt('upper')}>
            {input('upper', values.upper, { ...figure, required: true })}
          </Field>
        </fieldset>
        <fieldset className="grid grid-cols-2 gap-3">
          <legend className="font-bold">Range to be calibrated</legend>
          <Field label={withUnit('from')} fault={faultAt('usedLower')}>
            {input('usedLower', values.usedLower, { ...figure, placeholder: 'as above' })}
          </Field>
          <Field label={withUnit('to')} fault={faultAt('usedUpper')}>
            {input('usedUpper', values.usedUpper, { ...figure, placeholder: 'as above' })}
          </Field>
        </fieldset>
        {declared?.characteristics.map((c) => (
          <Field
            key={`${kind}.${c.id}`}
            label={`${c.title}${typeof c.unit === 'string' && c.unit !== '1' ? `, ${printedUnit(c.unit)}` : ''}`}
            hint={c.default === undefined ? '' : `Empty: ${String(c.default)}`}
            fault={faultAt(`characteristics.${c.id}`)}
          >
            {input(`characteristics.${c.id}`, values.characteristics[c.id], c.type === 'text' ? {} : figure)}
          </Field>
        ))}
        {declared?.parts.map((p) => (
          <Field key={`${kind}.${p.id}`} label={`${p.title}: number on it`} fault={faultAt(`parts.${p.id}`)}>
            {input(`parts.${p.id}`, values.parts[p.id])}
          </Field>
        ))}
        {declared?.stored.map((s) => (
          <Field
            key={`${kind}.${s.id}`}
            label={`${s.title}, now${typeof s.unit === 'string' && s.unit !== '1' ? `, ${printedUnit(s.unit)}` : ''}`}
            hint="Empty: not known. Set anew by each adjustment"
            fault={faultAt(`stored.${s.id}`)}
          >
            {input(`stored.${s.id}`, storedNumber(values, s.id), figure)}
          </Field>
        ))}
        <Field label="Interval, months" hint="Empty: the procedure's policy" fault={faultAt('intervalMonths')}>
          {input('intervalMonths', values.intervalMonths, { inputMode: 'numeric', className: 'figure w-full' })}
        </Field>
        <Field label="Next calibration due" hint="Set anew by each run" fault={faultAt('nextDue')}>
          {input('nextDue', values.nextDue, dayField)}
        </Field>
        {declared?.lists.map((list) => (
          <div key={`${kind}.${list.id}`} className="sm:col-span-2">
            <Field
              label={`${list.title}, a line each: ${columnsOf(list)
                .map((c) => c.title)
                .join('; ')}`}
              fault={faultAt(`lists.${list.id}`)}
            >
              <textarea
                name={`lists.${list.id}`}
                defaultValue={listText(list, values.lists[list.id])}
                rows={4}
                className="figure w-full"
                spellCheck={false}
                maxLength={8000}
              />
            </Field>
          </div>
        ))}
      </div>
      <div className="mt-5 flex flex-col gap-3">
        <label className="flex items-center gap-3">
          <input type="checkbox" name="adjustmentAllowed" defaultChecked={values.adjustmentAllowed} />
          The owner allows adjustment
        </label>
        <label className="flex items-center gap-3">
          <input type="checkbox" name="nextDateWanted" defaultChecked={values.nextDateWanted} />
          The owner wants the next date on the certificate
        </label>
        <label className="flex items-center gap-3">
          <input type="checkbox" name="outOfUse" defaultChecked={values.state === 'out-of-use'} />
          Out of use: it is not planned and cannot be put on the bench
        </label>
      </div>
      {refusal && (
        <p className="fault mt-4" role="alert">
          {refusal.message}
        </p>
      )}
      <div className="mt-5 flex gap-3">
        <button className="button button-main" disabled={busy}>
          {values.id ? 'Save' : 'Register'}
        </button>
        <a href={values.id ? `/instruments/${values.id}` : '/instruments'} className="button button-quiet">
          Cancel
        </a>
      </div>
    </form>
  );
});

const storedNumber = ({ stored }: InstrumentValues, id: string): number | null => {
  const value = stored[id];
  return typeof value === 'number' ? value : null;
};

/** Members that no declaration of this form names. */
const hidden = <T,>(all: Record<string, T>, declared: readonly { id: string }[] | undefined): Record<string, T> =>
  Object.fromEntries(Object.entries(all).filter(([id]) => !declared?.some((d) => d.id === id)));
