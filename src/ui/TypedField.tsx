import type { InputHTMLAttributes } from 'react';
import { Field } from './Field';

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'className'> & {
  label: string;
  value: string;
  onType: (text: string) => void;
  /** Of the field with its label. */ room?: string;
  /** Of what is typed. */ look?: string;
};

/** A text that is held by whoever shows it, with its label over it. */
export const TypedField = ({ label, onType, room = '', look = '', ...input }: Props) => (
  <div className={room}>
    <Field label={label}>
      <input {...input} onChange={(e) => onType(e.target.value)} className={`w-full ${look}`} />
    </Field>
  </div>
);
