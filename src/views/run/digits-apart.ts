/** One character of a number that was read back, and whether it differs from what was entered. */
export type Digit = { text: string; differs: boolean };

const plain = (text: string): string => text.trim().replace(',', '.').replace('−', '-');

/**
 * The characters of a number as read back, each held against what was entered; null where both are the same number.
 * @example digitsApart('0.120', '0.210') // "2" and "1" differ
 */
export function digitsApart(entered: string, readBack: string): Digit[] | null {
  const [a, b] = [plain(entered), plain(readBack)];
  if (a === b || (a !== '' && Number(a) === Number(b))) return null;
  // Held against each other from the decimal point, so that a lost digit in front does not shift all that follow.
  const [aWhole = '', bWhole = ''] = [a.split('.')[0], b.split('.')[0]];
  const shift = aWhole.length - bWhole.length;
  return [...b].map((text, i) => ({ text, differs: a[i + shift] !== text }));
}
