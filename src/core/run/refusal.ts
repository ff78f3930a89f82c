/** What to tell a person whose act is not admitted. */
export type Refusal = {
  message: string;
  path: (string | number)[];
  /** Offered in place of what was typed. */ suggestion?: string;
};

export const refuse = (message: string, ...path: (string | number)[]): Refusal => ({ message, path });
