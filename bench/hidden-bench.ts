import { readFileSync } from 'node:fs';
import { families } from '../demo/families';
import { hiddenCoverage } from '../demo/hidden-truth';
import { readDocument } from '../src/core/procedure/read-document';
import { say } from './measure';

const runs = 400;

/** How often the interval of each family holds what is hidden at its bench; the claim is 95.45 %. */
export function hiddenTruths(): void {
  for (const family of families) {
    const id = family.instruments[0]!.procedure;
    const raw: unknown = JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8'));
    const { results, inside } = hiddenCoverage(family, readDocument(raw), runs);
    say(`${id}: intervals of ${results} results that hold the truth, ${runs} runs`, `${((100 * inside) / results).toFixed(2)} %`);
  }
}
