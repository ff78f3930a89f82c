import { useMemo, useState, type FormEvent } from 'react';
import { parseBlockList } from '../../core/traceability/block-list';
import { askServer, type ServerRefusal } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { FormNumbers } from '../../ui/form-numbers';
import { guarded } from '../../ui/guarded';

export type StandardValues = {
  id: string | null;
  identification: string;
  designation: string;
  place: string;
  certificateIssuer: string;
  certificateNumber: string;
  certificateDate: string;
  due: string;
  coverageFactor: number;
  expansionCoefficient: number;
  blocks: string;
};

/** Enters a gauge-block set from its certificate. Runs keep the values they were measured with. */
export const StandardForm = guarded(function StandardForm({ values }: { values: StandardValues }) {
  const [blocks, setBlocks] = useState(values.blocks);
  const [refusal, setRefusal] = useState<ServerRefusal | null>(null);
  const list = useMemo(() => parseBlockList(blocks), [blocks]);
  const faultAt = (name: string) => (refusal?.path[0] === name ? refusal.message : undefined);

  async function save(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const words = (name: string) => String(form.get(name) ?? '');
    const numbers = new FormNumbers(form);
    const expansionCoefficient = numbers.at('expansionCoefficient', 1e-6);
    const coverageFactor = numbers.at('coverageFactor');
    const entry = {
      identification: words('identification'),
      kind: 'gauge-block-set',
      designation: words('designation'),
      place: words('place'),
      certificateIssuer: words('certificateIssuer'),
      certificateNumber: words('certificateNumber'),
      certificateDate: words('certificateDate'),
      due: words('due'),
      items: list.blocks.map((block) => ({
        ...block,
        coverageFactor,
        expansionCoefficient,
      })),
    };
    if (numbers.refusal) return setRefusal(numbers.refusal);
    const answer = await askServer<{ id: string }>(
      values.id ? 'PUT' : 'POST',
      values.id ? `/api/standards/${values.id}` : '/api/standards',
      entry,
    );
    if (answer.ok) window.location.assign(`/standards/${answer.body.id}`);
    else setRefusal(answer.refusal);
  }

  const input = (name: keyof StandardValues, more: Record<string, unknown> = {}) => (
    <input
      name={name}
      defaultValue={String(values[name] ?? '')}
      className="w-full"
      maxLength={120}
      aria-invalid={faultAt(name) ? true : undefined}
      {...more}
    />
  );

  return (
    <form onSubmit={save} className="mt-4 grid gap-8 lg:grid-cols-[1fr_1.2fr]">
      <div className="grid content-start gap-4">
        <Field label="Identification" hint="As engraved on the box" fault={faultAt('identification')}>
          {input('identification', { required: true, autoFocus: true })}
        </Field>
        <Field label="What it is" fault={faultAt('designation')}>
          {input('designation', { placeholder: 'Gauge blocks, steel, grade 1' })}
        </Field>
        <Field label="Place" fault={faultAt('place')}>
          {input('place')}
        </Field>
        <div className="grid grid-cols-2 gap-4">
          <Field label="Certificate issued by" fault={faultAt('certificateIssuer')}>
            {input('certificateIssuer', { required: true })}
          </Field>
          <Field label="Certificate number" fault={faultAt('certificateNumber')}>
            {input('certificateNumber', { required: true })}
          </Field>
          <Field label="Date" fault={faultAt('certificateDate')}>
            {input('certificateDate', { type: 'date', required: true })}
          </Field>
          <Field label="Due" fault={faultAt('due')}>
            {input('due', { type: 'date', required: true })}
          </Field>
          <Field label="Coverage factor k" hint="Of all blocks" fault={faultAt('coverageFactor')}>
            {input('coverageFactor', { inputMode: 'decimal', required: true, className: 'figure w-full' })}
          </Field>
          <Field label="Expansion coefficient, 10⁻⁶ per K" hint="Steel: 11.5" fault={faultAt('expansionCoefficient')}>
            {input('expansionCoefficient', {
              inputMode: 'decimal',
              required: true,
              className: 'figure w-full',
              defaultValue: String(Number((values.expansionCoefficient * 1e6).toPrecision(6))),
            })}
          </Field>
        </div>
      </div>
      <div>
        <Field
          label="Blocks, a line each: nominal mm, certified mm, U in µm"
          hint="Type or paste the table of the certificate. Comma or point; tabs, semicolons or spaces between."
          fault={faultAt('items')}
        >
          <textarea
            value={blocks}
            onChange={(e) => setBlocks(e.target.value)}
            rows={18}
            className="figure w-full !whitespace-pre"
            spellCheck={false}
            placeholder={'1.005   1.00503   0.06\n1.01    1.00996   0.06'}
            maxLength={40_000}
          />
        </Field>
        <p className="mt-2 font-bold" aria-live="polite">
          {list.blocks.length} {list.blocks.length === 1 ? 'block' : 'blocks'} read
        </p>
        {list.faults.slice(0, 6).map((f) => (
          <p key={f.line} className="fault mt-2 text-sm">
            Line {f.line}: {f.message}
          </p>
        ))}
      </div>
      <div className="lg:col-span-2">
        {refusal && (
          <p className="fault mb-4" role="alert">
            {refusal.message}
          </p>
        )}
        <div className="flex gap-3">
          <button className="button button-main" disabled={list.blocks.length === 0 || list.faults.length > 0}>
            {values.id ? 'Save' : 'Enter the set'}
          </button>
          <a href={values.id ? `/standards/${values.id}` : '/standards'} className="button button-quiet">
            Cancel
          </a>
        </div>
      </div>
    </form>
  );
});
