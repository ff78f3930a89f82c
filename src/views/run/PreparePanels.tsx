import { useEffect, useRef, useState, type FormEvent } from 'react';
import { Timer } from 'lucide-react';
import { timeLeft, timeOfDay } from '../../ui/clock';
import { ReasonPrompt } from './ReasonPrompt';
import { useRun } from './run-context';

/** One check of the preparation: a question that "yes" answers well. */
export function CheckPanel({ check }: { check: string }) {
  const { state, act } = useRun();
  const [saysNo, setSaysNo] = useState(false);
  const yes = useRef<HTMLButtonElement>(null);
  const asked = state.procedure.checks.find((c) => c.id === check)!;
  useEffect(() => {
    if (!saysNo) yes.current?.focus();
  }, [saysNo]);
  if (saysNo)
    return (
      <ReasonPrompt
        title={`${asked.title}: what is wrong?`}
        ready={[]}
        confirm="Record it"
        onCancel={() => setSaysNo(false)}
        onReason={(note) => act({ type: 'check-answered', check, outcome: 'no', note })?.message ?? null}
      />
    );
  return (
    <div
      className="flex flex-col gap-4"
      onKeyDown={(e) => {
        if (e.key.toLowerCase() === 'n') {
          e.preventDefault();
          setSaysNo(true);
        }
        if (e.key.toLowerCase() === 'y') act({ type: 'check-answered', check, outcome: 'yes', note: '' });
      }}
    >
      <p className="text-sm text-soft">{asked.title}</p>
      <h2 className="text-xl leading-snug">{asked.ask}</h2>
      {check === 'identity' && (
        <p className="border-y border-rule py-2">
          <span className="ident text-3xl font-bold">{state.instrument.identification}</span>
          <span className="figure block text-lg">
            {state.instrument.rangeLower}–{state.instrument.rangeUpper} mm
          </span>
        </p>
      )}
      {check === 'standard' && (
        <p className="border-y border-rule py-2">
          <span className="ident text-3xl font-bold">{state.standard.identification}</span>
          <span className="block">
            Certificate <span className="ident">{state.standard.certificate.number}</span>, {state.standard.certificate.issuer},
            due <span className="ident">{state.standard.certificate.due}</span>
          </span>
        </p>
      )}
      {asked.caution && <p className="caution">{asked.caution}</p>}
      <div className="flex gap-3">
        <button
          ref={yes}
          type="button"
          className="button button-main min-h-13 flex-1 !text-lg"
          onClick={() => act({ type: 'check-answered', check, outcome: 'yes', note: '' })}
        >
          Yes
        </button>
        <button type="button" className="button min-h-13 flex-1 !text-lg" onClick={() => setSaysNo(true)}>
          No <span className="key">n</span>
        </button>
      </div>
    </div>
  );
}

/** The soak: a timer that belongs to the run. It goes on with the page closed. */
export function SoakPanel({ kind }: { kind: 'start-soak' | 'wait-for-soak' | 'end-soak' }) {
  const { state, now, act } = useRun();
  const [early, setEarly] = useState(false);
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus(), [kind, early]);
  const { soak } = state.procedure;
  if (early && kind === 'wait-for-soak')
    return (
      <ReasonPrompt
        title="End the soak early: why?"
        ready={['Both have lain on this plate since yesterday', 'Thermometers agree within 0.2 K']}
        confirm="End it"
        onCancel={() => setEarly(false)}
        onReason={(earlyReason) => act({ type: 'soak-ended', earlyReason })?.message ?? null}
      />
    );
  return (
    <div className="flex flex-col gap-4">
      <p className="text-sm text-soft">{soak.title}</p>
      {kind === 'start-soak' && (
        <>
          <h2 className="text-xl leading-snug">{soak.instruction}</h2>
          <p>They need {soak.minutes} minutes together. The time runs on when this page is closed.</p>
          <button
            ref={main}
            type="button"
            className="button button-main min-h-13 !text-lg"
            onClick={() => act({ type: 'soak-started' })}
          >
            They lie together: start the {soak.minutes} minutes
          </button>
        </>
      )}
      {kind === 'wait-for-soak' && state.soak && (
        <>
          <h2 className="text-xl leading-snug">Leave them on the plate.</h2>
          <p className="figure flex items-center gap-4 text-7xl font-bold" role="timer" aria-label="Time left">
            <Timer size={44} aria-hidden />
            {timeLeft(state.soak.endsAt, now)}
          </p>
          <p className="text-lg">
            Come back at <span className="figure font-bold">{timeOfDay(state.soak.endsAt)}</span>. This page may be closed.
          </p>
          <button ref={main} type="button" className="button" onClick={() => setEarly(true)}>
            End it early
          </button>
        </>
      )}
      {kind === 'end-soak' && (
        <>
          <h2 className="text-xl leading-snug">The soak is over.</h2>
          <button
            ref={main}
            type="button"
            className="button button-main min-h-13 !text-lg"
            onClick={() => act({ type: 'soak-ended' })}
          >
            Carry on
          </button>
        </>
      )}
    </div>
  );
}

