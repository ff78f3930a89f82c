import { useMemo, type MouseEvent } from 'react';
import type { BudgetDraft } from '../../core/uncertainty/budget-draft';
import { ModelType } from './ModelType';

/** What stands open beneath the equation: an input by its place, the equation as text, or nothing. */
export type Open = number | 'model' | null;

/** The equation, set in type: a term opens its input beneath it, anything else of it its text. */
export function Equation({
  draft,
  open,
  onOpen,
  onModel,
  fault,
}: {
  draft: BudgetDraft;
  open: Open;
  onOpen: (open: Open) => void;
  onModel: (model: string) => void;
  fault: string | null;
}) {
  const symbols = useMemo(() => draft.quantities.map((q) => q.symbol), [draft.quantities]);
  function point(e: MouseEvent) {
    const term = (e.target as Element).closest('.term')?.className;
    const at = /term-(\d+)/.exec(term ?? '')?.[1];
    onOpen(at === undefined ? 'model' : Number(at));
  }
  return (
    <div className="border-y border-rule bg-sheet px-4 py-2">
      <div className="flex items-center gap-3">
        <div
          className={`min-w-0 flex-1 cursor-text text-xl [&_.term]:cursor-pointer [&_.term:hover]:bg-verdigris-tint ${typeof open === 'number' ? `[&_.term-${open}]:bg-verdigris-tint` : ''}`}
          onClick={point}
        >
          <ModelType symbol={draft.symbol} model={draft.model} terms={symbols} />
        </div>
        {open !== 'model' && (
          <button type="button" className="button button-quiet" onClick={() => onOpen('model')}>
            Write it
          </button>
        )}
      </div>
      {open === 'model' && (
        <div className="mb-2 flex flex-wrap items-end gap-3">
          <label className="min-w-64 flex-1">
            <span className="block text-sm text-soft">Model: how the result follows from the inputs</span>
            <textarea
              value={draft.model}
              onChange={(e) => onModel(e.target.value)}
              rows={2}
              spellCheck={false}
              autoFocus
              className="w-full font-mono"
              maxLength={20_000}
              aria-invalid={fault ? true : undefined}
            />
          </label>
        </div>
      )}
      {fault && !/character \d+\)$/.test(fault) && (
        <p className="fault mb-2" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
}
