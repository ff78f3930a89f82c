import { describe, expect, it } from 'vitest';
import { foundOut } from './fixtures/found-out';
import { hiddenBenches } from '../src/bench/works/hidden-benches';

const all = [...hiddenBenches];

// One run of each, in which every family has a sign that shows; the long tests play three.
describe('a wrong sign in a budget is found out', () => {
  it.each(all)('%s', (id, bench) => {
    const seen = foundOut(id, bench, [3]);
    expect(seen.length).toBeGreaterThan(0);
    for (const sign of seen) expect(sign.stillInside, sign.where).toBe(0);
  });
});
