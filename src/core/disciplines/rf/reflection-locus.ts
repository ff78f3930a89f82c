import { AnalysisError, type DisciplineAnalysis } from '../discipline-analysis';

/** Magnitudes of the first reflection coefficient along a Touchstone file, version 1. */
function magnitudes(text: string): number[] {
  let format = 'MA';
  const found: number[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    const line = raw.split('!')[0]!.trim();
    if (line === '') return;
    if (line.startsWith('#')) {
      const words = line.toUpperCase().split(/\s+/);
      format = words.find((w) => w === 'MA' || w === 'DB' || w === 'RI') ?? 'MA';
      return;
    }
    const [, a, b] = line.split(/\s+/).map(Number);
    if (!Number.isFinite(a) || !Number.isFinite(b))
      throw new AnalysisError(`Line ${i + 1} of the network file does not hold a frequency and two numbers.`);
    found.push(format === 'RI' ? Math.hypot(a!, b!) : format === 'DB' ? 10 ** (a! / 20) : Math.abs(a!));
  });
  return found;
}

/** Whether the reflection of a long open line traces a smooth inward spiral: its magnitude never grows with frequency. */
export const reflectionLocus: DisciplineAnalysis = {
  name: 'rf/reflection-locus',
  title: 'Locus of a reflection coefficient',
  input: 'a Touchstone file of one port (or the first port of more)',
  needs: [],
  gives: [
    { id: 'greatestOutwardStep', title: 'greatest growth of the magnitude between neighbouring frequencies', unit: '1' },
    { id: 'monotone', title: '1 where the magnitude never grows, else 0', unit: '1' },
  ],
  validity: 'at least two frequencies',
  source: 'Touchstone File Format, version 1.1; a lossy open line reflects ever less with frequency',
  analyse: (files) => {
    const steps = files.flatMap((file) => {
      const m = magnitudes(file);
      if (m.length < 2) throw new AnalysisError('A locus needs at least two frequencies.');
      return m.slice(1).map((v, i) => v - m[i]!);
    });
    const greatest = Math.max(
      0,
      steps.reduce((a, b) => Math.max(a, b), 0),
    );
    return { greatestOutwardStep: greatest, monotone: greatest === 0 ? 1 : 0 };
  },
};
