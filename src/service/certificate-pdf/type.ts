import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { create as createFont, type Font } from 'fontkit';
import type { Content, ContentText, TFontDictionary } from 'pdfmake/interfaces';

export const ink = '#1d2a30';
export const soft = '#51606a';
export const rule = '#c9c2b0';
export const brick = '#9c2f22';

const packages = join(process.cwd(), 'node_modules');
const plex = (style: 'sans' | 'mono', script: string, weight: 400 | 700) =>
  join(packages, `@fontsource/ibm-plex-${style}/files/ibm-plex-${style}-${script}-${weight}-normal.woff`);
const wide = join(packages, 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf');

/** Faces come from the packages that ship them, a file a script, and are embedded in every certificate. */
export const faces = {
  sans: { normal: plex('sans', 'latin', 400), bold: plex('sans', 'latin', 700) },
  sansMore: { normal: plex('sans', 'latin-ext', 400), bold: plex('sans', 'latin-ext', 700) },
  sansGreek: { normal: plex('sans', 'greek', 400), bold: plex('sans', 'greek', 700) },
  mono: { normal: plex('mono', 'latin', 400), bold: plex('mono', 'latin', 700) },
  // Names from everywhere: a wider face for what the others cannot set.
  wide: { normal: wide, bold: wide },
} satisfies TFontDictionary;
type Face = keyof typeof faces;

export const isFace = (path: string): boolean => Object.values(faces).some((f) => f.normal === path || f.bold === path);

const fonts = new Map<string, Font>();
function fontAt(path: string): Font {
  if (!fonts.has(path)) fonts.set(path, createFont(readFileSync(path)) as Font);
  return fonts.get(path)!;
}

type Run = { text: string; font: Face };
const order: Record<'sans' | 'mono', Face[]> = { sans: ['sans', 'sansMore', 'sansGreek'], mono: ['mono', 'sans'] };

/** A text in runs, each in the first face that has its signs. */
function runsOf(text: string, style: 'sans' | 'mono', weight: 'normal' | 'bold'): Run[] {
  const runs: Run[] = [];
  for (const sign of text) {
    const has = (face: Face) => fontAt(faces[face][weight]).hasGlyphForCodePoint(sign.codePointAt(0)!);
    // The empty glyph of the face of one width cannot be taken out of its file: a space there is one of the other.
    const isGap = style === 'mono' && sign === ' ';
    const font = isGap ? 'sans' : sign === '\n' ? (runs.at(-1)?.font ?? style) : (order[style].find(has) ?? 'wide');
    if (runs.at(-1)?.font === font) runs.at(-1)!.text += sign;
    else runs.push({ text: sign, font });
  }
  return runs;
}

/** Width of a text in points. */
export const widthOf = (text: string, size: number): number =>
  runsOf(text, 'sans', 'normal').reduce((sum, run) => {
    const font = fontAt(faces[run.font].normal);
    return sum + (font.layout(run.text).advanceWidth / font.unitsPerEm) * size;
  }, 0);

type Look = Omit<ContentText, 'text' | 'font'> & { isMono?: boolean };

/** A text in its look; what its face lacks in another. */
export function set(text: string, { isMono = false, ...look }: Look = {}): Content {
  const runs = runsOf(text, isMono ? 'mono' : 'sans', look.bold ? 'bold' : 'normal');
  return runs.length < 2 ? { text, ...look, font: runs[0]?.font ?? 'sans' } : { text: runs, ...look };
}

/** A hyphen before a digit is a minus sign. */
export const printed = (text: string): string => text.replace(/(?<![\w-])-(?=\d)/g, '−');
