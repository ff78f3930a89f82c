import { useEffect, useRef, useState } from 'react';
import { printedUnit } from '../../core/quantity/unit';
import { isSameSetting, settingsNow, shownNumbers, type SettingNow } from '../../core/steps/settings';
import { withMinus } from '../../core/run/shown-value';
import { useRun } from '../run/run-context';
import { useDraft } from '../run/use-draft';
import { StepText, type StepPanelProps } from './StepPanel';

/** What the instrument holds: what is expected stands beside what it shows. Enter goes from one to the next; what differs is marked. */
export function SettingsPanel({ context, step, item, done }: StepPanelProps<'settings'>) {
  const { run } = useRun();
  const now = settingsNow(context);
  const [kept, keep] = useDraft(run, `settings|${JSON.stringify(item)}`);
  const shown = readKept(kept);
  const [fault, setFault] = useState<{ message: string; at: string | null } | null>(null);
  const form = useRef<HTMLFormElement>(null);
  const fieldOf = (id: string) => form.current?.querySelector<HTMLElement>(`[name="setting-${id}"]`);
  const first = now.find((s) => (shown[s.id] ?? '') === '')?.id;
  useEffect(() => {
    form.current?.querySelector<HTMLElement>(first ? `[name="setting-${first}"]` : 'button[type="submit"]')?.focus();
    // Only when it comes up: later the person goes where he will.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const say = (id: string, text: string) => {
    keep(JSON.stringify({ ...shown, [id]: text }));
    setFault(null);
  };
  return (
    <form
      ref={form}
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        const empty = now.find((s) => (shown[s.id] ?? '').trim() === '');
        // Enter goes on to the next that is empty; after the last it records.
        if (empty && fieldOf(empty.id) !== document.activeElement) return fieldOf(empty.id)?.focus();
        const said = Object.fromEntries(now.map((s) => [s.id, (shown[s.id] ?? '').trim()]));
        const refusal = done(shownNumbers(said), undefined, undefined, said);
        if (!refusal) return keep('');
        setFault({ message: refusal.message, at: refusal.path[0] === 'shown' ? String(refusal.path[1]) : null });
        if (refusal.path[0] === 'shown') fieldOf(String(refusal.path[1]))?.focus();
      }}
    >
      <StepText text={step.ask ?? 'What does it hold now?'} item={item} />
      <div className="ruled border-b border-rule">
        <p className="grid grid-cols-[1fr_6.5rem_7.5rem] gap-x-3 pb-1 text-right text-sm text-soft" aria-hidden>
          <span className="col-start-2">wanted</span>
          <span>shows</span>
        </p>
        {now.map((s) => (
          <SettingLine key={s.id} setting={s} shown={shown[s.id] ?? ''} onShown={(text) => say(s.id, text)} />
        ))}
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault.message}
        </p>
      )}
      <button type="submit" data-keys className="button button-main min-h-13 !text-lg">
        Record it
      </button>
    </form>
  );
}

function SettingLine({ setting: s, shown, onShown }: { setting: SettingNow; shown: string; onShown: (text: string) => void }) {
  const unit = printedUnit(s.unit);
  const isOff = shown.trim() !== '' && s.wanted !== null && !isSameSetting(shown, s.wanted);
  const label = `${s.title}${unit && unit !== '1' ? `, ${unit}` : ''}`;
  return (
    <div className="grid grid-cols-[1fr_6.5rem_7.5rem] items-center gap-x-3 py-2">
      <span>
        {label}
        {s.hint && <span className="block text-sm text-soft">{s.hint}</span>}
        {s.last !== null && (s.wanted === null || !isSameSetting(s.last, s.wanted)) && (
          <span className="block text-sm text-soft">last time {s.last}</span>
        )}
      </span>
      <span className="figure text-right text-xl" aria-label={`${s.title}, wanted`}>
        {s.wanted === null ? '–' : withMinus(s.wanted)}
      </span>
      {s.options.length > 0 ? (
        <select
          name={`setting-${s.id}`}
          aria-label={`${s.title}, as shown`}
          value={shown}
          onChange={(e) => onShown(e.target.value)}
          onKeyDown={(e) => {
            // A list does not record by itself: Enter goes on from it as from a field.
            if (e.key !== 'Enter') return;
            e.preventDefault();
            e.currentTarget.form?.requestSubmit();
          }}
          className={isOff ? '!border-ochre' : ''}
        >
          <option value="">…</option>
          {s.options.map((o) => (
            <option key={o}>{o}</option>
          ))}
        </select>
      ) : (
        <input
          name={`setting-${s.id}`}
          aria-label={`${s.title}, as shown`}
          value={shown}
          onChange={(e) => onShown(e.target.value)}
          inputMode={s.unit === '' ? 'text' : 'decimal'}
          maxLength={100}
          className={`figure w-full text-right !text-xl ${isOff ? '!border-ochre' : ''}`}
        />
      )}
      {isOff && <span className="col-span-3 text-sm text-ochre">differs from what is wanted</span>}
    </div>
  );
}

/** What was typed before the page was left. */
function readKept(text: string): Record<string, string> {
  try {
    const parsed: unknown = JSON.parse(text || '{}');
    return typeof parsed === 'object' && parsed !== null
      ? Object.fromEntries(Object.entries(parsed).filter((e): e is [string, string] => typeof e[1] === 'string'))
      : {};
  } catch {
    return {};
  }
}
