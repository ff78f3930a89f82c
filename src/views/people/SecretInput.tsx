import { useFormContext } from 'react-hook-form';
import type { InputHTMLAttributes } from 'react';
import { Field } from '../../ui/Field';
import { faultIn } from '../../ui/form/FormFields';

type Props = InputHTMLAttributes<HTMLInputElement> & { name: string; label: string; hint?: string };

/** A field of a form that says to the browser what it holds, so that its keep of passwords can help; what is wrong stands under it. */
export function SecretInput({ name, label, hint, type = 'password', className = 'w-full', ...more }: Props) {
  const { register, formState } = useFormContext();
  const fault = faultIn(formState.errors, name);
  return (
    <Field label={label} fault={fault} {...(hint ? { hint } : {})}>
      <input type={type} className={className} aria-invalid={fault ? true : undefined} {...more} {...register(name)} />
    </Field>
  );
}

/** Digits, as they are chosen. */
export const DigitsInput = (props: Props) => <SecretInput inputMode="numeric" autoComplete="off" maxLength={8} {...props} />;

/** A password, as it is or as it is chosen. */
export const PasswordInput = (props: Props) => <SecretInput maxLength={128} {...props} />;
