/** A sentence whose numbers and units, such as 70 %, never part at the end of a line. */
export const unbroken = (sentence: string): string => sentence.replace(/(\d) (?=(%|°|\p{L}{1,3}\b))/gu, '$1\u00a0');
