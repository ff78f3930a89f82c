import { useEffect, useRef, useState, type FormEvent } from 'react';

type Props = {
  title: string;
  ready: string[];
  confirm: string;
  /** What may be said beside the reason, and the ready reason that says it by itself. */
  also?: { title: string; by: string };
  onReason: (reason: string, isAlso: boolean) => string | null;
  onCancel: () => void;
};

/** Asks for a reason. The usual ones are a digit away; Escape goes back. */
export function ReasonPrompt({ title, ready, confirm, also, onReason, onCancel }: Props) {
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const [isAlso, setIsAlso] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const give = (text: string) => setFault(onReason(text, isAlso || text === also?.by) ?? '');
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
      {also && (
        <label className="flex min-h-11 items-center gap-2">
          <input type="checkbox" checked={isAlso} onChange={(e) => setIsAlso(e.target.checked)} /> {also.title}
        </label>
      )}
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
