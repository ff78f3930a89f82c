import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { admit, openPass, type Refusal } from '../../core/run/admit';
import { diagnose } from '../../core/run/diagnosis';
import type { Act, Pass, RecordedEvent } from '../../core/run/event-schema';
import { nextAction } from '../../core/run/next-action';
import { passResults, passVerdict, type PointResult } from '../../core/run/point-results';
import { askServer } from '../../ui/ask-server';
import { useNow } from '../../ui/clock';
import { usePerson } from '../../ui/person';
import { VerdictWord } from '../../ui/VerdictWord';
import { BudgetDialog } from './BudgetDialog';
import { AdjustPanel, FinishPanel, JudgePanel } from './JudgePanels';
import { KeysDialog } from './KeysDialog';
import { PassTabs } from './PassTabs';
import { PointSheet, type Slot } from './PointSheet';
import { CheckPanel, ConditionsPanel, PreparationList, SoakPanel } from './PreparePanels';
import { ReadingPanel } from './ReadingPanel';
import { ReasonPrompt } from './ReasonPrompt';
import { RunContextProvider } from './run-context';
import { RunLogStore, type Trouble } from './run-log-store';
import { StageTrack } from './StageTrack';
import { guarded } from '../../ui/guarded';

type Props = { run: string; events: RecordedEvent[]; person: string; startedAt: string };

function lostText(act: Act): string | null {
  return act.type === 'reading-taken' ? `${act.text} mm` : null;
}

function TroubleBar({ trouble, onDismiss }: { trouble: Trouble; onDismiss: () => void }) {
  const lost = trouble.lost.map(lostText).filter(Boolean);
  return (
    <div className="fault mx-6 mt-2 flex items-center gap-4" role="alert">
      <p className="flex-1">
        {trouble.message}{' '}
        {lost.length > 0 && (
          <>
            Not recorded: <span className="figure">{lost.join(', ')}</span>.
          </>
        )}
      </p>
      <button type="button" className="button" onClick={onDismiss}>
        I have read this
      </button>
    </div>
  );
}

