import { readFileSync } from 'node:fs';
import { hiddenBenches } from '../src/bench/works/hidden-benches';
import { hiddenCoverage } from '../demo/hidden-truth';
import { readDocument } from '../src/core/document/read-document';
import { say } from './measure';

const runs = 400;

/** How often the interval of each family holds what is hidden at its bench; the claim is 95.45 %. */
export function hiddenTruths(): void {
  for (const [id, bench] of hiddenBenches) {
    const raw: unknown = JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8'));
    const { results, inside, left } = hiddenCoverage(bench, readDocument(raw), runs);
    const share = (of: { results: number; inside: number }) =>
      of.results ? `${((100 * of.inside) / of.results).toFixed(2)} %` : 'none';
    say(`${id}: intervals of ${results} results as found that hold the truth, ${runs} runs`, share({ results, inside }));
    say(`${id}: of ${left.results} results as left`, share(left));
  }
}
