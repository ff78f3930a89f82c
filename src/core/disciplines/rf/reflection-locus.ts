import { AnalysisError, type DisciplineAnalysis } from '../discipline-analysis';
import { readTouchstone } from './touchstone';

const magnitudes = (text: string): number[] => readTouchstone(text).map(({ s11 }) => Math.hypot(...s11));

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
  source: 'Touchstone File Format, versions 1.1 and 2.0; a lossy open line reflects ever less with frequency',
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