/** The run at the bench: where it stands, the sheet, and what to do now. */
export const RunView = guarded(function RunView({ run, events, person: initialPerson, startedAt }: Props) {
  const [store] = useState(
    () =>
      new RunLogStore({
        run,
        events,
        send: (request) => askServer('POST', `/api/runs/${run}/events`, request),
        storage: typeof localStorage === 'undefined' ? null : localStorage,
      }),
  );
  const { state, pending, isUnreachable, trouble } = useSyncExternalStore(store.subscribe, store.getSnapshot, store.getSnapshot);
  const now = useNow(startedAt);
  const person = usePerson(initialPerson);
  const [cursor, setCursor] = useState<Slot | null>(null);
  const [temperatures, setTemperatures] = useState(false);
  const [opened, setOpened] = useState<PointResult | null>(null);
  const [keys, setKeys] = useState(false);
  const [leaving, setLeaving] = useState(false);
  const [noting, setNoting] = useState(false);
  const [shown, setShown] = useState<Pass | null>(null);
  useEffect(() => store.resume(), [store]);
  useEffect(() => {
    const help = (event: KeyboardEvent) => {
      if (event.key === '?' && !document.querySelector('dialog[open]')) {
        event.preventDefault();
        setKeys(true);
      }
    };
    window.addEventListener('keydown', help);
    return () => window.removeEventListener('keydown', help);
  }, []);

  const action = nextAction(state, now);
  const found = useMemo(() => passResults(state, 'as-found'), [state]);
  const left = useMemo(() => (state.adjustment ? passResults(state, 'as-left') : []), [state]);
  const pass = openPass(state, now);
  const sheetPass: Pass = shown ?? (state.adjustment ? 'as-left' : 'as-found');
  const slot: Slot | null = action.kind === 'take-reading' ? (cursor ?? { point: action.point, index: action.repeat - 1 }) : null;

  const act = useCallback(
    (entry: Act): Refusal | null => {
      if (!person) return { message: 'Say who is at the bench first: with the button at the top right.', path: ['person'] };
      const at = new Date().toISOString();
      const refusal = admit(store.getSnapshot().state, entry, person, at);
      if (!refusal) store.append(entry, person, at);
      return refusal;
    },
    [store, person],
  );

  const isEnded = (state.completed !== null || state.abandoned !== null) && pending === 0;
  useEffect(() => {
    if (isEnded) window.location.reload();
  }, [isEnded]);

  const shownResults = sheetPass === 'as-found' ? found : left;
  const { instrument } = state;
  const panel = () => {
    if (leaving)
      return (
        <ReasonPrompt
          title="Break this run off: why?"
          ready={['Sent back to the owner', 'Put on the bench by mistake', 'Damaged: repair first']}
          confirm="Break it off"
          onCancel={() => setLeaving(false)}
          onReason={(reason) => act({ type: 'run-abandoned', reason })?.message ?? null}
        />
      );
    if (noting)
      return (
        <ReasonPrompt
          title="A note for the record"
          ready={[]}
          confirm="Record it"
          onCancel={() => setNoting(false)}
          onReason={(text) => {
            const refusal = act({ type: 'note-added', text });
            if (!refusal) setNoting(false);
            return refusal?.message ?? null;
          }}
        />
      );
    if (temperatures) return <ConditionsPanel onDone={() => setTemperatures(false)} />;
    switch (action.kind) {
      case 'answer-check':
        return <CheckPanel key={action.check} check={action.check} />;
      case 'start-soak':
      case 'wait-for-soak':
      case 'end-soak':
        return <SoakPanel kind={action.kind} />;
      case 'record-conditions':
        return <ConditionsPanel onDone={null} key={state.sequence} />;
      case 'take-reading':
        return (
          <ReadingPanel
            pass={action.pass}
            cursor={slot!}
            onCursor={setCursor}
            onTemperatures={() => setTemperatures(true)}
            onOpen={setOpened}
            results={action.pass === 'as-found' ? found : left}
          />
        );
      case 'decide-adjustment':
        return <JudgePanel results={found} />;
      case 'adjust-zero':
        return <AdjustPanel />;
      case 'decide-interval':
      case 'complete':
        return <FinishPanel kind={action.kind} found={found} left={left} />;
      case 'review':
      case 'nothing':
        return <p>Making the record…</p>;
    }
  };

  return (
    <RunContextProvider value={{ state, now, act }}>
      <div className="flex flex-wrap items-center gap-x-8 gap-y-2 border-b border-rule px-6 py-2">
        <div className="mr-auto">
          <h1 className="ident !text-2xl">{instrument.identification}</h1>
          <p className="text-sm text-soft">
            {instrument.designation} · {instrument.rangeLower}–{instrument.rangeUpper} mm · {instrument.owner} ·{' '}
            {state.procedure.title.toLowerCase()}, revision {state.procedure.revision}
          </p>
        </div>
        <StageTrack present={action.stage} adjusts={state.adjustmentDecision ? state.adjustmentDecision.adjust : null} />
      </div>
      {isUnreachable && (
        <p className="caution mx-6 mt-2" role="status">
          The server does not answer. {pending} {pending === 1 ? 'entry is' : 'entries are'} kept in this browser and will be sent
          as soon as it does. You may go on.
        </p>
      )}
      {trouble && <TroubleBar trouble={trouble} onDismiss={store.dismissTrouble} />}
      <div className="grid min-h-0 flex-1 gap-6 px-6 py-3 min-[1100px]:grid-cols-[1fr_25rem]">
        <section className="order-2 min-h-0 overflow-auto min-[1100px]:order-1" aria-label="Points">
          {action.stage === 'prepare' && !pass ? (
            <PreparationList />
          ) : (
            <>
              {state.adjustment && <PassTabs shown={sheetPass} onShow={setShown} inTabOrder={false} />}
              <PointSheet
                state={state}
                pass={sheetPass}
                found={found}
                left={left}
                cursor={slot && action.kind === 'take-reading' && action.pass === sheetPass ? slot : null}
                {...(action.kind === 'take-reading' ? { onSelect: setCursor } : {})}
                onOpen={setOpened}
              />
              <p className="mt-2 flex flex-wrap items-center gap-x-4 px-2 text-sm">
                {passVerdict(state, sheetPass, shownResults) && shownResults.length > 0 ? (
                  <>
                    <span>
                      {sheetPass === 'as-found' ? 'As found' : 'As left'}:{' '}
                      <VerdictWord verdict={passVerdict(state, sheetPass, shownResults)} />
                    </span>
                    {action.kind !== 'decide-adjustment' && (
                      <span>{diagnose(shownResults, state.instrument.resolution).sentence}</span>
                    )}
                  </>
                ) : (
                  <span className="text-soft">
                    {state.conditions &&
                      `Blocks ${state.conditions.standard.text} °C, instrument ${state.conditions.instrument.text} °C. `}
                    {shownResults.length >= 4 && `So far: ${diagnose(shownResults, state.instrument.resolution).sentence}`}
                  </span>
                )}
              </p>
            </>
          )}
        </section>
        <section
          className="order-1 flex min-h-0 flex-col overflow-auto border-ink p-1 min-[1100px]:order-2 min-[1100px]:border-l min-[1100px]:pl-6"
          aria-label="Now"
        >
          <div className="flex-1">
            {!person && <p className="fault mb-3">Say who is at the bench: with the button at the top right.</p>}
            {panel()}
          </div>
          <div className="mt-3 flex items-center justify-between gap-2 text-sm">
            <button type="button" className="button button-quiet !min-h-9" tabIndex={-1} onClick={() => setKeys(true)}>
              Keys <span className="key">?</span>
            </button>
            <span className="text-soft" role="status">
              {pending === 0 ? 'All recorded' : `${pending} on the way`}
            </span>
            <button type="button" className="button button-quiet !min-h-9" tabIndex={-1} onClick={() => setNoting(true)}>
              Note
            </button>
            <button type="button" className="button button-quiet !min-h-9" tabIndex={-1} onClick={() => setLeaving(true)}>
              Break off
            </button>
          </div>
        </section>
      </div>
      {opened && <BudgetDialog result={opened} run={run} onClose={() => setOpened(null)} />}
      {keys && <KeysDialog onClose={() => setKeys(false)} />}
    </RunContextProvider>
  );
});
