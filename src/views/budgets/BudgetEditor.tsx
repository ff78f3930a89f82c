import { Download, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { BudgetError } from '../../core/uncertainty/budget-error';
import {
  budgetDraft,
  doubtfulComma,
  distributionForms,
  draftDocument,
  type BudgetDraft,
  type DistributionForm,
  type QuantityDraft,
} from '../../core/uncertainty/budget-draft';
import { budgetSchema, type Budget } from '../../core/uncertainty/budget-schema';
import { propagate, type BudgetResult } from '../../core/uncertainty/propagate';
import { askServer } from '../../ui/ask-server';
import { BudgetOutcome } from './BudgetOutcome';
import { DistributionShape } from './DistributionShape';
import { ModelType } from './ModelType';
import { MontecarloPanel } from './MontecarloPanel';
import { guarded } from '../../ui/guarded';

type Evaluated = {
  budget: Budget | null;
  result: BudgetResult | null;
  fault: { message: string; path: (string | number)[] } | null;
};

function evaluate(draft: BudgetDraft): Evaluated {
  const document = draftDocument(draft);
  const parsed = budgetSchema.safeParse(document);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    const typed = issue.path.reduce<unknown>((at, key) => (at as Record<PropertyKey, unknown> | undefined)?.[key], document);
    const message =
      (typeof typed === 'string' && doubtfulComma(typed)) ||
      (issue.code === 'invalid_type' && issue.path.includes('distribution')
        ? 'A number is missing or cannot be read here.'
        : issue.message);
    return {
      budget: null,
      result: null,
      fault: { message, path: issue.path.map((p) => (typeof p === 'number' ? p : String(p))) },
    };
  }
  try {
    return { budget: parsed.data, result: propagate(parsed.data), fault: null };
  } catch (error) {
    if (error instanceof BudgetError)
      return { budget: parsed.data, result: null, fault: { message: error.message, path: error.path } };
    throw error;
  }
}

const blank: QuantityDraft = { symbol: '', name: '', unit: '', source: '', form: 'rectangular', fields: {} };

function QuantityRow({
  q,
  index,
  fault,
  onChange,
  onRemove,
}: {
  q: QuantityDraft;
  index: number;
  fault: string | null;
  onChange: (q: QuantityDraft) => void;
  onRemove: () => void;
}) {
  const set = (change: Partial<QuantityDraft>) => onChange({ ...q, ...change });
  const label = q.symbol || `quantity ${index + 1}`;
  const small = '!min-h-9 !px-2 !py-1 text-sm';
  return (
    <li className="border-b border-rule py-2">
      <div className="grid grid-cols-[5rem_1fr_4rem_10rem_3rem_2.5rem] items-center gap-2 max-sm:grid-cols-[1fr_1fr_4rem]">
        <input
          value={q.symbol}
          onChange={(e) => set({ symbol: e.target.value })}
          aria-label={`Symbol of ${label}`}
          placeholder="symbol"
          className={`${small} font-mono`}
          maxLength={40}
        />
        <input
          value={q.name}
          onChange={(e) => set({ name: e.target.value })}
          aria-label={`Name of ${label}`}
          placeholder="what it is"
          className={small}
          maxLength={200}
        />
        <input
          value={q.unit}
          onChange={(e) => set({ unit: e.target.value })}
          aria-label={`Unit of ${label}`}
          placeholder="unit"
          className={small}
          maxLength={40}
        />
        <select
          value={q.form}
          onChange={(e) => set({ form: e.target.value as DistributionForm })}
          aria-label={`Distribution of ${label}`}
          className={small}
        >
          {Object.entries(distributionForms).map(([form, { title }]) => (
            <option key={form} value={form}>
              {title}
            </option>
          ))}
        </select>
        <DistributionShape form={q.form} />
        <button
          type="button"
          onClick={onRemove}
          aria-label={`Remove ${label}`}
          className="grid h-9 cursor-pointer place-items-center"
        >
          <Trash2 size={16} aria-hidden />
        </button>
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 pl-[5.5rem] max-sm:pl-0">
        {distributionForms[q.form].fields.map(([key, title]) => (
          <label key={key} className="flex items-center gap-1 text-sm text-soft">
            {title}
            <input
              value={q.fields[key] ?? ''}
              onChange={(e) => set({ fields: { ...q.fields, [key]: e.target.value } })}
              aria-label={`${title} of ${label}`}
              inputMode={key === 'values' ? 'text' : 'decimal'}
              className={`${small} figure max-w-full text-ink ${key === 'values' ? 'w-72' : key === 'dof' || key === 'pooledDof' || key === 'coverageFactor' ? 'w-16' : 'w-28'}`}
            />
          </label>
        ))}
        <input
          value={q.source}
          onChange={(e) => set({ source: e.target.value })}
          aria-label={`Source of ${label}`}
          placeholder="source"
          className={`${small} min-w-40 flex-1`}
          maxLength={400}
        />
      </div>
      {fault && (
        <p className="fault mt-1 text-sm" role="alert">
          {fault}
        </p>
      )}
    </li>
  );
}

