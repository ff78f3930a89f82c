import * as Radix from '@radix-ui/react-dialog';
import { useEffect, useState } from 'react';
import type { AnswerOf } from '../contract/endpoints';
import { ask } from './ask-server';
import { Dialog, DialogClose } from './Dialog';
import { setPerson } from './person';
import { TakeOver } from './TakeOver';

type Props = {
  person: string;
  by: 'bench' | 'own' | 'token';
  /** Nobody is here: it closes when somebody has taken over. */ isLocked: boolean;
  onClose: () => void;
};

/** Hands a device on to another, signs it off, or asks who is there. What stands on the page behind it stays as it is. */
export function HandOn({ person, by, isLocked, onClose }: Props) {
  const [board, setBoard] = useState<AnswerOf<'GET /api/sign-in/bench'> | null>(null);
  const [fault, setFault] = useState('');
  useEffect(() => {
    if (by === 'token') return;
    void ask('GET /api/sign-in/bench', {}).then((answer) => {
      if (answer.ok) setBoard(answer.body);
      // The session has ended: only the way in is left, and what was not recorded waits in this browser.
      else if (answer.refusal.status === 401)
        window.location.assign(`/sign-in?to=${encodeURIComponent(window.location.pathname)}`);
      else setFault(answer.refusal.message);
    });
  }, [by]);

  const others = board?.people.filter((name) => isLocked || name !== person) ?? [];
  const taken = (name: string) => {
    setPerson(name);
    onClose();
  };
  async function signOut() {
    const answer = await ask('DELETE /api/sign-in', {});
    if (answer.ok) window.location.assign('/sign-in');
    else setFault(answer.refusal.message);
  }
  const body = (
    <>
      {fault && <p className="fault mt-3">{fault}</p>}
      {by === 'token' && <p className="mt-3">This page was asked for with a token: {person} acts.</p>}
      {board && others.length > 0 && <TakeOver people={others} last={isLocked ? board.last : null} onTaken={taken} />}
      {board && !(board.isBench && isLocked) && (
        <p className="mt-5 flex flex-wrap gap-3 border-t border-rule pt-4">
          {!isLocked && (
            <a href="/me" className="button">
              My digits, password and devices
            </a>
          )}
          {!isLocked && (
            <button
              type="button"
              className="button"
              onClick={() => void ask('DELETE /api/sign-in/bench', {}).then(() => taken(''))}
            >
              Sign off
            </button>
          )}
          {!board.isBench && (
            <button type="button" className="button button-quiet" onClick={() => void signOut()}>
              Sign this device out
            </button>
          )}
          {!isLocked && <DialogClose className="button button-quiet">Close</DialogClose>}
        </p>
      )}
    </>
  );
  if (!isLocked)
    return (
      <Dialog isOpen onClose={onClose} title={board?.isBench === false ? person : 'Who works here now?'}>
        {body}
      </Dialog>
    );
  return (
    <Radix.Root open>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-50 bg-[rgb(28_42_49/94%)]" />
        <Radix.Content
          aria-describedby={undefined}
          onEscapeKeyDown={(e) => e.preventDefault()}
          onPointerDownOutside={(e) => e.preventDefault()}
          className="fixed top-1/2 left-1/2 z-50 max-h-[calc(100vh-2rem)] w-[min(34rem,calc(100vw-2rem))] -translate-x-1/2 -translate-y-1/2 overflow-auto border-[1.5px] border-ink bg-sheet p-6"
        >
          <Radix.Title asChild>
            <h2>{board?.name ? `${board.name}: who is here?` : 'Who is here?'}</h2>
          </Radix.Title>
          <p className="mt-1 text-soft">Everything that was typed stands behind this as it was.</p>
          {body}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
