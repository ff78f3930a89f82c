import { Trash2 } from 'lucide-react';
import { distributionForms, type DistributionForm, type QuantityDraft } from '../../core/uncertainty/budget-draft';

const narrow = new Set(['dof', 'pooledDof', 'coverageFactor']);

/** One input, opened: what it is, how it is stated, its numbers, and who says so. */
export function InputFields({
  q,
  index,
  onChange,
  onRemove,
  onClose,
}: {
  q: QuantityDraft;
  index: number;
  onChange: (q: QuantityDraft) => void;
  onRemove: () => void;
  onClose: () => void;
}) {
  const set = (change: Partial<QuantityDraft>) => onChange({ ...q, ...change });
  const label = q.symbol || `quantity ${index + 1}`;
  return (
    <section
      aria-label={`Input ${label}`}
      className="border-b border-l-4 border-rule border-l-verdigris bg-sheet px-4 py-3"
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="w-24">
          <span className="block text-sm text-soft">Symbol</span>
          <input
            value={q.symbol}
            onChange={(e) => set({ symbol: e.target.value })}
            aria-label={`Symbol of ${label}`}
            className="w-full font-mono"
            maxLength={40}
            autoFocus
          />
        </label>
        <label className="min-w-48 flex-1">
          <span className="block text-sm text-soft">What it is</span>
          <input
            value={q.name}
            onChange={(e) => set({ name: e.target.value })}
            aria-label={`Name of ${label}`}
            className="w-full"
            maxLength={200}
          />
        </label>
        <label className="w-24">
          <span className="block text-sm text-soft">Unit</span>
          <input
            value={q.unit}
            onChange={(e) => set({ unit: e.target.value })}
            aria-label={`Unit of ${label}`}
            className="w-full"
            maxLength={40}
          />
        </label>
      </div>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-sm text-soft">How it is stated</span>
          <select
            value={q.form}
            onChange={(e) => set({ form: e.target.value as DistributionForm })}
            aria-label={`Distribution of ${label}`}
          >
            {Object.entries(distributionForms).map(([form, { title }]) => (
              <option key={form} value={form}>
                {title}
              </option>
            ))}
          </select>
        </label>
        {distributionForms[q.form].fields.map(([key, title]) => (
          <label key={key} className={key === 'values' ? 'min-w-60 flex-1' : narrow.has(key) ? 'w-20' : 'w-32'}>
            <span className="block text-sm text-soft">{title}</span>
            <input
              value={q.fields[key] ?? ''}
              onChange={(e) => set({ fields: { ...q.fields, [key]: e.target.value } })}
              aria-label={`${title} of ${label}`}
              inputMode={key === 'values' ? 'text' : 'decimal'}
              className="figure w-full"
            />
          </label>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label className="min-w-48 flex-1">
          <span className="block text-sm text-soft">Who says so</span>
          <input
            value={q.source}
            onChange={(e) => set({ source: e.target.value })}
            aria-label={`Source of ${label}`}
            className="w-full"
            maxLength={400}
          />
        </label>
        <button type="button" className="button button-quiet" onClick={onRemove} aria-label={`Remove ${label}`}>
          <Trash2 size={16} aria-hidden /> Remove
        </button>
        <button type="button" className="button" onClick={onClose}>
          Done
        </button>
      </div>
    </section>
  );
}
