import { useRef, useState } from 'react';
import type { Answer, Progress } from './ask-server';

/** Something long that is asked of the server: how far it is, what came of it, what was refused; and how it is given up. */
export function useLongWork<T>(work: (asking: { onProgress: (p: Progress) => void; signal: AbortSignal }) => Promise<Answer<T>>) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [outcome, setOutcome] = useState<T | null>(null);
  const [fault, setFault] = useState('');
  const giveUp = useRef<AbortController | null>(null);
  const begin = async (): Promise<void> => {
    if (progress) return;
    giveUp.current = new AbortController();
    setOutcome(null);
    setFault('');
    setProgress({ done: 0, of: 0 });
    const answer = await work({ onProgress: setProgress, signal: giveUp.current.signal });
    setProgress(null);
    if (answer.ok) setOutcome(answer.body);
    else setFault(answer.refusal.message);
  };
  return { progress, outcome, fault, begin: (): void => void begin(), stop: (): void => giveUp.current?.abort() };
}

type Props = Pick<ReturnType<typeof useLongWork>, 'progress' | 'fault' | 'begin' | 'stop'> & {
  title: string;
  /** What is counted on the way. */ of: string;
  isMain?: boolean;
};

/** The button that begins it, in its place the one that stops it, how far it is, and what was refused. */
export const LongWork = ({ progress, fault, begin, stop, title, of, isMain = false }: Props) => (
  <>
    <div className="flex items-center gap-3">
      <button type="button" className={`button ${isMain && !progress ? 'button-main' : ''}`} onClick={progress ? stop : begin}>
        {progress ? 'Stop' : title}
      </button>
      {progress && progress.of > 0 && (
        <span className="figure text-soft" role="status">
          {progress.done} of {progress.of} {of}
        </span>
      )}
    </div>
    {fault && (
      <p className="fault mt-2 basis-full" role="alert">
        {fault}
      </p>
    )}
  </>
);
