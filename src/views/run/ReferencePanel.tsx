import { soleName } from '../../core/formula/formula';
import type { Place } from '../../core/plan/plan-schema';
import type { SeriesDocument } from '../../core/procedure/document-schema';
import { plainDecimal } from '../../core/quantity/rounding';
import { withPrintedUnit } from '../../core/run/shown-value';
import { unitOfCompared } from '../../core/quantity/unit';
import { itemsAt } from '../../core/state/run-case';
import { settingIn } from '../../core/run/run-results';
import { numberAt } from '../../core/state/run-scope';
import type { RunState, Slot } from '../../core/state/run-state';
import { limitWords } from '../../core/run/shown-value';
import { placedPoint } from '../../core/state/run-state';
import { pointUnit, shownUnit } from '../../core/run/place-words';
import { isHiddenFrom, offeredResults } from '../../core/run/reading-rules';
import { unitIn } from '../../core/steps/step-context';

export type ItemUse = { use: string; title: string; items: { id: string; marking: string; nominal: number }[] };

/** Items of the standards that a point uses, by use. */
export function itemUses(state: RunState, series: SeriesDocument, slot: Slot): ItemUse[] {
  return Object.entries(series.uses).flatMap(([use, doc]): ItemUse[] => {
    if (doc.stack === undefined && doc.item === undefined) return [];
    const role = doc.role ?? use;
    const all = (state.standards[role] ?? []).flatMap((s) => [
      ...(s.document.items ?? []),
      ...(s.document.parts ?? []).flatMap((p) => p.items ?? []),
    ]);
    const ids = itemsAt(state, slot, use);
    if (!ids) return [];
    return [
      {
        use,
        title: state.procedure.standards.find((r) => r.role === role)?.title ?? role,
        items: ids.flatMap((id) => {
          const item = all.find((i) => i.id === id);
          return item ? [{ id, marking: item.marking || String(item.nominal), nominal: item.nominal }] : [];
        }),
      },
    ];
  });
}

/** What a point is compared with and what it is made of, and the limits that hold there. */
export function ReferencePanel({
  state,
  series,
  slot,
  onItems,
}: {
  state: RunState;
  series: SeriesDocument;
  slot: Slot;
  /** Offers other items; absent where readings have been taken. */ onItems: ((use: string) => void) | null;
}) {
  const s = settingIn(state, slot.set);
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  const uses = itemUses(state, series, slot);
  /** A tenth of the standard uncertainty: finer digits say nothing. */
  const finestOf = (use: string) => (numberAt(s, { is: `${use}.standardUncertainty` }, place) ?? 0) / 10;
  const lines = uses.flatMap(({ use, items }): [string, string][] => {
    const value = numberAt(s, { is: `${use}.value` }, place);
    return value === undefined || items.length === 0
      ? []
      : [['Certified value', valueWords(value, unitOfUse(state, series, use), finestOf(use))]];
  });
  const offered = isHiddenFrom(state, place, slot) ? [] : offeredResults(state, place);
  const references = offered.flatMap((r): [string, string][] => {
    const value = r.reference === undefined ? undefined : numberAt(s, r.reference, place);
    if (value === undefined) return [];
    // A standard's own value stands in its own unit, which need not be the one of the result.
    const [use, member, ...more] = typeof r.reference === 'object' ? (soleName(r.reference.is)?.split('.') ?? []) : [];
    const isOfUse = use !== undefined && member === 'value' && more.length === 0 && series.uses[use] !== undefined;
    // Its own unit where the document names it: of a transmitter in % it is a current.
    const named = typeof r.reference === 'object' ? r.reference.unit : undefined;
    const unit = named
      ? unitIn(state, named, place)
      : isOfUse
        ? unitOfUse(state, series, use)
        : unitOfCompared(unitIn(state, r.unit, place), pointUnit(state, place) || state.instrument.unit);
    const words = valueWords(value, unit, isOfUse ? finestOf(use) : state.instrument.resolution / 10);
    return lines.some(([, known]) => known === words) ? [] : [['Reference value', words]];
  });
  const limits = limitLines(state, place);
  // Results that are compared with the same say it once.
  const distinct = references.filter(([, words], i) => references.findIndex(([, other]) => other === words) === i);
  return (
    <div>
      {uses.map(({ use, title, items }) => (
        <div key={use}>
          {items.length > 0 && <p className="text-sm text-soft">{title}, as marked</p>}
          <div className="flex items-end gap-1" aria-label={`${title}: ${items.map((i) => i.marking).join(' and ') || 'none'}`}>
            {items.map((item) => (
              <span
                key={item.id}
                className="figure grid h-9 min-w-14 place-items-center border-[1.5px] border-ink bg-sheet px-2 font-bold"
                style={{ flexGrow: Math.max(1, Math.min(100, item.nominal)) }}
              >
                {item.marking}
              </span>
            ))}
            {items.length === 0 && <span className="flex-1 text-soft">{title}: nothing is used here.</span>}
            {onItems && items.length > 0 && (
              <button type="button" tabIndex={-1} className="button button-quiet !min-h-9 shrink-0" onClick={() => onItems(use)}>
                Others <span className="key">s</span>
              </button>
            )}
          </div>
        </div>
      ))}
      <dl className="figure mt-2 grid grid-cols-[1fr_auto] text-sm">
        {[...lines, ...distinct, ...limits].map(([label, value], i) => (
          <div key={i} className="contents">
            <dt className="font-sans text-soft">{label}</dt>
            <dd className={`text-right ${label === 'Reference value' ? 'font-bold' : ''}`}>{value.replace('-', '−')}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

/** A value as its certificate gives it, without the noise of binary numbers and without digits that say nothing. */
function valueWords(value: number, unit: string, finest: number): string {
  const decimals = finest > 0 ? Math.max(0, Math.ceil(-Math.log10(finest))) : 20;
  return withPrintedUnit(plainDecimal(Number(Number(value.toPrecision(9)).toFixed(Math.min(decimals, 20)))), unit);
}

const unitOfUse = (state: RunState, series: SeriesDocument, use: string): string => {
  const { role = use, unit, part } = series.uses[use]!;
  const document = state.standards[role]?.[0]?.document;
  return unit ?? document?.parts?.find((p) => p.id === part)?.unit ?? document?.unit ?? '';
};

function limitLines(state: RunState, place: Place): [string, string][] {
  const offered = offeredResults(state, place);
  return offered.flatMap((r): [string, string][] => {
    const limits = placedPoint(state, place)?.limits[r.symbol];
    if (!limits) return [];
    const words = limitWords(limits, unitIn(state, r.unit, place), shownUnit(state, r, place));
    return [[offered.length > 1 ? `${r.title}, limits` : 'Limits', words]];
  });
}
