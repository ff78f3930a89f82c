import * as Radix from '@radix-ui/react-dialog';
import type { ReactNode } from 'react';

type Props = {
  isOpen: boolean;
  onClose: () => void;
  title: ReactNode;
  children: ReactNode;
  /** For tables. */ isWide?: boolean;
  /** Stands beside the title. */ aside?: ReactNode;
};

/** A question or a look aside, over the page: Escape and a click beside it close it, and the keyboard goes back to where it was. */
export function Dialog({ isOpen, onClose, title, children, isWide = false, aside }: Props) {
  return (
    <Radix.Root open={isOpen} onOpenChange={(open) => !open && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-50 bg-[rgb(28_42_49/45%)]" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[calc(100vh-2rem)] -translate-x-1/2 -translate-y-1/2 overflow-auto border-[1.5px] border-ink bg-sheet p-6 ${isWide ? 'w-[min(64rem,calc(100vw-2rem))]' : 'w-[min(34rem,calc(100vw-2rem))]'}`}
        >
          {aside && <div className="float-right flex flex-row-reverse gap-2">{aside}</div>}
          <Radix.Title asChild>
            <h2 className={isWide ? '!text-xl' : ''}>{title}</h2>
          </Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** A button that closes the dialog it stands in. */
export function DialogClose({ children, className = 'button' }: { children: ReactNode; className?: string }) {
  return (
    <Radix.Close asChild>
      <button type="button" className={className}>
        {children}
      </button>
    </Radix.Close>
  );
}
