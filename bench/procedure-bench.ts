import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { evaluate } from '../src/core/evaluate/evaluate';
import { documentOf, given, observed, resultOf, row } from '../src/core/evaluate/fixtures/documents';
import { planRun } from '../src/core/plan/run-plan';
import { readDocument } from '../src/core/document/read-document';
import { say, time } from './measure';

const shipped = 'procedures';

/** Reading, planning and evaluating procedure documents, each against the same for a smaller case or a plainer thing. */
export function procedureRatios(): void {
  const largest = readdirSync(shipped)
    .map((name) => readFileSync(join(shipped, name), 'utf8'))
    .sort((a, b) => b.length - a.length)[0]!;
  const parse = time(() => JSON.parse(largest), 9, 50);
  const read = time(() => readDocument(JSON.parse(largest)), 9, 10);
  say(
    `(g) The largest procedure that ships (${(largest.length / 1000).toFixed(0)} kB) read and checked, against its JSON alone`,
    `${(read / parse).toFixed(0)} × (${read.toFixed(1)} ms)`,
  );

  const wide = given({ instrument: { unit: 'mm', lower: 0, upper: 2000, usedLower: 0, usedUpper: 2000, resolution: 0.01 } });
  const readingsOf = (points: number) =>
    readDocument(documentOf([{ points: { from: 1, to: points, step: 1 }, repeats: 50, observe: [observed()] }]));
  const [fewer, more] = [100, 1600].map((points) => {
    const document = readingsOf(points);
    return time(() => planRun(document, wide), 5, 1);
  }) as [number, number];
  say(
    '(h) A plan of 80 000 readings against one of 5 000 (in proportion: 16)',
    `${(more / fewer).toFixed(1)} × (${more.toFixed(0)} ms against ${fewer.toFixed(0)} ms)`,
  );

  const evaluated = (points: number) => {
    const document = readDocument(
      documentOf([{ points: { from: 1, to: points, step: 1 }, repeats: 10, observe: [observed()], results: [resultOf('R')] }]),
    );
    const observations = Array.from({ length: points }, (_, i) =>
      row(
        's1',
        Array.from({ length: 10 }, (_, r) => i + 1 + r / 100),
        { point: `p${i + 1}` },
      ),
    );
    const whole = given({ ...wide, observations });
    return time(() => evaluate(document, whole), 5, 1);
  };
  const [small, large] = [evaluated(30), evaluated(400)];
  say(
    '(i) Results of 400 points of ten readings against those of 30 (in proportion: 13)',
    `${(large / small).toFixed(1)} × (${large.toFixed(0)} ms against ${small.toFixed(0)} ms)`,
  );
}
