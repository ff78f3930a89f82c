import { Download, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { BudgetError } from '../../core/uncertainty/budget-error';
import {
  budgetDraft,
  doubtfulComma,
  draftDocument,
  type BudgetDraft,
  type QuantityDraft,
} from '../../core/uncertainty/budget-draft';
import { budgetSchema, type Budget } from '../../core/uncertainty/budget-schema';
import { propagate, type BudgetResult } from '../../core/uncertainty/propagate';
import { parsePlainNumber } from '../../core/quantity/reading';
import { ask } from '../../ui/ask-server';
import { BudgetOutcome } from './BudgetOutcome';
import { Equation, type Open } from './Equation';
import { InputFields } from './InputFields';
import { InputList } from './InputList';
import { LimitStack } from './LimitStack';
import { MontecarloPanel } from './MontecarloPanel';
import { guarded } from '../../ui/guarded';
import { useKept } from '../../ui/use-kept';
import { TypedField } from '../../ui/TypedField';

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

/** A budget as it is written: the equation, each input a sentence, and at once what follows from them. */
export const BudgetEditor = guarded(function BudgetEditor({ id, budget }: { id: string | null; budget: Budget }) {
  const [draft, setDraft] = useState(() => budgetDraft(budget));
  const [open, setOpen] = useState<Open>(id === null ? 'model' : null);
  const [typedLimit, setTypedLimit] = useKept(`budget-limit:${id ?? 'new'}`);
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);
  const { budget: document, result, fault } = useMemo(() => evaluate(draft), [draft]);
  const set = (change: Partial<BudgetDraft>) => {
    setSaid(null);
    setDraft((before) => ({ ...before, ...change }));
  };
  const faultAt = (...path: (string | number)[]) => (fault && path.every((p, i) => fault.path[i] === p) ? fault.message : null);
  const opened = typeof open === 'number' ? draft.quantities[open] : undefined;
  const read = parsePlainNumber(typedLimit);
  const limit = read.ok ? Math.abs(read.reading.value) : null;
  const names = Object.fromEntries(draft.quantities.map((q) => [q.symbol, q.name]));

  async function save() {
    if (!document) return setSaid({ ok: false, text: 'It cannot be saved yet: mend what is marked.' });
    const answer = await (id
      ? ask('PUT /api/budgets/[id]', { id, body: document })
      : ask('POST /api/budgets', { body: document }));
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

  const elsewhere = fault && !['quantities', 'model', 'correlations'].includes(String(fault.path[0])) ? fault.message : null;
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_22rem]">
      <div className="min-w-0">
        <div className="flex flex-wrap items-end gap-3">
          <TypedField
            label="Budget"
            value={draft.name}
            onType={(name) => set({ name })}
            room="min-w-64 flex-1"
            look="!text-lg font-bold"
            maxLength={200}
          />
          <TypedField
            label="Result"
            value={draft.symbol}
            onType={(symbol) => set({ symbol })}
            room="w-20"
            look="font-mono"
            maxLength={40}
          />
          <TypedField label="Unit" value={draft.unit} onType={(unit) => set({ unit })} room="w-20" maxLength={40} />
        </div>
        <div className="mt-3 bg-paper lg:sticky lg:top-0 lg:z-10">
          <Equation draft={draft} open={open} onOpen={setOpen} onModel={(model) => set({ model })} fault={faultAt('model')} />
          {opened && typeof open === 'number' && (
            <InputFields
              key={open}
              q={opened}
              index={open}
              onChange={(next) => set({ quantities: draft.quantities.map((old, j) => (j === open ? next : old)) })}
              onRemove={() => {
                set({ quantities: draft.quantities.filter((_, j) => j !== open) });
                setOpen(null);
              }}
              onClose={() => setOpen(null)}
            />
          )}
        </div>
        <h2 className="mt-4">What goes into it</h2>
        <InputList
          quantities={draft.quantities}
          result={result}
          unit={draft.unit}
          limit={limit}
          open={open}
          onOpen={setOpen}
          faultAt={(i) => faultAt('quantities', i)}
        />
        <div className="mt-2 flex flex-wrap gap-3">
          <button
            type="button"
            className="button"
            onClick={() => {
              set({ quantities: [...draft.quantities, blank] });
              setOpen(draft.quantities.length);
            }}
          >
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
            <BudgetOutcome result={result} symbol={draft.symbol} unit={draft.unit} names={names}>
              <LimitStack
                result={result}
                unit={draft.unit}
                typed={typedLimit}
                limit={limit}
                fault={typedLimit.trim() === '' || read.ok ? null : read.message}
                onType={setTypedLimit}
              />
            </BudgetOutcome>
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
