import { useState } from 'react';
import { ableTo, everyKind, type AbleTo } from '../../core/register/competence';
import { ask } from '../../ui/ask-server';
import { dayField } from '../../ui/date-input';
import type { Noted } from './PeopleBoard';

type Props = {
  name: string;
  kinds: { id: string; title: string }[];
  today: string;
  onNoted: (rows: Noted[]) => void;
};

const words: Record<AbleTo, string> = { run: 'calibrates', review: 'reviews', approve: 'approves' };

/** Notes that somebody was found able to do something with a family. */
export function NoteCompetence({ name, kinds, today, onNoted }: Props) {
  const [kind, setKind] = useState(everyKind as string);
  const [may, setMay] = useState<AbleTo[]>(['run']);
  const [from, setFrom] = useState(today);
  const [until, setUntil] = useState('');
  const [ground, setGround] = useState('');
  const [fault, setFault] = useState('');

  async function note() {
    const entry = { name, kind, may, from, until: until || null, ground };
    const answer = await ask('POST /api/competences', { body: entry });
    if (!answer.ok) return setFault(answer.refusal.message);
    setFault('');
    setGround('');
    const { ids } = answer.body;
    onNoted(may.map((one, i) => ({ id: ids[i]!, person: name, kind, may: one, from, until: until || null, ground })));
  }
  return (
    <details className="mt-3">
      <summary className="cursor-pointer py-2">Note something</summary>
      <div className="grid gap-3 sm:grid-cols-[1fr_auto_auto]">
        <label>
          <span className="block text-sm text-soft">Family</span>
          <select className="w-full" value={kind} onChange={(e) => setKind(e.target.value)}>
            <option value={everyKind}>every family</option>
            {kinds.map((k) => (
              <option key={k.id} value={k.id}>
                {k.title}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="block text-sm text-soft">From</span>
          <input {...dayField} className="figure w-36" value={from} onChange={(e) => setFrom(e.target.value)} />
        </label>
        <label>
          <span className="block text-sm text-soft">Until, where it ends</span>
          <input {...dayField} className="figure w-36" value={until} onChange={(e) => setUntil(e.target.value)} />
        </label>
      </div>
      <fieldset className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
        <legend className="text-sm text-soft">Does what</legend>
        {ableTo.map((one) => (
          <label key={one} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={may.includes(one)}
              onChange={(e) => setMay(e.target.checked ? [...may, one] : may.filter((m) => m !== one))}
            />
            {words[one]}
          </label>
        ))}
      </fieldset>
      <label className="mt-3 block">
        <span className="block text-sm text-soft">On what it rests</span>
        <input className="w-full" maxLength={300} value={ground} onChange={(e) => setGround(e.target.value)} />
      </label>
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
      <button type="button" className="button mt-3" onClick={() => void note()}>
        Note it
      </button>
    </details>
  );
}