/** Temperatures of room, instrument and blocks: Enter goes to the next, the last Enter records them. */
export function ConditionsPanel({ onDone }: { onDone: (() => void) | null }) {
  const { state, act } = useRun();
  const { quantities, instruction } = state.procedure.conditions;
  const [values, setValues] = useState<Record<string, string>>({ room: '', instrument: '', standard: '' });
  const [fault, setFault] = useState<{ message: string; at: string } | null>(null);
  const [reason, setReason] = useState('');
  const form = useRef<HTMLFormElement>(null);
  const field = (name: string) => form.current?.querySelector<HTMLInputElement>(`[name="${name}"]`);
  useEffect(() => form.current?.querySelector('input')?.focus(), []);

  function submit(event: FormEvent) {
    event.preventDefault();
    const empty = quantities.find((q) => values[q.id]!.trim() === '');
    if (empty && document.activeElement !== field(empty.id)) return field(empty.id)?.focus();
    const refusal = act({
      type: 'conditions-recorded',
      room: values['room'] || ' ',
      instrument: values['instrument'] || ' ',
      standard: values['standard'] || ' ',
      ...(reason.trim().length >= 3 ? { reason: reason.trim() } : {}),
    });
    if (refusal) {
      const at = String(refusal.path[0]);
      setFault({ message: refusal.message, at });
      setTimeout(() => field(at)?.focus());
    } else onDone?.();
  }

  return (
    <form ref={form} onSubmit={submit} onKeyDown={(e) => e.key === 'Escape' && onDone?.()} className="flex flex-col gap-3">
      <h2 className="text-xl leading-snug">{instruction}</h2>
      {quantities.map((q) => (
        <label key={q.id} className="flex items-baseline gap-3 border-b border-rule-strong">
          <span className="w-32">{q.title}</span>
          <input
            name={q.id}
            value={values[q.id]}
            onChange={(e) => setValues({ ...values, [q.id]: e.target.value })}
            inputMode="decimal"
            autoComplete="off"
            maxLength={10}
            aria-invalid={fault?.at === q.id || undefined}
            className="figure w-full !border-0 !bg-transparent !text-right !text-3xl font-bold"
          />
          <span className="text-xl text-soft">°C</span>
        </label>
      ))}
      {fault?.at === 'reason' && (
        <label>
          <span className="block text-sm text-soft">Reason for going on</span>
          <input name="reason" value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
        </label>
      )}
      {fault && (
        <p className={fault.at === 'reason' ? 'caution' : 'fault'} role="alert">
          {fault.message}
        </p>
      )}
      <div className="flex gap-3">
        <button className="button button-main min-h-13 flex-1 !text-lg">Record the temperatures</button>
        {onDone && (
          <button type="button" className="button button-quiet" onClick={onDone}>
            Back <span className="key">Esc</span>
          </button>
        )}
      </div>
    </form>
  );
}

/** The preparation as a list: what has been confirmed, what comes. */
export function PreparationList() {
  const { state } = useRun();
  const { checks, soak } = state.procedure;
  const rows = [
    ...checks.map((c) => {
      const answer = state.checks[c.id];
      return {
        title: c.title,
        said: answer ? (answer.outcome === 'yes' ? 'yes' : `no: ${answer.note}`) : '',
        ask: c.ask,
        when: answer?.at,
      };
    }),
    ...(soak.minutes > 0
      ? [
          {
            title: soak.title,
            said: state.soak
              ? state.soak.endedAt
                ? state.soak.earlyReason
                  ? `ended early: ${state.soak.earlyReason}`
                  : 'done'
                : 'running'
              : '',
            ask: soak.instruction,
            when: state.soak?.endedAt ?? state.soak?.startedAt,
          },
        ]
      : []),
    {
      title: 'Temperatures',
      said: state.conditions
        ? `room ${state.conditions.room.text} °C, instrument ${state.conditions.instrument.text} °C, blocks ${state.conditions.standard.text} °C`
        : '',
      ask: '',
      when: state.conditions?.at,
    },
  ];
  const next = rows.findIndex((r) => r.said === '' || r.said === 'running');
  return (
    <ol className="ruled border-y border-rule-strong bg-sheet">
      {rows.map((row, i) => (
        <li
          key={row.title}
          aria-current={i === next ? 'step' : undefined}
          className={`grid min-h-12 grid-cols-[2rem_11rem_1fr_auto] items-center gap-3 px-3 py-1.5 ${i === next ? 'bg-verdigris-tint font-bold' : ''}`}
        >
          <svg width="18" height="18" aria-hidden>
            {row.said && row.said !== 'running' ? (
              <path d="M3 9.5 7.5 14 15 4.5" fill="none" stroke="var(--color-verdigris)" strokeWidth="2.6" />
            ) : (
              <circle
                cx="9"
                cy="9"
                r="5"
                fill="none"
                stroke={i === next ? 'var(--color-verdigris)' : 'var(--color-rule-strong)'}
                strokeWidth="2"
              />
            )}
          </svg>
          <span>{row.title}</span>
          <span
            className={
              row.said.startsWith('no:') ? 'text-brick' : row.said || i === next ? 'font-normal' : 'truncate text-sm text-soft'
            }
          >
            {row.said || (i === next ? '' : row.ask)}
          </span>
          <span className="figure text-sm font-normal text-soft">{row.when && row.said ? timeOfDay(row.when) : ''}</span>
        </li>
      ))}
    </ol>
  );
}
