import { useEffect, useState } from 'react';
import { ask } from './ask-server';
import { Dialog, DialogClose } from './Dialog';
import { Digits } from './Digits';
import { usePerson } from './person';
import { onSign } from './sign';

type Asked = Parameters<Parameters<typeof onSign>[0]>[0];

/** Asks for digits or password before something is signed, and says what that is. */
export function Signature() {
  const person = usePerson();
  const [asked, setAsked] = useState<Asked | null>(null);
  const [fault, setFault] = useState('');
  const [needsPassword, setNeedsPassword] = useState(false);
  useEffect(
    () =>
      onSign((what) => {
        setFault('');
        setNeedsPassword(false);
        setAsked(what);
      }),
    [],
  );
  if (!asked) return null;
  const end = (isSigned: boolean) => {
    setAsked(null);
    asked.answer(isSigned);
  };
  return (
    <Dialog isOpen onClose={() => end(false)} title={`Sign as ${person}`}>
      <p className="mt-2 mb-4 text-lg">
        {asked.what.split(' ').map((word, i) => (
          // A number of an instrument or certificate stays whole.
          <span key={i} className="whitespace-nowrap">
            {word}{' '}
          </span>
        ))}
      </p>
      <Digits
        label="Digits"
        action="Sign"
        needsPassword={needsPassword}
        fault={fault}
        onEntered={async (digits) => {
          const answer = await ask('POST /api/me/confirm', { body: { digits } });
          if (answer.ok) return end(true);
          setFault(answer.refusal.message);
          if (answer.refusal.details['needsPassword']) setNeedsPassword(true);
        }}
      />
      <p className="mt-4 flex gap-3">
        {!needsPassword && (
          <button type="button" className="button button-quiet" onClick={() => setNeedsPassword(true)}>
            With the password
          </button>
        )}
        <DialogClose className="button button-quiet">Do not sign</DialogClose>
      </p>
    </Dialog>
  );
}
