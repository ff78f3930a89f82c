import benches from './benches.json' with { type: 'json' };
import { families } from './families';
import { readBenches, type HiddenBench } from './family';
import { instruments } from './instruments';

/** For every procedure that ships, an instrument of it and what each of its observations shows, given the true values. */
export const hiddenBenches: ReadonlyMap<string, HiddenBench> = new Map([
  ...Object.entries(readBenches(benches)).map(([procedure, { instrument, bench }]): [string, HiddenBench] => [
    procedure,
    { instrument: instruments.find((d) => d.row.identification === instrument && d.procedure === procedure)!, bench },
  ]),
  ...families.map(({ instruments: [first], bench }): [string, HiddenBench] => [first!.procedure, { instrument: first!, bench }]),
]);
