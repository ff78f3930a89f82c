import type { Pass } from '../../core/run/event-schema';

/** Chooses whose readings stand in the sheet. During a run the keys belong to the readings, so it is left out of the tab order. */
export function PassTabs({ shown, onShow, inTabOrder }: { shown: Pass; onShow: (pass: Pass) => void; inTabOrder: boolean }) {
  return (
    <div className="mb-1 flex gap-1" role="group" aria-label="Which readings">
      {(['as-found', 'as-left'] as const).map((pass) => (
        <button
          key={pass}
          type="button"
          tabIndex={inTabOrder ? 0 : -1}
          aria-pressed={shown === pass}
          onClick={() => onShow(pass)}
          className={`cursor-pointer border-b-2 px-3 py-1.5 ${shown === pass ? 'border-ink font-bold' : 'border-transparent'}`}
        >
          {pass === 'as-found' ? '○ As found' : '● As left'}
        </button>
      ))}
    </div>
  );
}
