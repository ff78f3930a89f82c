import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from '../src/core/document/read-document';
import { foundOut } from './fixtures/found-out';
import { hiddenBenches } from '../src/bench/works/hidden-benches';
import { hiddenCoverage } from './hidden-truth';

const rawOf = (id: string): string => readFileSync(`procedures/${id}.json`, 'utf8');
const all = [...hiddenBenches];

/** Few runs here; `npm run bench` plays 400 of each. */
const runs = 24;
/** Families whose instruments are judged and not adjusted, or only by whoever made them. */
const neverLeft = [
  'coordinate-measuring-machine',
  'gauge-blocks-by-comparison',
  'length-bar',
  'liquid-in-glass-thermometer',
  'weights-by-substitution',
];

describe('an interval holds what is hidden at the bench, as found and as left', () => {
  it.each(all)(
    '%s',
    (id, bench) => {
      const { results, inside, left } = hiddenCoverage(bench, readDocument(JSON.parse(rawOf(id))), runs);
      expect(results).toBeGreaterThan(runs);
      // Results of one run share what is hidden, so a few runs scatter by some per cent about 95.45 %.
      expect(inside / results).toBeGreaterThan(0.88);
      if (neverLeft.includes(id)) return expect(left.results).toBe(0);
      expect(left.results).toBeGreaterThan(0);
      // Of fewer runs still: three standard deviations of a share of so many runs.
      expect(left.inside / left.results).toBeGreaterThan(0.9545 - 3 * Math.sqrt((0.9545 * 0.0455) / left.runs));
    },
    60_000,
  );
});

describe('a wrong sign in a budget is found out over three runs', () => {
  it.each(all)('%s', (id, bench) => {
    const seen = foundOut(id, bench, [1, 2, 3]);
    expect(seen.length).toBeGreaterThan(0);
    for (const sign of seen) expect(sign.stillInside, sign.where).toBe(0);
  });
});
