type Asked = { /** What is signed, in words. */ what: string; answer: (isSigned: boolean) => void };
let listener: ((asked: Asked) => void) | null = null;

/** The part of the page that asks. */
export function onSign(ask: (asked: Asked) => void): () => void {
  listener = ask;
  return () => {
    if (listener === ask) listener = null;
  };
}

/**
 * Has whoever acts show that it is still that person, by digits or password, and says what is signed.
 * @returns false where it was left, or where nothing on the page can ask
 */
export const sign = (what: string): Promise<boolean> =>
  new Promise((resolve) => {
    if (!listener) resolve(false);
    else listener({ what, answer: resolve });
  });
