import type { ReactNode } from 'react';
import { runKeys } from './keymap';
import { SayWho } from '../../ui/SayWho';

type Props = {
  person: string;
  cautions: readonly string[];
  /** Entries that the server has not confirmed. */ pending: number;
  /** Whether they wait for the person to decide. */ isTroubled: boolean;
  onKeys: () => void;
  onNote: () => void;
  children: ReactNode;
  /** What stands last in the row beneath. */ leaving: ReactNode;
};

/** What is done now, and beneath it what is always at hand. */
export function NowSection({ person, cautions, pending, isTroubled, onKeys, onNote, children, leaving }: Props) {
  return (
    <section
      className="order-1 flex min-h-0 flex-col overflow-auto border-ink p-1 min-[1100px]:order-2 min-[1100px]:border-l min-[1100px]:pl-6"
      aria-label="Now"
    >
      <div className="flex-1">
        {!person && (
          <p className="mb-3">
            <SayWho />
          </p>
        )}
        {cautions.map((caution) => (
          <p key={caution} className="caution mb-2 text-sm" role="status">
            {caution}
          </p>
        ))}
        {children}
      </div>
      <div className="sticky -bottom-1 mt-3 flex items-center justify-between gap-2 bg-paper text-sm">
        <button type="button" className="button button-quiet !min-h-9 !px-1 whitespace-nowrap" tabIndex={-1} onClick={onKeys}>
          Keys <span className="key">?</span>
        </button>
        <span className="whitespace-nowrap text-soft" role="status">
          {pending === 0 ? 'All recorded' : isTroubled ? `${pending} not recorded` : `${pending} on the way`}
        </span>
        <button type="button" className="button button-quiet !min-h-9 !px-1 whitespace-nowrap" tabIndex={-1} onClick={onNote}>
          Note <span className="key">{runKeys.note.shown}</span>
        </button>
        {leaving}
      </div>
    </section>
  );
}
