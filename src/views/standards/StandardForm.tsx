import { useMemo, useState, type FormEvent } from 'react';
import { parseCertificateTable, type TableColumn } from '../../core/standard/certificate-table';
import { convertDifference, printedUnit } from '../../core/quantity/unit';
import type { StandardDocument } from '../../core/standard/standard-schema';
import type { StandardDeclaration } from '../../core/procedure/declarations';
import { dayField } from '../../ui/date-input';
import { notWhole } from '../../ui/not-whole';
import { askServer, type ServerRefusal } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { FormNumbers } from '../../ui/form-numbers';
import { guarded } from '../../ui/guarded';

export type StandardValues = { id: string | null; place: string; document: StandardDocument };
type Content = 'items' | 'corrections' | 'values' | 'nothing' | 'document';

const contentTitles: Record<Content, string> = {
  items: 'Single items, each with its marking',
  corrections: 'Corrections to what it shows',
  values: 'Values over an argument',
  nothing: 'No certified values',
  document: 'As a document (parts, functions)',
};

const base: Record<'items' | 'corrections' | 'values', TableColumn[]> = {
  items: [
    { id: 'marking', title: 'marking', type: 'text' },
    { id: 'nominal', title: 'nominal' },
    { id: 'certified', title: 'certified' },
    { id: 'expandedUncertainty', title: 'U' },
  ],
  corrections: [
    { id: 'at', title: 'shows' },
    { id: 'correction', title: 'correction' },
    { id: 'expandedUncertainty', title: 'U' },
  ],
  values: [
    { id: 'at', title: 'at' },
    { id: 'value', title: 'value' },
    { id: 'expandedUncertainty', title: 'U' },
  ],
};

const contentOf = (d: StandardDocument): Content => {
  if (d.parts || d.function) return 'document';
  return d.items ? 'items' : d.corrections ? 'corrections' : d.values ? 'values' : 'nothing';
};

/** The table of a document as text, one line a row. */
function tableText(d: StandardDocument): string {
  const number = (n: number) => String(Number(n.toPrecision(12)));
  const lines = d.items
    ? d.items.map((i) => [
        (i.marking || String(i.nominal)).replace(/\s+/g, '_'),
        number(i.nominal),
        number(i.certified),
        number(i.expandedUncertainty),
      ])
    : (d.corrections?.map((c) => [number(c.at), number(c.correction), number(c.expandedUncertainty)]) ??
      d.values?.map((v) => [number(v.at), number(v.value), number(v.expandedUncertainty)]) ??
      []);
  return lines.map((l) => l.join('\t')).join('\n');
}

