import { AnalysisError, numberLines, type DisciplineAnalysis } from '../discipline-analysis';

/** Level of the mean of the mean squares. */
const energyMean = (levels: readonly number[]): number =>
  10 * Math.log10(levels.reduce((sum, L) => sum + 10 ** (L / 10), 0) / levels.length);

/** A level from which the background has been taken away, with what it takes of the uncertainty of both. */
export const background: DisciplineAnalysis = {
  name: 'acoustic/background',
  title: 'Level without its background',
  input: 'a line a reading: level with the source on, level with it off, both in dB; the lines of all repeats together',
  needs: [{ id: 'least', title: 'least difference at which the background may be taken away', unit: 'dB', default: 3 }],
  gives: [
    { id: 'corrected', title: 'level of the source alone', unit: 'dB' },
    { id: 'correction', title: 'what was taken away', unit: 'dB' },
    { id: 'difference', title: 'level with the source on less that with it off', unit: 'dB' },
    { id: 'sensitivity', title: 'of the result to the level with the source on', unit: '1' },
    { id: 'backgroundSensitivity', title: 'of the result to the background (negative)', unit: '1' },
  ],
  validity: 'a difference of at least `least`: below it the background rules, and a smaller value is not to be stated',
  source: 'difference of mean squares, as in ISO 1996-2; its derivatives in closed form (JCGM 100, 5.1)',
  analyse: (files, given) => {
    const lines = files.flatMap(numberLines);
    if (lines.length === 0) throw new AnalysisError('There is no line with two levels.');
    if (lines.some((l) => l.length !== 2))
      throw new AnalysisError('Each line holds two levels in dB: with the source on, and off.');
    const on = energyMean(lines.map((l) => l[0]!));
    const off = energyMean(lines.map((l) => l[1]!));
    const [difference, least] = [on - off, given['least'] ?? 3];
    if (!(least > 0)) throw new AnalysisError('The least difference is greater than 0 dB.');
    if (difference < least)
      throw new AnalysisError(
        `The source stands ${difference.toFixed(1)} dB above the background, less than ${least} dB: make the source louder or the room quieter.`,
      );
    const share = 1 / (1 - 10 ** (-difference / 10));
    const correction = 10 * Math.log10(share);
    return { corrected: on - correction, correction, difference, sensitivity: share, backgroundSensitivity: 1 - share };
  },
};
