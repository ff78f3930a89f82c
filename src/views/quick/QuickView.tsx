import { useState } from 'react';
import { BellRing, Camera } from 'lucide-react';
import type { QuickBoard, QuickDue } from '../../core/interval/checks-page';
import { guarded } from '../../ui/guarded';
import { CameraScan } from './CameraScan';

/** Finds an instrument by its label, scanned or typed, and says what is to be checked today. */
export const QuickView = guarded(function QuickView({
  board,
  typed,
  fault,
}: {
  board: QuickBoard;
  typed: string;
  fault: string;
}) {
  const [isScanning, setScanning] = useState(false);
  const open = (code: string) => window.location.assign(`/quick?code=${encodeURIComponent(code)}`);
  return (
    <div className="grid gap-8 lg:grid-cols-[26rem_1fr]">
      <section>
        <h1>Quick check</h1>
        <p className="mt-1 text-soft">Scan the code on the label, or type what stands on it.</p>
        <form method="get" action="/quick" className="mt-4 flex gap-3">
          <input
            name="code"
            defaultValue={typed}
            autoFocus
            autoComplete="off"
            autoCapitalize="characters"
            aria-label="What stands on the label"
            maxLength={300}
            className="ident min-h-14 w-full !text-2xl"
            onFocus={(e) => e.target.select()}
          />
          <button className="button button-main min-h-14">Open</button>
        </form>
        {fault && (
          <p className="fault mt-3" role="alert">
            {fault}
          </p>
        )}
        <button type="button" className="button mt-4 w-full" onClick={() => setScanning(!isScanning)}>
          <Camera size={20} aria-hidden /> {isScanning ? 'Stop the camera' : 'Scan with the camera'}
        </button>
        {isScanning && <CameraScan onCode={open} />}
      </section>
      <div className="flex flex-col gap-8">
        {board.alarms.length > 0 && (
          <section>
            <h2>Alarm</h2>
            <QuickList lines={board.alarms} />
          </section>
        )}
        <section>
          <h2>To be checked today</h2>
          {board.wanted.length === 0 ? (
            <p className="mt-2 border-y border-rule bg-sheet px-4 py-5">Every check of today is made.</p>
          ) : (
            <>
              <QuickList lines={board.wanted} />
              <MoreChecks board={board} />
            </>
          )}
        </section>
      </div>
    </div>
  );
});

/** What a list of checks does not show: how many more there are, and that some are still worked out. */
export function MoreChecks({ board: { more, isPending } }: { board: QuickBoard }) {
  if (more === 0 && !isPending) return null;
  return (
    <p className="mt-2 text-sm text-soft">
      {more > 0 && `${more} more are to be checked today: scan a label, or open the instrument. `}
      {isPending && 'How some checks stand is being worked out.'}
    </p>
  );
}

/** Instruments whose quick check is wanted or gives an alarm, each a line that can be hit with a glove. */
export function QuickList({ lines }: { lines: readonly QuickDue[] }) {
  return (
    <ul className="ruled mt-2 border-y border-rule bg-sheet">
      {lines.map((l) => (
        <li key={l.id}>
          <a href={`/instruments/${l.id}/checks`} className="block px-4 py-3 no-underline hover:bg-verdigris-tint">
            <span className="flex items-baseline justify-between gap-3">
              <span className="ident font-bold">{l.identification}</span>
              <span className="text-sm whitespace-nowrap text-soft">{l.how}</span>
            </span>
            <span className="block text-sm text-soft">
              {[l.designation, l.place].filter(Boolean).join(', ')} ·{' '}
              <span className="whitespace-nowrap">{l.last ? `last ${l.last}` : 'never yet'}</span>
            </span>
            {l.standing.state === 'alarm' && (
              <span className="mt-1 flex items-start gap-2 text-sm font-bold text-brick">
                <BellRing size={16} aria-hidden className="mt-0.5 shrink-0" /> {l.standing.words}
              </span>
            )}
          </a>
        </li>
      ))}
    </ul>
  );
}
