import { Trash2 } from 'lucide-react';
import { distributionForms, type DistributionForm, type QuantityDraft } from '../../core/uncertainty/budget-draft';
import { TypedField } from '../../ui/TypedField';

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
        <TypedField
          label="Symbol"
          aria-label={`Symbol of ${label}`}
          value={q.symbol}
          onType={(symbol) => set({ symbol })}
          room="w-24"
          look="font-mono"
          maxLength={40}
          autoFocus
        />
        <TypedField
          label="What it is"
          aria-label={`Name of ${label}`}
          value={q.name}
          onType={(name) => set({ name })}
          room="min-w-48 flex-1"
          maxLength={200}
        />
        <TypedField
          label="Unit"
          aria-label={`Unit of ${label}`}
          value={q.unit}
          onType={(unit) => set({ unit })}
          room="w-24"
          maxLength={40}
        />
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
          <TypedField
            key={key}
            label={title}
            aria-label={`${title} of ${label}`}
            value={q.fields[key] ?? ''}
            onType={(text) => set({ fields: { ...q.fields, [key]: text } })}
            room={key === 'values' ? 'min-w-60 flex-1' : narrow.has(key) ? 'w-20' : 'w-32'}
            look="figure"
            inputMode={key === 'values' ? 'text' : 'decimal'}
          />
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <TypedField
          label="Who says so"
          aria-label={`Source of ${label}`}
          value={q.source}
          onType={(source) => set({ source })}
          room="min-w-48 flex-1"
          maxLength={400}
        />
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
