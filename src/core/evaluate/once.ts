import { DocumentError } from '../faults';

/** What was worked out, by key; a fault is remembered too. A key begins with the kind of thing that it belongs to. */
export type Memo = Map<string, unknown>;

/**
 * Works something out once for its key, and answers or throws the same ever after.
 * @throws whatever `work` throws
 */
export function once<T>(memo: Memo, key: string, work: () => T): T {
  const known = memo.get(key);
  if (known instanceof Error) throw known;
  if (memo.has(key)) return known as T;
  try {
    const made = work();
    memo.set(key, made);
    return made;
  } catch (error) {
    memo.set(key, error);
    throw error;
  }
}

/**
 * As `once`, for what could ask for itself on its way: then it is told so.
 * @param ofItself what is said of that
 * @param path where it stands in the document
 * @throws DocumentError
 */
export const onceNotOfItself = <T>(memo: Memo, key: string, ofItself: string, path: (string | number)[], work: () => T): T =>
  once(memo, key, () => {
    memo.set(key, new DocumentError(ofItself, path));
    return work();
  });
