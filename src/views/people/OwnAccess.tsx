import { useState } from 'react';
import { FormProvider } from 'react-hook-form';
import * as z from 'zod';
import { ownSecretsSchema } from '../../contract/people-endpoints';
import { ask } from '../../ui/ask-server';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { DigitsInput, PasswordInput } from './SecretInput';
import { guarded } from '../../ui/guarded';

type Session = { id: string; since: string; address: string; device: string; isThis: boolean };
type Typed = { current: string; password: string; digits: string };

/** Nothing typed is nothing changed. */
const typedSchema = z
  .object({ current: z.string(), password: z.string(), digits: z.string() })
  .transform(({ current, password, digits }) => ({
    current,
    ...(password ? { password } : {}),
    ...(digits ? { digits } : {}),
  }))
  .pipe(ownSecretsSchema);

/** What a browser says of itself, in a word or two. */
function deviceWords(agent: string): string {
  const system = /Android|iPad|iPhone|Windows|Mac OS|Linux/.exec(agent)?.[0] ?? 'a device';
  return agent === '' ? 'a device that says nothing of itself' : system;
}

/** One's own password and digits, and where one is signed in. */
export const OwnAccess = guarded(function OwnAccess({ sessions }: { sessions: Session[] }) {
  const [shown, show] = useState(sessions);
  const [said, setSaid] = useState('');
  const [fault, setFault] = useState('');
  const { form, refusal, send } = useEntryForm<Typed, unknown, unknown>(
    { current: '', password: '', digits: '' },
    () => typedSchema as z.ZodType<unknown>,
    { to: 'PUT /api/me' },
    () => setSaid('Changed.'),
    { isCleared: true },
  );
  async function end(id: string) {
    const answer = await ask('DELETE /api/me/sessions/[id]', { id });
    if (!answer.ok) return setFault(answer.refusal.message);
    show((before) => before.filter((s) => s.id !== id));
  }
  return (
    <div className="mt-6 grid gap-10 md:grid-cols-2">
      <section>
        <h2>Password and digits</h2>
        <FormProvider {...form}>
          <form onSubmit={send()} onChange={() => setSaid('')} noValidate className="mt-3 grid max-w-md gap-4">
            <PasswordInput name="current" label="The password as it is now" autoComplete="current-password" />
            <PasswordInput
              name="password"
              label="Another password, if any"
              hint="Signs you out everywhere else"
              autoComplete="new-password"
            />
            <DigitsInput name="digits" label="Other digits, if any" hint="Four to eight" />
            <div className="flex items-center gap-4">
              <button className="button button-main" disabled={form.formState.isSubmitting}>
                Change
              </button>
              <span role="status" className={refusal ? 'fault' : ''}>
                {refusal && refusal.path.length === 0 ? refusal.message : said}
              </span>
            </div>
          </form>
        </FormProvider>
      </section>
      <section>
        <h2>Where you are signed in by yourself</h2>
        <ul className="ruled mt-3 border-y border-rule bg-sheet" aria-label="Devices">
          {shown.map((s) => (
            <li key={s.id} className="flex min-h-12 flex-wrap items-center gap-x-4 px-4 py-1">
              <span className="mr-auto">
                {deviceWords(s.device)} at {s.address || 'an address that is not known'}
                {s.isThis && ', this one'}
              </span>
              <span className="figure text-soft">since {s.since.slice(0, 16).replace('T', ' ')} UTC</span>
              {!s.isThis && (
                <button type="button" className="button button-quiet" onClick={() => void end(s.id)}>
                  End it
                </button>
              )}
            </li>
          ))}
          {shown.length === 0 && <li className="px-4 py-3 text-soft">Only at a bench, which others use too.</li>}
        </ul>
        {fault && (
          <p className="fault mt-2" role="alert">
            {fault}
          </p>
        )}
      </section>
    </div>
  );
});