/** A budget as it is written: the model set in type, the inputs, and at once what follows from them. */
export const BudgetEditor = guarded(function BudgetEditor({ id, budget }: { id: string | null; budget: Budget }) {
  const [draft, setDraft] = useState(() => budgetDraft(budget));
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);
  const { budget: document, result, fault } = useMemo(() => evaluate(draft), [draft]);
  const set = (change: Partial<BudgetDraft>) => {
    setSaid(null);
    setDraft((before) => ({ ...before, ...change }));
  };
  const faultAt = (...path: (string | number)[]) => (fault && path.every((p, i) => fault.path[i] === p) ? fault.message : null);
  const names = Object.fromEntries(draft.quantities.map((q) => [q.symbol, q.name]));

  async function save() {
    if (!document) return setSaid({ ok: false, text: 'It cannot be saved yet: mend what is marked.' });
    const answer = await askServer<{ id: string }>(id ? 'PUT' : 'POST', id ? `/api/budgets/${id}` : '/api/budgets', document);
    if (!answer.ok) return setSaid({ ok: false, text: answer.refusal.message });
    if (!id) return window.location.assign(`/budgets/${answer.body.id}`);
    setSaid({ ok: true, text: 'Saved.' });
  }

  function download() {
    const link = window.document.createElement('a');
    link.href = URL.createObjectURL(new Blob([JSON.stringify(document, null, 2)], { type: 'application/json' }));
    link.download = `${draft.name.replace(/[^\p{L}\p{N} _-]/gu, '').slice(0, 60) || 'budget'}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  }

  const modelFault = faultAt('model');
  const elsewhere = fault && !['quantities', 'model', 'correlations'].includes(String(fault.path[0])) ? fault.message : null;
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_26rem]">
      <div className="min-w-0">
        <div className="flex flex-wrap items-end gap-3">
          <label className="min-w-64 flex-1">
            <span className="block text-sm text-soft">Budget</span>
            <input
              value={draft.name}
              onChange={(e) => set({ name: e.target.value })}
              className="w-full !text-lg font-bold"
              maxLength={200}
            />
          </label>
          <label>
            <span className="block text-sm text-soft">Result</span>
            <input
              value={draft.symbol}
              onChange={(e) => set({ symbol: e.target.value })}
              className="w-20 font-mono"
              maxLength={40}
            />
          </label>
          <label>
            <span className="block text-sm text-soft">Unit</span>
            <input value={draft.unit} onChange={(e) => set({ unit: e.target.value })} className="w-20" maxLength={40} />
          </label>
        </div>
        <label className="mt-3 block">
          <span className="block text-sm text-soft">Model: how the result follows from the inputs</span>
          <textarea
            value={draft.model}
            onChange={(e) => set({ model: e.target.value })}
            rows={2}
            spellCheck={false}
            className="w-full font-mono"
            maxLength={20_000}
            aria-invalid={modelFault ? true : undefined}
          />
        </label>
        <div className="mt-1 min-h-14 border-y border-rule bg-sheet px-3 py-1">
          <ModelType symbol={draft.symbol} model={draft.model} />
        </div>
        {modelFault && !/character \d+\)$/.test(modelFault) && (
          <p className="fault mt-1" role="alert">
            {modelFault}
          </p>
        )}
        <h2 className="mt-4">Inputs</h2>
        <ul className="border-t border-rule-strong">
          {draft.quantities.map((q, i) => (
            <QuantityRow
              key={i}
              q={q}
              index={i}
              fault={faultAt('quantities', i)}
              onChange={(next) => set({ quantities: draft.quantities.map((old, j) => (j === i ? next : old)) })}
              onRemove={() => set({ quantities: draft.quantities.filter((_, j) => j !== i) })}
            />
          ))}
        </ul>
        <div className="mt-2 flex flex-wrap gap-3">
          <button type="button" className="button" onClick={() => set({ quantities: [...draft.quantities, blank] })}>
            <Plus size={16} aria-hidden /> An input
          </button>
          <button
            type="button"
            className="button button-quiet"
            onClick={() =>
              set({
                correlations: [
                  ...draft.correlations,
                  { a: draft.quantities[0]?.symbol ?? '', b: draft.quantities[1]?.symbol ?? '', coefficient: '0' },
                ],
              })
            }
          >
            A correlation
          </button>
        </div>
        {draft.correlations.map((c, i) => {
          const change = (part: Partial<typeof c>) =>
            set({ correlations: draft.correlations.map((old, j) => (j === i ? { ...old, ...part } : old)) });
          return (
            <div key={i} className="mt-2">
              <div className="flex flex-wrap items-center gap-2 text-sm">
                correlation of
                <input
                  value={c.a}
                  onChange={(e) => change({ a: e.target.value })}
                  aria-label="First symbol"
                  className="!min-h-9 w-24 !py-1 font-mono"
                />
                and
                <input
                  value={c.b}
                  onChange={(e) => change({ b: e.target.value })}
                  aria-label="Second symbol"
                  className="!min-h-9 w-24 !py-1 font-mono"
                />
                <input
                  value={c.coefficient}
                  onChange={(e) => change({ coefficient: e.target.value })}
                  aria-label="Correlation coefficient"
                  inputMode="decimal"
                  className="figure !min-h-9 w-20 !py-1"
                />
                <button
                  type="button"
                  aria-label="Remove this correlation"
                  className="cursor-pointer p-2"
                  onClick={() => set({ correlations: draft.correlations.filter((_, j) => j !== i) })}
                >
                  <Trash2 size={16} aria-hidden />
                </button>
              </div>
              {faultAt('correlations', i) && <p className="fault mt-1 text-sm">{faultAt('correlations', i)}</p>}
            </div>
          );
        })}
        <div className="mt-4 flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-sm text-soft">Coverage</span>
            <select
              value={draft.coverage.kind}
              onChange={(e) =>
                set({
                  coverage: {
                    kind: e.target.value as 'factor' | 'probability',
                    value: e.target.value === 'factor' ? '2' : '0.9545',
                  },
                })
              }
            >
              <option value="probability">by probability</option>
              <option value="factor">by factor k</option>
            </select>
          </label>
          <input
            value={draft.coverage.value}
            onChange={(e) => set({ coverage: { ...draft.coverage, value: e.target.value } })}
            aria-label={draft.coverage.kind === 'factor' ? 'Coverage factor' : 'Coverage probability'}
            inputMode="decimal"
            className="figure w-24"
          />
          <span className="ml-auto" />
          <button type="button" className="button" onClick={download} disabled={!document}>
            <Download size={16} aria-hidden /> As document
          </button>
          <button type="button" className="button button-main" onClick={save}>
            Save
          </button>
        </div>
        {(said || elsewhere) && (
          <p className={`mt-2 ${said?.ok ? '' : 'fault'}`} role="status">
            {said?.text ?? elsewhere}
          </p>
        )}
      </div>
      <aside className="min-w-0">
        {result && document ? (
          <>
            <BudgetOutcome result={result} symbol={draft.symbol} unit={draft.unit} names={names} />
            <MontecarloPanel budget={document} first={result} />
          </>
        ) : (
          <p className="border-y border-rule bg-sheet px-4 py-5 text-soft">
            The result appears here as soon as model and inputs fit together.
          </p>
        )}
      </aside>
    </div>
  );
});
