import type { BudgetDraft } from '../../core/uncertainty/budget-draft';

type Coverage = BudgetDraft['coverage'];

/** How wide the stated interval is: by its probability, or by a factor. */
export function CoverageField({ coverage, onChange }: { coverage: Coverage; onChange: (coverage: Coverage) => void }) {
  return (
    <>
      <label>
        <span className="block text-sm text-soft">Coverage</span>
        <select
          value={coverage.kind}
          onChange={(e) =>
            onChange(e.target.value === 'factor' ? { kind: 'factor', value: '2' } : { kind: 'probability', value: '0.9545' })
          }
        >
          <option value="probability">by probability</option>
          <option value="factor">by factor k</option>
        </select>
      </label>
      <input
        value={coverage.value}
        onChange={(e) => onChange({ ...coverage, value: e.target.value })}
        aria-label={coverage.kind === 'factor' ? 'Coverage factor' : 'Coverage probability'}
        inputMode="decimal"
        className="figure w-24"
      />
    </>
  );
}
