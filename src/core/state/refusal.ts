/** What to tell a person whose act is not admitted. */
export type Refusal = {
  message: string;
  path: (string | number)[];
  /** Offered in place of what was typed. */ suggestion?: string;
  /** It may be kept as it is, on purpose and with a reason. */ keepable?: true;
};

/** @example refuse('Say why.', 'reason') // { message: 'Say why.', path: ['reason'] } */
export const refuse = (message: string, ...path: (string | number)[]): Refusal => ({ message, path });
