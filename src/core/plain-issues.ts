import * as z from 'zod';

/** A kind of value as people call it. */
const kinds: Record<string, string> = {
  string: 'A text',
  number: 'A number',
  int: 'A whole number',
  boolean: 'True or false',
  array: 'A list',
  object: 'A group of members',
  record: 'A group of members',
  null: 'Nothing (null)',
};

const sizes: Record<string, [one: string, many: string]> = {
  string: ['character', 'characters'],
  array: ['entry', 'entries'],
  set: ['entry', 'entries'],
};
const counted = (count: unknown, origin: string): string => {
  const size = sizes[origin];
  return size ? `${String(count)} ${count === 1 ? size[0] : size[1]}` : String(count);
};

/**
 * What is wrong with a value, in words for whoever typed or wrote it, where a schema says nothing of its own.
 * @param issue of Zod, without its message
 */
export function plainIssue(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      if (issue.input === undefined) return 'This is missing.';
      if (typeof issue.input === 'number' && !Number.isFinite(issue.input)) return 'This number is too great, or none at all.';
      return `${kinds[issue.expected] ?? 'Something else'} belongs here.`;
    case 'invalid_value': {
      const values = issue.values.map((v) => `"${String(v)}"`);
      return `${values.length === 1 ? values[0] : `One of ${values.join(', ')}`} belongs here.`;
    }
    case 'too_small':
      return issue.origin === 'string' && issue.minimum === 1
        ? 'This is empty.'
        : `${issue.inclusive === false ? 'More than' : 'At least'} ${counted(issue.minimum, issue.origin)} must stand here.`;
    case 'too_big':
      return issue.inclusive === false
        ? `Less than ${counted(issue.maximum, issue.origin)} must stand here.`
        : `At most ${counted(issue.maximum, issue.origin)} may stand here.`;
    case 'unrecognized_keys':
      return `Nothing here is called ${issue.keys.map((k) => `"${k}"`).join(', ')}.`;
    case 'invalid_union':
      return 'None of the forms that may stand here fits.';
    case 'invalid_key':
      return 'This is no name for a member.';
    case 'invalid_format':
      return 'This is not written as it should be.';
    case 'not_multiple_of':
      return `A multiple of ${String(issue.divisor)} must stand here.`;
    default:
      return undefined;
  }
}

// For every schema of the program, whichever module is read first.
z.config({ customError: plainIssue });
