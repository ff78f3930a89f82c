import { useState } from 'react';
import { FormProvider } from 'react-hook-form';
import type * as z from 'zod';
import { codeSchema, firstSchema, signInSchema } from '../../contract/people-endpoints';
import { FormInput } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import { DigitsInput, PasswordInput, SecretInput } from './SecretInput';
import { TakeOver } from '../../ui/TakeOver';
import type { EndpointName } from '../../contract/endpoints';

/** Only an address of this application: a link cannot lead elsewhere after signing in. */
const leave = (to: string) => window.location.assign(/^\/(?![/\\])/.test(to) ? to : '/');

type Typed = { name: string; password: string; digits: string; code: string };

/** A form of name, password and what else is asked; the browser's own keep of passwords is welcome. */
function SecretsForm({
  to,
  schema,
  asks,
  action,
  onDone,
}: {
  to: EndpointName;
  schema: z.ZodType;
  asks: ('code' | 'password' | 'new-password' | 'digits')[];
  action: string;
  onDone: () => void;
}) {
  const { form, refusal, send } = useEntryForm<Typed, unknown, unknown>(
    { name: '', password: '', digits: '', code: '' },
    () => schema as z.ZodType<unknown>,
    { to },
    onDone,
  );
  const { isSubmitting } = form.formState;
  return (
    <FormProvider {...form}>
      <form onSubmit={send()} noValidate className="mt-4 grid max-w-md gap-4">
        {asks.includes('new-password') || asks.includes('code') ? (
          <FormInput
            field={{ name: 'name', title: 'Your name, as it signs records', type: 'text', isWanted: true, isFocused: true }}
          />
        ) : (
          <SecretInput name="name" label="Name" type="text" autoComplete="username" autoFocus maxLength={120} />
        )}
        {asks.includes('code') && (
          <SecretInput
            name="code"
            label="Code"
            hint="An administrator hands it over"
            type="text"
            autoComplete="one-time-code"
            className="ident w-full !max-w-none"
            maxLength={20}
          />
        )}
        {asks.includes('password') && <PasswordInput name="password" label="Password" autoComplete="current-password" />}
        {asks.includes('new-password') && (
          <PasswordInput
            name="password"
            label="A password"
            hint="At least 12 characters; a sentence is easily kept in mind"
            autoComplete="new-password"
          />
        )}
        {asks.includes('digits') && (
          <DigitsInput name="digits" label="Four to eight digits" hint="With them you take over a bench, and sign" />
        )}
        {refusal && refusal.path.length === 0 && (
          <p className="fault" role="alert">
            {refusal.message}
          </p>
        )}
        <p>
          <button className="button button-main" disabled={isSubmitting}>
            {action}
          </button>
        </p>
      </form>
    </FormProvider>
  );
}

type Props = {
  /** Where to, once signed in. */ to: string;
  laboratory: string;
  /** Nobody can sign in yet. */ isFirst: boolean;
  /** People of the demo, with their digits, and the password of each; null in any other laboratory. */
  demo: { password: string; people: { name: string; digits: string; does: string }[] } | null;
  /** The bench or device at which nobody is. */ bench: { name: string; people: string[]; last: string | null } | null;
};

/** The way in. */
export const SignIn = guarded(function SignIn({ to, laboratory, isFirst, demo, bench }: Props) {
  const [hasCode, setHasCode] = useState(false);
  const [withPassword, setWithPassword] = useState(false);
  if (isFirst)
    return (
      <>
        <h1>The first administrator</h1>
        <p className="mt-2 max-w-prose">
          Nobody can sign in here yet. Whoever is first looks after people, roles and the laboratory’s name, and may do everything
          else; there is no password but the one you choose now.
        </p>
        <SecretsForm
          to="POST /api/sign-in/first"
          schema={firstSchema}
          asks={['new-password', 'digits']}
          action="Begin"
          onDone={() => leave(to)}
        />
      </>
    );
  if (bench && !withPassword)
    return (
      <>
        <h1>{bench.name}: who is here?</h1>
        <div className="max-w-md">
          <TakeOver people={bench.people} last={bench.last} onTaken={() => leave(to)} />
        </div>
        <p className="mt-6">
          <button type="button" className="button button-quiet" onClick={() => setWithPassword(true)}>
            With name and password
          </button>
        </p>
      </>
    );
  if (demo && !withPassword)
    return (
      <>
        <h1>{laboratory}</h1>
        <p className="mt-2 max-w-prose text-soft">
          A works that was made up to look around in. Choose whom you want to be: one key is enough, and the digits beside the
          name take a bench over or sign.
        </p>
        <div className="max-w-xl">
          <TakeOver
            people={demo.people.map((d) => d.name)}
            last={null}
            known={Object.fromEntries(demo.people.map((d) => [d.name, d.digits]))}
            does={Object.fromEntries(demo.people.map((d) => [d.name, d.does]))}
            onTaken={() => leave(to)}
          />
        </div>
        <p className="mt-6">
          <button type="button" className="button button-quiet" onClick={() => setWithPassword(true)}>
            With name and password
          </button>
        </p>
      </>
    );
  return (
    <>
      <h1>{laboratory || 'Sign in'}</h1>
      {demo && (
        <p className="mt-2 text-soft">
          The password of each of the made-up people is <span className="ident">{demo.password}</span>.
        </p>
      )}
      {hasCode ? (
        <SecretsForm
          key="code"
          to="POST /api/sign-in/code"
          schema={codeSchema}
          asks={['code', 'new-password', 'digits']}
          action="Take it and sign in"
          onDone={() => leave(to)}
        />
      ) : (
        <SecretsForm
          key="password"
          to="POST /api/sign-in"
          schema={signInSchema}
          asks={['password']}
          action="Sign in"
          onDone={() => leave(to)}
        />
      )}
      <p className="mt-4">
        <button type="button" className="button button-quiet" onClick={() => setHasCode(!hasCode)}>
          {hasCode ? 'I have a password' : 'I have a code: my first password, or a lost one'}
        </button>
      </p>
    </>
  );
});
