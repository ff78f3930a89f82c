import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from '../src/core/document/read-document';
import { hiddenBenches } from './hidden-benches';
import { playHidden, wrongSigns } from './hidden-truth';

const rawOf = (id: string): string => readFileSync(`procedures/${id}.json`, 'utf8');
const all = [...hiddenBenches];

describe('a wrong sign in a budget is found out', () => {
  it.each(all)('%s', (id, bench) => {
    const procedure = readDocument(JSON.parse(rawOf(id)));
    const played = [1, 2, 3].map((seed) => playHidden(bench, procedure, seed, false));
    const signs = wrongSigns(played, procedure);
    const seen = signs.filter((s) => s.moved > 0);
    expect(seen.length).toBeGreaterThan(0);
    for (const sign of seen) expect(sign.stillInside, sign.where).toBe(0);
  });
});
