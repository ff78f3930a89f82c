import { CorrelationList } from './CorrelationList';
import { CoverageField } from './CoverageField';
import { evaluateDraft } from './evaluate-draft';
import { Download, Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import { budgetDraft, type BudgetDraft, type QuantityDraft } from '../../core/uncertainty/budget-draft';
import { type Budget } from '../../core/uncertainty/budget-schema';
import { parsePlainNumber } from '../../core/quantity/reading';
import { ask } from '../../ui/ask-server';
import { saveFile } from '../../ui/save-file';
import { BudgetOutcome } from './BudgetOutcome';
import { Equation, type Open } from './Equation';
import { InputFields } from './InputFields';
import { InputList } from './InputList';
import { LimitStack } from './LimitStack';
import { MontecarloPanel } from './MontecarloPanel';
import { guarded } from '../../ui/guarded';
import { useKept } from '../../ui/use-kept';
import { TypedField } from '../../ui/TypedField';

const blank: QuantityDraft = { symbol: '', name: '', unit: '', source: '', form: 'rectangular', fields: {} };

/** A budget as it is written: the equation, each input a sentence, and at once what follows from them. */
export const BudgetEditor = guarded(function BudgetEditor({ id, budget }: { id: string | null; budget: Budget }) {
  const [draft, setDraft] = useState(() => budgetDraft(budget));
  const [open, setOpen] = useState<Open>(id === null ? 'model' : null);
  const [typedLimit, setTypedLimit] = useKept(`budget-limit:${id ?? 'new'}`);
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);
  const { budget: document, result, fault } = useMemo(() => evaluateDraft(draft), [draft]);
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

  const download = () => saveFile(JSON.stringify(document, null, 2), 'application/json', draft.name || 'budget', 'json');

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
        <CorrelationList
          correlations={draft.correlations}
          faultAt={(i) => faultAt('correlations', i)}
          onChange={(correlations) => set({ correlations })}
        />
        <div className="mt-4 flex flex-wrap items-end gap-3">
          <CoverageField coverage={draft.coverage} onChange={(coverage) => set({ coverage })} />
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
