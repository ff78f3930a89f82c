import * as z from 'zod';
import '../plain-issues';
import { isSamePerson } from './person-name';

/*
 * What a person proves with who he is: a password where a device is signed in, digits at a bench that is signed in already. How long and
 * of what: NIST SP 800-63B, 5.1.1; OWASP ASVS 2.1.
 */

const leastPassword = 12;
const mostPassword = 128;

/** Passwords that everybody tries first, and what is put behind them to make them long enough. */
const commonStarts =
  /^(password|passwort|passw0rd|welcome|willkommen|letmein|administrator|changeme|qwertz?u?i?o?p?|iloveyou|abc|test|laboratory|labor|justtwice|metrology|calibration)[\d\W_]*$/i;

/** Whether a text is one character, or a run of neighbours, over and over. @example isMonotonous('12341234') // true */
export function isMonotonous(text: string): boolean {
  const steps = new Set([...text].slice(1).map((c, i) => c.charCodeAt(0) - text.charCodeAt(i)));
  if (steps.size <= 1 && [...steps].every((s) => Math.abs(s) <= 1)) return true;
  return Array.from({ length: Math.floor(text.length / 2) }, (_, i) => i + 1).some(
    (n) =>
      text.length % n === 0 &&
      n < text.length &&
      text.slice(0, n).repeat(text.length / n) === text &&
      (n === 1 || isMonotonous(text.slice(0, n))),
  );
}

export const passwordSchema = z
  .string({ error: 'Type a password.' })
  .min(leastPassword, `A password has at least ${leastPassword} characters: a sentence is easily kept in mind.`)
  .max(mostPassword, `A password has at most ${mostPassword} characters.`)
  .refine(
    (p) => !isMonotonous(p) && !commonStarts.test(p),
    'This password is one of the first that anybody tries. Take a sentence.',
  );

export const digitsSchema = z
  .string({ error: 'Type four to eight digits.' })
  .regex(/^\d{4,8}$/, 'Type four to eight digits.')
  .refine((d) => !isMonotonous(d), 'These digits are the first that anybody tries. Take others.');

/** @example namesItself('Ada Byron', 'my name is ada byron') // true */
export const namesItself = (name: string, password: string): boolean =>
  password.length > 0 && (isSamePerson(name, password) || password.toLowerCase().includes(name.trim().toLowerCase()));

/** So many wrong digits in a row, and only the password helps. */
export const mostDigitTries = 5;
