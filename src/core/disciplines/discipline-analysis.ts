/** An algorithm over many observations: files of numbers in, a few named numbers out. */
export type DisciplineAnalysis = {
  /** `discipline/name` */
  name: string;
  title: string;
  /** What each file holds. */ input: string;
  /** Numbers that the procedure gives it. */ needs: readonly { id: string; title: string; unit: string; default?: number }[];
  gives: readonly { id: string; title: string; unit: string }[];
  validity: string;
  source: string;
  /** @param files the texts of all repeats at the point @throws AnalysisError when they cannot be read */
  analyse: (files: readonly string[], given: Readonly<Record<string, number>>) => Record<string, number>;
};

/** A file that an analysis cannot read, or that is too little for it. */
export class AnalysisError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'AnalysisError';
  }
}

/** The most numbers a file may hold. */
const mostNumbers = 500_000;

/** Lines of numbers, parted by spaces, tabs, commas or semicolons; empty lines and lines that begin with # are passed over. */
export function numberLines(text: string): number[][] {
  let count = 0;
  return text.split(/\r?\n/).flatMap((line, i) => {
    const trimmed = line.trim();
    if (trimmed === '' || trimmed.startsWith('#')) return [];
    const numbers = trimmed.split(/[\s,;]+/).map(Number);
    count += numbers.length;
    if (count > mostNumbers) throw new AnalysisError(`The file holds more than ${mostNumbers} numbers.`);
    if (numbers.some((v) => !Number.isFinite(v)))
      throw new AnalysisError(`Line ${i + 1} of the file is not a line of numbers: "${trimmed.slice(0, 40)}".`);
    return [numbers];
  });
}
