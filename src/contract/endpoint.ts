import * as z from 'zod';
import type { Role } from '../core/register/roles';

/** What a refusal looks like, whatever is asked. */
export const refusalSchema = z.object({
  error: z.looseObject({ message: z.string(), path: z.array(z.union([z.string(), z.number()])) }),
});

export type Endpoint = {
  /** What it does, in a line. */ what: string;
  /** The body. */ request?: z.ZodType;
  /** What stands behind the question mark of the address. */ query?: z.ZodType;
  /** The body that comes back, or its kind where it is no JSON. */ answer: z.ZodType | string;
  /** The answer is the last of several lines; those before tell how far it is. */ inLines?: true;
  /** Where it is not 200. */ status?: 201;
  /** Who may: for what changes something a technician, where nothing is said; reading is open to all who may look. */
  roles?: readonly Role[];
  /** It is asked by devices that are not signed in, or at which nobody is: it says itself whom it answers. */ isOpen?: true;
  /** What whoever asks it signs, in words: digits or password are typed for it. */ signs?: string;
  /** It changes nothing, or what it changes says by itself who did it: it is not noted among the deeds. */ isNoDeed?: true;
  /** What else is answered, beside 400 and 413 for a body, 500, and 503 while another program holds the database. */ codes: number[];
};
