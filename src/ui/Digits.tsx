import { Delete } from 'lucide-react';
import { useRef, useState } from 'react';

type Props = {
  /** What is asked for. */ label: string;
  /** What Enter does, in a word. */ action: string;
  /** The digits were wrong too often: the whole password is asked for. */ needsPassword: boolean;
  fault: string;
  onEntered: (typed: string) => Promise<void> | void;
};

const pad = ['1', '2', '3', '4', '5', '6', '7', '8', '9'];

/** Digits from the keyboard, or from keys large enough for a glove. */
export function Digits({ label, action, needsPassword, fault, onEntered }: Props) {
  const [typed, setTyped] = useState('');
  const [isSending, setSending] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const push = (digit: string) => {
    setTyped((before) => (before + digit).slice(0, 8));
    field.current?.focus();
  };
  const enter = async () => {
    if (!typed || isSending) return;
    setSending(true);
    await onEntered(typed);
    setSending(false);
    setTyped('');
    field.current?.focus();
  };
  const key = 'button !min-h-16 !text-2xl figure';
  return (
    <form
      className="max-w-80"
      onSubmit={(e) => {
        e.preventDefault();
        void enter();
      }}
    >
      <label className="block">
        <span className="block text-sm text-soft">{needsPassword ? 'Password' : label}</span>
        <input
          ref={field}
          autoFocus
          type="password"
          inputMode={needsPassword ? 'text' : 'numeric'}
          autoComplete="off"
          maxLength={needsPassword ? 128 : 8}
          className="figure w-full !text-2xl tracking-[0.3em]"
          value={typed}
          aria-invalid={fault ? true : undefined}
          onChange={(e) => setTyped(needsPassword ? e.target.value : e.target.value.replace(/\D/g, ''))}
        />
      </label>
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
      {needsPassword ? (
        <button className="button button-main mt-3" disabled={isSending}>
          {action}
        </button>
      ) : (
        <div className="mt-3 grid grid-cols-3 gap-2" aria-label="Keys">
          {pad.map((digit) => (
            <button key={digit} type="button" className={key} tabIndex={-1} onClick={() => push(digit)}>
              {digit}
            </button>
          ))}
          <button
            type="button"
            className={key}
            tabIndex={-1}
            aria-label="Take the last digit back"
            onClick={() => {
              setTyped((before) => before.slice(0, -1));
              field.current?.focus();
            }}
          >
            <Delete size={22} aria-hidden />
          </button>
          <button type="button" className={key} tabIndex={-1} onClick={() => push('0')}>
            0
          </button>
          <button className="button button-main !min-h-16" disabled={isSending || typed.length < 4}>
            {action}
          </button>
        </div>
      )}
    </form>
  );
}