/** Enters a standard from its certificate. Runs keep the values they were measured with; a former certificate is kept too. */
export const StandardForm = guarded(function StandardForm({
  values,
  declarations,
}: {
  values: StandardValues;
  declarations: StandardDeclaration[];
}) {
  const d = values.document;
  const [kind, setKind] = useState(d.kind);
  const [content, setContent] = useState<Content>(contentOf(d));
  const [table, setTable] = useState(tableText(d));
  const [source, setSource] = useState(contentOf(d) === 'document' ? JSON.stringify(d, null, 2) : '');
  const [refusal, setRefusal] = useState<ServerRefusal | null>(null);
  const declared = declarations.find((x) => x.kind === kind);
  const columns = content === 'items' || content === 'corrections' || content === 'values' ? base[content] : null;
  const list = useMemo(() => (columns ? parseCertificateTable(table, columns) : null), [table, columns]);
  const faultAt = (...path: string[]) =>
    refusal && path.every((p, i) => String(refusal.path[i] ?? '') === p) ? refusal.message : undefined;

  async function send(what: { place: string; document: unknown }) {
    // Saved once more after values that jumped were shown: they were looked at.
    const entry = { ...what, jumpsSeen: refusal?.details['jumps'] !== undefined };
    const answer = await askServer<{ id: string }>(
      values.id ? 'PUT' : 'POST',
      values.id ? `/api/standards/${values.id}` : '/api/standards',
      entry,
    );
    if (answer.ok) window.location.assign(`/standards/${answer.body.id}`);
    else setRefusal(answer.refusal);
  }

  async function save(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const words = (name: string) => String(form.get(name) ?? '').trim();
    if (content === 'document') {
      try {
        return await send({ place: words('place'), document: JSON.parse(source) as unknown });
      } catch (error) {
        return setRefusal({
          status: 422,
          message: notWhole(error),
          path: ['document'],
          details: {},
        });
      }
    }
    const numbers = new FormNumbers(form);
    const coverageFactor = numbers.at('coverageFactor') ?? 2;
    const resolution = numbers.at('resolution');
    const unit = words('unit');
    const given = words('uncertaintyUnit') || unit;
    const properties = Object.fromEntries(
      (declared?.properties ?? []).flatMap((p) => {
        const value = numbers.at(`property.${p.id}`);
        return value === null ? [] : [[p.id, value]];
      }),
    );
    if (numbers.refusal) return setRefusal(numbers.refusal);
    let rows: Record<string, number | string>[] = [];
    try {
      rows = (list?.rows ?? []).map((r) => ({
        ...r,
        expandedUncertainty: Number(convertDifference(Number(r['expandedUncertainty']), given, unit).toPrecision(12)),
        coverageFactor,
      }));
    } catch {
      return setRefusal({
        status: 422,
        message: `${given} cannot be turned into ${unit}.`,
        path: ['uncertaintyUnit'],
        details: {},
      });
    }
    const certificate = {
      issuer: words('issuer'),
      number: words('number'),
      date: words('date'),
      ...(words('due') ? { due: words('due') } : {}),
    };
    const hasCertificate = certificate.issuer !== '' || certificate.number !== '' || certificate.date !== '';
    // Properties of items that were entered as a document stay with the item of the same marking.
    const former = new Map((d.items ?? []).map((i) => [i.marking || String(i.nominal), i]));
    const items = rows.map((r) => {
      const old = former.get(String(r['marking']));
      return {
        ...r,
        id: old?.id ?? String(r['marking']),
        ...(old?.properties ? { properties: old.properties } : {}),
        ...(old?.dof ? { dof: old.dof } : {}),
      };
    });
    await send({
      place: words('place'),
      document: {
        format: 'just-twice/standard',
        version: 1,
        identification: words('identification'),
        kind,
        designation: words('designation'),
        ...(hasCertificate ? { certificate } : {}),
        ...(unit ? { unit } : {}),
        ...(resolution === null ? {} : { resolution }),
        ...(content === 'items' && rows.length ? { items } : {}),
        ...(content === 'corrections' && rows.length ? { corrections: rows } : {}),
        ...(content === 'values' && rows.length ? { values: rows } : {}),
        ...(d.argument ? { argument: d.argument } : {}),
        ...(Object.keys(properties).length ? { properties } : {}),
        ...(d.lot ? { lot: d.lot } : {}),
      },
    });
  }

  const input = (name: string, value: string | number | undefined, more: Record<string, unknown> = {}) => (
    <input name={name} defaultValue={value === undefined ? '' : String(value)} className="w-full" maxLength={120} {...more} />
  );
  const figure = { inputMode: 'decimal', className: 'figure w-full' };
  const first = d.items?.[0] ?? d.corrections?.[0] ?? d.values?.[0];

  return (
    <form onSubmit={save} className="mt-4 grid gap-8 lg:grid-cols-[1fr_1.2fr]">
      <div className="grid content-start gap-4">
        <Field label="Kind" hint="As the procedures name it" fault={faultAt('document', 'kind')}>
          <input
            value={kind}
            onChange={(e) => setKind(e.target.value)}
            list="standard-kinds"
            required
            maxLength={60}
            className="w-full"
            autoFocus={values.id === null}
          />
          <datalist id="standard-kinds">
            {declarations.map((x) => (
              <option key={x.kind} value={x.kind}>
                {x.title}
              </option>
            ))}
          </datalist>
        </Field>
        <Field label="Place" fault={faultAt('place')}>
          {input('place', values.place)}
        </Field>
        {content !== 'document' && (
          <>
            <Field label="Identification" hint="As engraved" fault={faultAt('document', 'identification')}>
              {input('identification', d.identification, { required: true })}
            </Field>
            <Field label="What it is">{input('designation', d.designation)}</Field>
            <div className="grid grid-cols-2 gap-4">
              <Field label="Certificate issued by" fault={faultAt('document', 'certificate', 'issuer')}>
                {input('issuer', d.certificate?.issuer)}
              </Field>
              <Field label="Certificate number" fault={faultAt('document', 'certificate', 'number')}>
                {input('number', d.certificate?.number)}
              </Field>
              <Field label="Date" fault={faultAt('document', 'certificate', 'date')}>
                {input('date', d.certificate?.date, dayField)}
              </Field>
              <Field label="Due" fault={faultAt('document', 'certificate', 'due')}>
                {input('due', d.certificate?.due, dayField)}
              </Field>
              <Field label="Unit" hint="UCUM: mm, g, Cel, kPa, mA">
                {input('unit', d.unit, { maxLength: 20, className: 'figure w-full' })}
              </Field>
              <Field label="Resolution" hint="Of its display, if it has one" fault={faultAt('resolution')}>
                {input('resolution', d.resolution, figure)}
              </Field>
              <Field label="Coverage factor k" hint="Of the whole table" fault={faultAt('coverageFactor')}>
                {input('coverageFactor', first?.coverageFactor ?? 2, figure)}
              </Field>
              <Field label="U is given in" hint="Empty: in the unit" fault={faultAt('uncertaintyUnit')}>
                {input('uncertaintyUnit', '', { maxLength: 20, className: 'figure w-full' })}
              </Field>
              {declared?.properties.map((p) => (
                <Field
                  key={`${kind}.${p.id}`}
                  label={`${p.title}${typeof p.unit === 'string' && p.unit !== '1' ? `, ${printedUnit(p.unit)}` : ''}`}
                  fault={faultAt(`property.${p.id}`)}
                >
                  {input(`property.${p.id}`, d.properties?.[p.id] ?? d.items?.[0]?.properties?.[p.id], {
                    inputMode: 'text',
                    className: 'figure w-full',
                  })}
                </Field>
              ))}
            </div>
          </>
        )}
      </div>
      <div>
        <Field label="What its certificate states">
          <select value={content} onChange={(e) => setContent(e.target.value as Content)} className="w-full">
            {Object.entries(contentTitles).map(([id, title]) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </select>
        </Field>
        {columns && list && (
          <>
            <div className="mt-4">
              <Field
                label={`A line each: ${columns.map((c) => c.title).join(', ')}`}
                hint="Type or paste the table of the certificate. Comma or point; tabs, semicolons or spaces between."
                fault={faultAt('document', content)}
              >
                <textarea
                  value={table}
                  onChange={(e) => setTable(e.target.value)}
                  rows={16}
                  className="figure w-full !whitespace-pre"
                  spellCheck={false}
                  maxLength={80_000}
                />
              </Field>
            </div>
            <p className="mt-2 font-bold" aria-live="polite">
              {list.rows.length} {list.rows.length === 1 ? 'line' : 'lines'} read
            </p>
            {list.faults.slice(0, 6).map((f, i) => (
              <p key={i} className="fault mt-2 text-sm">
                Line {f.line}: {f.message}
              </p>
            ))}
          </>
        )}
        {content === 'document' && (
          <div className="mt-4">
            <Field label="The standard as a document" hint="just-twice/standard, version 1" fault={faultAt('document')}>
              <textarea
                value={source}
                onChange={(e) => setSource(e.target.value)}
                rows={20}
                className="w-full font-mono text-sm"
                spellCheck={false}
                maxLength={400_000}
                placeholder='{ "format": "just-twice/standard", "version": 1, … }'
              />
            </Field>
          </div>
        )}
      </div>
      <div className="lg:col-span-2">
        {refusal && (
          <p className="fault mb-4" role="alert">
            {refusal.message}
          </p>
        )}
        <div className="flex gap-3">
          <button className="button button-main" disabled={(list?.faults.length ?? 0) > 0}>
            {values.id ? 'Save' : 'Enter the standard'}
          </button>
          <a href={values.id ? `/standards/${values.id}` : '/standards'} className="button button-quiet">
            Cancel
          </a>
        </div>
      </div>
    </form>
  );
});
