import { useRef, useState } from 'react';
import { ask, type Progress } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';

type Props = {
  seal: { since: string | null; head: string | null; lines: number };
  /** The head as a code to be scanned. */
  code: { size: number; path: string } | null;
};
type Outcome = { faults: string[]; lines: number; held: number };

/** The end of the chain to be kept elsewhere, and everything held against it. */
export const SealPanel = guarded(function SealPanel({ seal, code }: Props) {
  const [kept, setKept] = useState('');
  const [progress, setProgress] = useState<Progress | null>(null);
  const [outcome, setOutcome] = useState<Outcome | null>(null);
  const [fault, setFault] = useState('');
  const [isCopied, setCopied] = useState(false);
  const giveUp = useRef<AbortController | null>(null);

  const check = async (): Promise<void> => {
    giveUp.current = new AbortController();
    setOutcome(null);
    setFault('');
    setProgress({ done: 0, of: 1 });
    const answer = await ask(
      'POST /api/laboratory/seal',
      { body: { heads: kept } },
      { onProgress: setProgress, signal: giveUp.current.signal },
    );
    setProgress(null);
    if (answer.ok) setOutcome(answer.body);
    else setFault(answer.refusal.message);
  };

  return (
    <div className="grid gap-8 md:grid-cols-2">
      <div>
        {seal.head && code ? (
          <div className="flex items-start gap-4">
            <svg
              viewBox={`-2 -2 ${code.size + 4} ${code.size + 4}`}
              className="size-32 shrink-0 bg-white"
              role="img"
              aria-label="The seal as a code"
            >
              <path d={code.path} fill="#000" shapeRendering="crispEdges" />
            </svg>
            <div className="min-w-0">
              <p className="text-sm text-soft">The seal of everything up to now</p>
              <p className="font-mono break-all">{seal.head}</p>
              <button
                type="button"
                className="button mt-2"
                onClick={() => void navigator.clipboard?.writeText(seal.head!).then(() => setCopied(true))}
              >
                {isCopied ? 'Copied' : 'Copy it'}
              </button>
            </div>
          </div>
        ) : (
          <p>Nothing is recorded yet.</p>
        )}
        <p className="mt-3 text-sm text-soft">
          {seal.since ? `Everything is sealed since ${seal.since.slice(0, 10)}.` : 'Older data is being sealed.'} Print this line
          or send it to somebody outside: with it, nobody can make the record anew without being seen.
        </p>
      </div>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (!progress) void check();
        }}
      >
        <label className="block">
          <span className="block text-sm text-soft">Seals that were kept, a line each; from paper, or read from a code</span>
          <textarea
            value={kept}
            onChange={(e) => setKept(e.target.value)}
            rows={2}
            maxLength={20_000}
            className="w-full font-mono"
            placeholder="Sealed 1234 …"
            spellCheck={false}
          />
        </label>
        <div className="mt-2 flex items-center gap-3">
          {progress ? (
            <button type="button" className="button" onClick={() => giveUp.current?.abort()}>
              Stop
            </button>
          ) : (
            <button className="button button-main">Check the record</button>
          )}
          {progress && (
            <span className="figure text-soft" role="status">
              {progress.done} of {progress.of} rows
            </span>
          )}
        </div>
        {fault && (
          <p className="fault mt-2" role="alert">
            {fault}
          </p>
        )}
        {outcome && (
          <div className="mt-3" role="status">
            <p className="font-bold">
              {outcome.faults.length
                ? `${outcome.faults.length} ${outcome.faults.length === 1 ? 'thing is' : 'things are'} not as recorded.`
                : `All as it was recorded${outcome.held ? `, up to ${outcome.held === 1 ? 'the seal that was' : 'the seals that were'} kept` : ''}.`}
            </p>
            <ul className="mt-1 text-sm">
              {outcome.faults.map((f) => (
                <li key={f} className="break-words border-t border-rule py-1">
                  {f}
                </li>
              ))}
            </ul>
          </div>
        )}
      </form>
    </div>
  );
});
