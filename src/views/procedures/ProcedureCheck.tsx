import { useEffect, useRef, useState, type ChangeEvent } from 'react';
import { Upload } from 'lucide-react';
import type { ProcedureAnswer } from '../../core/door/procedure-verbs';
import { askCore } from '../../worker/ask-core';
import { notWhole } from '../../ui/not-whole';
import type { SentTo } from '../../contract/endpoints';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';
import { hoursWords } from '../../core/document/plan-words';

type Told =
  | { kind: 'nothing' }
  | { kind: 'checking' }
  | { kind: 'fault'; message: string; path: string }
  | { kind: 'valid'; answer: ProcedureAnswer; document: unknown };

const largest = 1_000_000;

/** The text of a procedure with its faults, told while it is written. The check runs beside the page, never in it. */
export const ProcedureCheck = guarded(function ProcedureCheck() {
  const [text, setText] = useState('');
  const [told, setTold] = useState<Told>({ kind: 'nothing' });
  const cancel = useRef(() => {});

  useEffect(() => {
    cancel.current();
    if (text.trim() === '') return setTold({ kind: 'nothing' });
    let procedure: unknown;
    try {
      procedure = JSON.parse(text);
    } catch (error) {
      return setTold({
        kind: 'fault',
        message: notWhole(error),
        path: '',
      });
    }
    // Half a second after the last key.
    const timer = setTimeout(() => {
      setTold({ kind: 'checking' });
      const question = askCore('procedure', { procedure });
      cancel.current = question.cancel;
      void question.answer.then((answer) => {
        if (answer.ok) setTold({ kind: 'valid', answer: answer.document as ProcedureAnswer, document: procedure });
        else if (answer.refusal.error.message !== 'Cancelled.')
          setTold({ kind: 'fault', message: answer.refusal.error.message, path: answer.refusal.error.path.slice(1).join(' · ') });
      });
    }, 500);
    return () => clearTimeout(timer);
  }, [text]);

  async function shelve(document: unknown) {
    const answer = await ask('POST /api/procedures', { body: document as SentTo<'POST /api/procedures'> });
    if (answer.ok) window.location.assign(`/procedures/${answer.body.id}`);
    else setTold({ kind: 'fault', message: answer.refusal.message, path: answer.refusal.path.join(' · ') });
  }

  async function take(event: ChangeEvent<HTMLInputElement>) {
    const file = event.target.files?.[0];
    event.target.value = '';
    if (!file) return;
    if (file.size > largest)
      return setTold({
        kind: 'fault',
        message: `${file.name} is larger than ${largest / 1e6} MB: that is no procedure.`,
        path: '',
      });
    setText(await file.text());
  }

  return (
    <div className="mt-3 grid gap-6 lg:grid-cols-[1fr_22rem]">
      <textarea
        value={text}
        onChange={(e) => setText(e.target.value)}
        aria-label="Text of a procedure"
        spellCheck={false}
        placeholder='{ "format": "just-twice/procedure", "version": 2, … }'
        className="h-72 w-full resize-y font-mono text-sm"
      />
      <div>
        <label className="button cursor-pointer focus-within:outline-3 focus-within:outline-verdigris">
          <Upload size={16} aria-hidden /> Take in a document
          <input type="file" accept=".json,application/json" onChange={take} className="sr-only !min-h-0" />
        </label>
        <div className="mt-3" role="status">
          {told.kind === 'checking' && <p className="text-soft">Checking…</p>}
          {told.kind === 'fault' && (
            <div className="fault">
              <p>{told.message}</p>
              {told.path && <p className="mt-1 text-sm">at {told.path}</p>}
            </div>
          )}
          {told.kind === 'valid' && (
            <div className="border-y border-rule bg-sheet px-4 py-3">
              <p className="font-bold text-verdigris">Valid: every name is offered.</p>
              <p className="mt-1">
                {told.answer.plan.some((i) => i.type === 'open')
                  ? 'Its points depend on the instrument; '
                  : `${told.answer.readings} readings, `}
                {hoursWords(told.answer.handsOnMinutes)} at the bench, {hoursWords(told.answer.waitingMinutes)} of waiting.
              </p>
              <p className="mt-1">
                {told.answer.example.checked === 0
                  ? 'It carries no worked example.'
                  : `Worked example: ${told.answer.example.checked} numbers, ${told.answer.example.agrees ? 'all agree' : 'some differ'}.`}
              </p>
              <button type="button" className="button button-main mt-3" onClick={() => shelve(told.document)}>
                Take it into the library
              </button>
            </div>
          )}
        </div>
      </div>
    </div>
  );
});
