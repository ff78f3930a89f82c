import { normalDeviate } from './random';

/** Files that instruments of the works write, each made of one true value. */
export const files = {
  /** Twenty-five points on a sphere of 25 mm; the value is its form error, mm. */
  sphere: (form: number, random: () => number): string => {
    const lines: string[] = [];
    for (const [ring, count] of [
      [0, 12],
      [25, 6],
      [50, 6],
      [90, 1],
    ] as const)
      for (let i = 0; i < count; i++) {
        const [up, round] = [(ring * Math.PI) / 180, (2 * Math.PI * i) / count + ring];
        const r = 12.5 + Math.max(-0.5, Math.min(0.5, 0.22 * normalDeviate(random))) * form;
        const at = [Math.cos(up) * Math.cos(round), Math.cos(up) * Math.sin(round), Math.sin(up)];
        lines.push(at.map((c, axis) => (r * c + [120, 240, 80][axis]!).toFixed(5)).join(' '));
      }
    return lines.join('\n');
  },
  /** Sixteen points round a ring of 50 mm; the value is its form error, mm. */
  ring: (form: number, random: () => number): string =>
    Array.from({ length: 16 }, (_, i) => {
      const r = 25 + Math.max(-0.5, Math.min(0.5, 0.25 * normalDeviate(random))) * form;
      const round = (2 * Math.PI * i) / 16;
      return `${(60 + r * Math.cos(round)).toFixed(5)} ${(70 + r * Math.sin(round)).toFixed(5)}`;
    }).join('\n'),
  /** The reflection of a long open line in the Touchstone format; the value is its loss at the highest frequency, dB. */
  openLine: (loss: number, random: () => number): string => {
    const lines = ['! open line of two metres', '# GHz S MA R 50'];
    for (let i = 1; i <= 60; i++) {
      const f = i * 0.05;
      const magnitude = 10 ** ((-loss * Math.sqrt(f / 3)) / 20) * (1 - 0.00002 * random());
      const angle = ((((-f * 720) % 360) + 540) % 360) - 180;
      lines.push(`${f.toFixed(2)} ${magnitude.toFixed(6)} ${angle.toFixed(3)}`);
    }
    return lines.join('\n');
  },
} as const;
