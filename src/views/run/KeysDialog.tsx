import { useEffect, useRef } from 'react';

const keys: [string, string][] = [
  ['0–9 , .', 'Type what it shows: comma and point both work; a digit alone chooses where there is a choice'],
  ['Enter', 'Take the reading and go on; answer yes; do what is proposed'],
  ['↑  Backspace', 'Step back to the reading before'],
  ['↓', 'Step on'],
  ['x', 'Strike out the reading you stepped to, with a reason'],
  ['s', 'Use other items of the standard for this point'],
  ['t', 'Read the conditions again'],
  ['k', 'Skip this point, with a reason'],
  ['u', 'Open the result of this point and what it is made of'],
  ['n', 'Answer a question with no'],
  ['Esc', 'Back'],
  ['?', 'Show these keys'],
];

/** The keys of the run screen. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  return (
    <dialog ref={dialog} onClose={onClose} aria-labelledby="keys-title">
      <h2 id="keys-title">Keys</h2>
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        {keys.map(([key, what]) => (
          <div key={key} className="contents">
            <dt>
              <span className="key">{key}</span>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <form method="dialog" className="mt-4 text-right">
        <button className="button">Close</button>
      </form>
    </dialog>
  );
}
