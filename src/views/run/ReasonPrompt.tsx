import { useEffect, useRef, useState, type FormEvent } from 'react';

type Props = {
  title: string;
  ready: string[];
  confirm: string;
  onReason: (reason: string) => string | null;
  onCancel: () => void;
};

/** Asks for a reason. The usual ones are a digit away; Escape goes back. */
export function ReasonPrompt({ title, ready, confirm, onReason, onCancel }: Props) {
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const give = (text: string) => setFault(onReason(text) ?? '');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (reason.trim().length < 3) setFault('Write a few words.');
    else give(reason.trim());
  };
  return (
    <form
      onSubmit={submit}
      className="flex flex-col gap-2"
      onKeyDown={(e) => {
        if (e.key === 'Escape') onCancel();
        const chosen = reason === '' && ready[Number(e.key) - 1];
        if (chosen) {
          e.preventDefault();
          give(chosen);
        }
      }}
    >
      <h2>{title}</h2>
      {ready.map((text, i) => (
        <button key={text} type="button" className="button !justify-start" onClick={() => give(text)}>
          <span className="key">{i + 1}</span> {text}
        </button>
      ))}
      <label>
        <span className="mb-1 block text-sm text-soft">{ready.length ? 'Another reason' : 'In a few words'}</span>
        <input ref={input} value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="flex gap-2">
        <button className="button button-main">{confirm}</button>
        <button type="button" className="button button-quiet" onClick={onCancel}>
          Back <span className="key">Esc</span>
        </button>
      </div>
    </form>
  );
}
