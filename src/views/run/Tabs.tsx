export type Tab = { id: string; title: string; note?: string };

/** Chooses what stands on the sheet. During a run the keys belong to the readings, so tabs are left out of the tab order. */
export function Tabs({
  label,
  tabs,
  shown,
  onShow,
  inTabOrder,
}: {
  label: string;
  tabs: readonly Tab[];
  shown: string;
  onShow: (id: string) => void;
  inTabOrder: boolean;
}) {
  return (
    <div className="mb-1 flex flex-wrap gap-1" role="group" aria-label={label}>
      {tabs.map((tab) => (
        <button
          key={tab.id}
          type="button"
          tabIndex={inTabOrder ? 0 : -1}
          aria-pressed={shown === tab.id}
          onMouseDown={(e) => !inTabOrder && e.preventDefault()}
          onClick={() => onShow(tab.id)}
          className={`cursor-pointer border-b-2 px-3 py-1.5 ${shown === tab.id ? 'border-ink font-bold' : 'border-transparent'}`}
        >
          {tab.title} {tab.note && <span className="figure text-sm font-normal text-soft">{tab.note}</span>}
        </button>
      ))}
    </div>
  );
}
