import { useEffect, useState, type ReactNode } from 'react';
import type { RecordedEvent } from '../../core/acts/registry';
import { stageOf } from '../../core/run/next-step';
import { guardedWhole } from '../../ui/guarded';
import { usePerson } from '../../ui/person';
import { BenchShell } from '../run/BenchShell';
import { runKeys, setUpKeys } from '../run/keymap';
import { NotePrompt } from '../run/NotePrompt';
import { PreparationList } from '../run/PreparationList';
import { LookPanel } from '../run/LookPanel';
import { PresentPanel } from '../run/PresentPanel';
import type { OpenResult } from '../run/SeriesSheet';
import type { KnownAtBench } from '../run/run-context';
import { useBenchClock } from '../run/use-bench';
import { useRunLogs } from '../run/use-run-log';
import type { StepItem } from '../steps/StepPanel';
import { MemberStrip } from './MemberStrip';
import { SetUpSheet } from './SetUpSheet';
import { TakeOutPanel } from './TakeOutPanel';
import { useSetUp } from './use-set-up';

type Props = {
  runs: { run: string; events: RecordedEvent[]; known: KnownAtBench }[];
  person: string;
  startedAt: string;
};

/** Several instruments in one set-up: what is shared is done once, what is not goes from one to the next and back. */
export const SetUpView = guardedWhole(function SetUpView({ runs, person: initialPerson, startedAt }: Props) {
  const logs = useRunLogs(runs);
  const { now, isOff } = useBenchClock(startedAt);
  const person = usePerson(initialPerson);
  const setUp = useSetUp(logs, person);
  const { states, turn, from, state, item, slot, present, actFor, act } = setUp;
  const [opened, setOpened] = useState<{ member: number; result: OpenResult } | null>(null);
  const [asking, setAsking] = useState<'out' | 'note' | null>(null);
  const [correcting, setCorrecting] = useState<StepItem | null>(null);
  const [leavingFor, leaveFor] = useState<string | null>(null);
  const isAllRecorded = logs.every((l) => l.snapshot.pending.length === 0);
  useEffect(() => {
    if (leavingFor && isAllRecorded) window.location.assign(leavingFor);
  }, [leavingFor, isAllRecorded]);

  const panel = () => {
    if (asking === 'out')
      return (
        <TakeOutPanel
          states={states}
          present={present}
          ready={turn && !turn.isShared ? from : null}
          onCancel={() => setAsking(null)}
          onOut={(member, reason) => {
            const refusal = actFor(member, { type: 'left-set-up', reason }, true);
            if (refusal) return refusal.message;
            setAsking(null);
            setUp.setCursor(null);
            return null;
          }}
        />
      );
    if (asking === 'note')
      return (
        <NotePrompt
          title={turn?.isShared ? 'A note for the record of each' : `A note for the record of ${state.instrument.identification}`}
          act={act}
          onDone={() => setAsking(null)}
        />
      );
    if (!turn)
      return (
        <Said title="Nothing is left to do in this set-up.">
          <p className="mt-3">Each instrument above opens its own record.</p>
          <a href="/" className="button button-main mt-4" data-keys>
            To the bench
          </a>
        </Said>
      );
    if (setUp.chosen.length === 0)
      return (
        <Said title="Nobody is chosen. For whom is it done?">
          <button type="button" data-keys className="button button-main mt-4" onClick={setUp.chooseAll}>
            For all
          </button>
        </Said>
      );
    return (
      // Each has its own panel: what was typed for one is not typed for another.
      <div key={setUp.panelKey}>
        <PresentPanel
          item={item}
          slot={slot}
          correcting={correcting}
          onCorrected={() => setCorrecting(null)}
          onCursor={(to) => setUp.setCursor(to && { member: from, slot: to })}
          onStep={setUp.step}
          onOpen={(result) => setOpened({ result, member: from })}
        />
      </div>
    );
  };

  return (
    <BenchShell
      context={{ run: logs[from]!.run, state, together: states, now, act, known: runs[from]!.known, leaveFor }}
      logs={logs}
      isOff={isOff}
      person={person}
      isUnderWay={turn !== null}
      head={
        <div className="border-b border-rule px-4 py-2 lg:px-6">
          <h1 className="!text-lg">
            {states.length} in one set-up{' '}
            <span className="font-normal text-soft">
              · {state.procedure.title}, revision {state.procedure.revision}
            </span>
          </h1>
          <MemberStrip
            states={states}
            runs={runs.map((r) => r.run)}
            turn={turn}
            from={from}
            {...(setUp.choose ? { chosen: setUp.chosen, onChoose: setUp.choose } : {})}
          />
        </div>
      }
      readings={
        item !== null && stageOf(state, item) === 'prepare' ? (
          <>
            <p className="mb-1 text-sm text-soft">
              What was said for <span className="ident">{state.instrument.identification}</span>
            </p>
            <PreparationList onCorrect={setCorrecting} />
          </>
        ) : (
          <>
            {item?.type === 'judge' && <LookPanel set={item.set} />}
            <SetUpSheet
              states={states}
              cursor={slot ? { member: from, slot } : null}
              onSelect={setUp.select}
              onOpen={(member, result) => setOpened({ result, member })}
            />
          </>
        )
      }
      onNote={() => setAsking('note')}
      leaving={
        present.length > 0 && (
          <button type="button" className="button button-quiet !min-h-9" tabIndex={-1} onClick={() => setAsking('out')}>
            Take one out <span className="key">{setUpKeys.out.shown}</span>
          </button>
        )
      }
      opened={opened && { log: logs[opened.member]!, result: opened.result }}
      onClose={() => setOpened(null)}
      keys={{
        [setUpKeys.out.keys]: () => setAsking('out'),
        [runKeys.note.keys]: () => setAsking('note'),
      }}
      keysPage={{ more: Object.values(setUpKeys), without: [runKeys.leave, runKeys.sheet, runKeys.correct] }}
    >
      {turn && asking === null && (
        <p className={`mb-2 !text-3xl font-bold ${setUp.isForAll ? '' : 'ident'}`} role="status" aria-label="For whom">
          {setUp.forWhom}
        </p>
      )}
      {panel()}
    </BenchShell>
  );
});

const Said = ({ title, children }: { title: string; children: ReactNode }) => (
  <>
    <h2 className="text-xl leading-snug">{title}</h2>
    {children}
  </>
);
