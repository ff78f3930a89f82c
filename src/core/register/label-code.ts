/**
 * What stands on a label, as it was scanned or typed: of the address in its code the part that names the instrument, else the text itself.
 * @example codeIn('https://lab.example/quick?code=QM-0118') // 'QM-0118'
 */
export function codeIn(text: string): string {
  const typed = text.trim();
  const code = /^https?:\/\/\S+[?&]code=([^&#\s]+)/.exec(typed)?.[1];
  if (code === undefined) return typed;
  try {
    return decodeURIComponent(code);
  } catch {
    return typed;
  }
}
