import { useEffect, useRef, useState } from 'react';
import { UserRound } from 'lucide-react';
import { useHotkeys } from 'react-hotkeys-hook';
import { ask } from './ask-server';
import { guarded } from './guarded';
import { later } from './later';
import { followPerson, onAskWho, setPerson, usePerson } from './person';

const HandOn = later(async () => (await import('./HandOn')).HandOn);
const Signature = later(async () => (await import('./Signature')).Signature);

/** How often it is looked whether somebody is still there, and said that somebody is, in ms. */
const lookEvery = 10_000;
const sayEvery = 30_000;

/** The name of whoever acts. Hands the device on, and asks who is there after a time without a hand on it; what was typed stays. */
export const SignedIn = guarded(function SignedIn({
  person: initially,
  by,
  minutes,
}: {
  person: string;
  by: 'bench' | 'own' | 'token';
  minutes: number;
}) {
  const person = usePerson(initially);
  const [isOpen, setOpen] = useState(false);
  /** Nobody may look on or act until somebody takes the device over. */
  const [isLocked, setLocked] = useState(false);
  const touched = useRef(0);
  const told = useRef(0);

  useEffect(followPerson, []);
  useEffect(() => setLocked(person === ''), [person]);
  useEffect(
    () =>
      onAskWho(() => {
        setOpen(true);
      }),
    [],
  );
  useHotkeys(
    'f2',
    (event) => {
      event.preventDefault();
      setOpen(true);
    },
    { enableOnFormTags: true },
  );

  useEffect(() => {
    if (by === 'token') return;
    touched.current = Date.now();
    told.current = Date.now();
    const touch = () => (touched.current = Date.now());
    const timer = setInterval(() => {
      const now = Date.now();
      if (document.documentElement.dataset['person'] === '') return;
      if (now - touched.current > minutes * 60_000) {
        // Somebody may be at another window of this device: the server knows.
        touched.current = now - minutes * 60_000 + sayEvery;
        void ask('GET /api/sign-in/bench', {}).then((answer) => {
          const isThere = answer.ok ? answer.body.person !== null : answer.refusal.status !== 401;
          if (!isThere) setPerson('');
        });
      } else if (touched.current > told.current && now - told.current > sayEvery) {
        told.current = now;
        void ask('POST /api/sign-in/here', {}).then((answer) => {
          if (!answer.ok && answer.refusal.status === 401) setPerson('');
        });
      }
    }, lookEvery);
    for (const event of ['pointerdown', 'keydown'] as const) window.addEventListener(event, touch, true);
    return () => {
      clearInterval(timer);
      for (const event of ['pointerdown', 'keydown'] as const) window.removeEventListener(event, touch, true);
    };
  }, [by, minutes]);

  return (
    <>
      <button
        type="button"
        className="button button-quiet"
        onClick={() => setOpen(true)}
        aria-label={`${person || 'Nobody'}: hand on, or sign off`}
      >
        <UserRound size={18} aria-hidden />
        {person || 'Nobody is here'}
      </button>
      {(isOpen || isLocked) && <HandOn person={person} by={by} isLocked={isLocked} onClose={() => setOpen(false)} />}
      <Signature />
    </>
  );
});
