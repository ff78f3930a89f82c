import { AnalysisError } from '../discipline-analysis';

/** A complex number as real and imaginary part. */
export type Complex = readonly [re: number, im: number];
export type NetworkPoint = { /** Hz */ frequency: number; /** The first parameter, S11. */ s11: Complex };

const hertz: Record<string, number> = { HZ: 1, KHZ: 1e3, MHZ: 1e6, GHZ: 1e9 };
const mostPoints = 100_000;

/**
 * The first reflection coefficient along a Touchstone file of one or two ports, version 1 or 2 (keywords in brackets).
 * @throws AnalysisError where it cannot be read, or frequencies do not rise
 * @example readTouchstone('# MHz S MA R 50\n100 0.5 90').length // 1
 */
export function readTouchstone(text: string): NetworkPoint[] {
  const points: NetworkPoint[] = [];
  let [format, scale, columns, isNoise] = ['MA', 1e9, 0, false];
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    const line = raw.split('!')[0]!.trim();
    const fault = (words: string) => new AnalysisError(`Line ${i + 1} of the network file ${words}`);
    if (line === '') continue;
    if (line.startsWith('#')) {
      const words = line.toUpperCase().slice(1).trim().split(/\s+/);
      format = words.find((w) => w === 'MA' || w === 'DB' || w === 'RI') ?? 'MA';
      scale = hertz[words.find((w) => w in hertz) ?? 'GHZ']!;
      const other = words.find((w) => /^[YZGH]$/.test(w));
      if (other) throw fault(`holds ${other} parameters; S parameters are wanted.`);
      continue;
    }
    const keyword = /^\[([^\]]+)\]\s*(.*)$/.exec(line);
    if (keyword) {
      const [, name, value] = keyword as unknown as [string, string, string];
      if (/^version$/i.test(name) && !/^2\./.test(value)) throw fault(`is of version ${value}; 1 and 2 are read.`);
      if (/^number of ports$/i.test(name) && Number(value) > 2) throw fault(`names ${value} ports; one or two are read.`);
      if (/^matrix format$/i.test(name) && !/^full$/i.test(value)) throw fault(`has a ${value} matrix; a full one is read.`);
      isNoise = /^noise data$/i.test(name);
      if (/^end$/i.test(name)) break;
      continue;
    }
    if (isNoise) continue;
    const numbers = line.split(/\s+/).map(Number);
    if (numbers.length < 3 || numbers.some((v) => !Number.isFinite(v))) throw fault('does not hold a frequency and two numbers.');
    columns ||= numbers.length;
    if (numbers.length !== columns) throw fault(`holds ${numbers.length} numbers; the lines before hold ${columns}.`);
    const [f, a, b] = numbers as [number, number, number];
    const frequency = f * scale;
    if (points.length && frequency <= points.at(-1)!.frequency)
      throw fault('is out of order: frequencies rise from line to line.');
    if (points.length >= mostPoints) throw fault(`is one too many: at most ${mostPoints} frequencies are read.`);
    const angle = (b * Math.PI) / 180;
    const magnitude = format === 'DB' ? 10 ** (a / 20) : a;
    points.push({ frequency, s11: format === 'RI' ? [a, b] : [magnitude * Math.cos(angle), magnitude * Math.sin(angle)] });
  }
  return points;
}
