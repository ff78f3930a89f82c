import { useState } from 'react';
import { roles, type Role } from '../../core/register/roles';
import { ask } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { guarded } from '../../ui/guarded';

type Token = { id: string; person: string; roles: Role[]; made: string; ends: string; state: 'good' | 'ended' | 'run out' };

/** Tokens by which programs act in a person's name. */
export const Tokens = guarded(function Tokens({ tokens, people }: { tokens: Token[]; people: string[] }) {
  const [shown, show] = useState(tokens);
  const [name, setName] = useState(people[0] ?? '');
  const [held, setHeld] = useState<Role[]>(['technician']);
  const [days, setDays] = useState('30');
  const [made, setMade] = useState('');
  const [fault, setFault] = useState('');

  async function make() {
    const answer = await ask('POST /api/tokens', { body: { name, roles: held, days: Number(days) } });
    if (!answer.ok) return setFault(answer.refusal.message);
    setFault('');
    setMade(answer.body.token);
    const now = new Date();
    const ends = new Date(now.getTime() + Number(days) * 86_400_000);
    show((before) => [
      ...before,
      {
        id: answer.body.id,
        person: name,
        roles: held,
        made: now.toISOString().slice(0, 10),
        ends: ends.toISOString().slice(0, 10),
        state: 'good',
      },
    ]);
  }
  async function end(id: string) {
    const answer = await ask('DELETE /api/tokens/[id]', { id });
    if (!answer.ok) return setFault(answer.refusal.message);
    show((before) => before.map((t) => (t.id === id ? { ...t, state: 'ended' } : t)));
  }
  return (
    <>
      <ul className="ruled mt-2 border-y border-rule bg-sheet" aria-label="Tokens">
        {shown.map((t) => (
          <li key={t.id} className="flex min-h-12 flex-wrap items-center gap-x-4 px-4 py-1">
            <span className="ident">{t.id}</span>
            <span className="mr-auto">
              {t.person}: {t.roles.join(', ')}
            </span>
            <span className="figure text-soft">
              {t.state === 'good' ? `from ${t.made} until ${t.ends}` : t.state === 'ended' ? 'ended' : `ran out on ${t.ends}`}
            </span>
            {t.state === 'good' && (
              <button type="button" className="button button-quiet" aria-label={`End ${t.id}`} onClick={() => void end(t.id)}>
                End it
              </button>
            )}
          </li>
        ))}
        {shown.length === 0 && <li className="px-4 py-3 text-soft">No program acts for anybody.</li>}
      </ul>
      {made && (
        <p className="mt-3">
          Keep this now; it is not shown again: <strong className="font-mono break-all">{made}</strong>
        </p>
      )}
      <form
        className="mt-4 grid max-w-3xl items-end gap-3 sm:grid-cols-[1fr_8rem_auto]"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <Field label="A token that acts as">
          <select className="w-full" value={name} onChange={(e) => setName(e.target.value)}>
            {people.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
        </Field>
        <Field label="Days it is good">
          <input
            className="figure w-full"
            inputMode="numeric"
            maxLength={4}
            value={days}
            onChange={(e) => setDays(e.target.value)}
          />
        </Field>
        <button className="button" disabled={held.length === 0}>
          Make a token
        </button>
        <fieldset className="flex flex-wrap gap-x-6 gap-y-2 sm:col-span-3">
          <legend className="text-sm text-soft">May act as</legend>
          {roles
            .filter((role) => role !== 'owner')
            .map((role) => (
              <label key={role} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={held.includes(role)}
                  onChange={(e) => setHeld(e.target.checked ? [...held, role] : held.filter((r) => r !== role))}
                />
                {role}
              </label>
            ))}
        </fieldset>
      </form>
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
    </>
  );
});
