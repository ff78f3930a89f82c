import { parseReading } from '../quantity/reading';

/** One block of a certificate. Lengths in mm. */
export type ListedBlock = { marking: string; nominal: number; certified: number; expandedUncertainty: number };

export type BlockList = { blocks: ListedBlock[]; faults: { line: number; message: string }[] };

/**
 * Reads the table of a gauge-block certificate, pasted or typed: a line a block, with nominal length in mm, certified length in
 * mm and expanded uncertainty in µm, parted by tabs, semicolons or spaces. Decimal comma and point both work; empty lines and a
 * line of headings are passed over.
 */
export function parseBlockList(text: string): BlockList {
  const blocks: ListedBlock[] = [];
  const faults: BlockList['faults'] = [];
  const seen = new Set<number>();
  text.split(/\r?\n/).forEach((raw, index) => {
    const cells = raw
      .trim()
      .split(/[\t; ]+/)
      .filter(Boolean);
    if (cells.length === 0) return;
    const line = index + 1;
    const numbers = cells.map((cell) => parseReading(cell));
    if (numbers.every((n) => !n.ok) && blocks.length === 0) return; // headings
    if (cells.length !== 3)
      return void faults.push({ line, message: `has ${cells.length} entries; three are wanted: nominal, certified, U.` });
    const bad = numbers.findIndex((n) => !n.ok);
    if (bad >= 0) return void faults.push({ line, message: `"${cells[bad]}" is not a number.` });
    const [nominal, certified, uncertainty] = numbers.map((n) => (n.ok ? n.reading.value : 0)) as [number, number, number];
    if (nominal <= 0) return void faults.push({ line, message: 'the nominal length must be greater than 0.' });
    if (seen.has(nominal)) return void faults.push({ line, message: `the block ${nominal} stands twice.` });
    if (Math.abs(certified - nominal) > 0.01)
      return void faults.push({ line, message: `${cells[1]} is more than 0.01 mm from ${cells[0]}: check the digits.` });
    if (uncertainty < 0 || uncertainty > 10)
      return void faults.push({ line, message: `U of ${cells[2]} µm cannot be: it is given in µm.` });
    seen.add(nominal);
    blocks.push({
      marking: String(nominal),
      nominal,
      certified,
      expandedUncertainty: Number((uncertainty / 1000).toPrecision(12)),
    });
  });
  return { blocks, faults };
}
