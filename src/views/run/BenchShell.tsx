import { useState, type ReactNode, type Ref, type KeyboardEvent } from 'react';
import { cautionsNow } from '../../core/run/cautions';
import { later } from '../../ui/later';
import { NowSection } from './NowSection';
import { RunContextProvider, type RunContext } from './run-context';
import type { OpenResult } from './SeriesSheet';
import { useBenchKeys } from './use-bench';
import type { BenchLog } from './use-run-log';
import type { RunKey } from './keymap';

const KeysDialog = later(async () => (await import('./KeysDialog')).KeysDialog);
const PendingBar = later(async () => (await import('./PendingBar')).PendingBar);
const ResultDialog = later(async () => (await import('./ResultDialog')).ResultDialog);

type Props = {
  context: RunContext;
  logs: readonly BenchLog[];
  /** Whether this device's clock is off. */ isOff: boolean;
  person: string;
  /** What stands on top: whose it is and how far it has come. */ head: ReactNode;
  /** What has been read so far, or what was said while preparing. */ readings: ReactNode;
  readingsRef?: Ref<HTMLElement>;
  onReadingsKey?: (event: KeyboardEvent) => void;
  /** What is done now. */ children: ReactNode;
  /** Whether cautions of what is done now are shown. */ isUnderWay: boolean;
  /** What stands last in the row beneath. */ leaving: ReactNode;
  onNote: () => void;
  opened: { log: BenchLog; result: OpenResult } | null;
  onClose: () => void;
  /** Keys of this bench beside the entry's. */ keys: Record<string, () => void>;
  /** How the page of keys differs. */ keysPage?: { more: readonly RunKey[]; without: readonly RunKey[] };
};

/** The bench: what stands on top, what is not recorded yet, the readings, what is done now. The same for one run and for several together. */
export function BenchShell({
  context,
  logs,
  isOff,
  person,
  head,
  readings,
  readingsRef,
  onReadingsKey,
  children,
  isUnderWay,
  leaving,
  onNote,
  opened,
  onClose,
  keys,
  keysPage,
}: Props) {
  const [isHelp, setHelp] = useState(false);
  useBenchKeys(() => setHelp(true), keys);
  return (
    <RunContextProvider value={context}>
      {head}
      <NotRecorded logs={logs} isOff={isOff} />
      <div className="grid min-h-0 flex-1 gap-6 px-6 py-3 min-[1100px]:grid-cols-[1fr_25rem]">
        <section
          ref={readingsRef}
          tabIndex={0}
          onKeyDown={onReadingsKey}
          className="order-2 min-h-0 overflow-auto min-[1100px]:order-1"
          aria-label="Readings"
        >
          {readings}
        </section>
        <NowSection
          person={person}
          cautions={isUnderWay ? cautionsNow(context.state, context.now) : []}
          pending={logs.reduce((sum, l) => sum + l.snapshot.pending.length, 0)}
          isTroubled={logs.some((l) => l.snapshot.trouble !== null)}
          onKeys={() => setHelp(true)}
          onNote={onNote}
          leaving={leaving}
        >
          {children}
        </NowSection>
      </div>
      {opened && <ResultDialog state={opened.log.snapshot.state} opened={opened.result} run={opened.log.run} onClose={onClose} />}
      {isHelp && <KeysDialog {...keysPage} onClose={() => setHelp(false)} />}
    </RunContextProvider>
  );
}

/** What the server does not have, of each run; that it is not reached, and that the clock is off, is said once. */
function NotRecorded({ logs, isOff }: { logs: readonly BenchLog[]; isOff: boolean }) {
  const unreachable = logs.findIndex((l) => l.snapshot.isUnreachable);
  return logs.map(({ run, store, snapshot: s }, i) => {
    const isUnreachable = i === unreachable;
    const isClockOff = isOff && i === 0;
    if (!s.isUnreachable && !s.isFull && !s.trouble && !s.waiting && !isClockOff) return null;
    return (
      <PendingBar
        key={run}
        state={s.state}
        pending={s.pending}
        isUnreachable={isUnreachable}
        waiting={s.waiting}
        trouble={s.trouble}
        isFull={s.isFull}
        isClockOff={isClockOff}
        onSendAgain={store.sendAgain}
        onLeaveOut={store.leaveOut}
      />
    );
  });
}
