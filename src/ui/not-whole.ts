/** Why a text is no document, in words for whoever pasted it: only the place is taken from what the reader says. */
export function notWhole(error: unknown): string {
  const at = /position (\d+)/.exec(error instanceof Error ? error.message : '')?.[1];
  return `This is not a whole document yet: a bracket, comma or quotation mark is missing or too much${at ? ` near character ${Number(at) + 1}` : ''}.`;
}
