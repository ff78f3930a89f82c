import { useState } from 'react';
import { ask } from '../../ui/ask-server';
import { CodeMark } from '../../ui/CodeMark';
import { guarded } from '../../ui/guarded';
import { LongWork, useLongWork } from '../../ui/LongWork';

type Props = {
  seal: { since: string | null; head: string | null; lines: number };
  /** The head as a code to be scanned. */
  code: { size: number; path: string } | null;
};
/** The end of the chain to be kept elsewhere, and everything held against it. */
export const SealPanel = guarded(function SealPanel({ seal, code }: Props) {
  const [kept, setKept] = useState('');
  const [isCopied, setCopied] = useState(false);
  const { outcome, ...check } = useLongWork((asking) => ask('POST /api/laboratory/seal', { body: { heads: kept } }, asking));

  return (
    <div className="grid gap-8 md:grid-cols-2">
      <div>
        {seal.head && code ? (
          <div className="flex items-start gap-4">
            <CodeMark code={code} title="The seal as a code" className="size-32 shrink-0" />
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
      <div>
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
        <div className="mt-2">
          <LongWork {...check} title="Check the record" of="rows" isMain />
        </div>
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
      </div>
    </div>
  );
});
