// npm run mutants -- --count 200 --seed 7: plants small bugs in core and service, one at a time in a copy of the tree, runs the tests that
// reach the file, nearest first, and names those that no test finds. Ends with "N of M survived". --near asks only the tests within
// two imports and the worked examples, which takes seconds a bug: those it names may still be found by a test further off.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';

const option = (name, otherwise) => {
  const at = process.argv.indexOf(`--${name}`);
  const value = at < 0 ? otherwise : Number(process.argv[at + 1]);
  if (!Number.isInteger(value) || value < 1) {
    console.error(`--${name} takes a whole number from 1, for instance --${name} ${otherwise}.`);
    process.exit(1);
  }
  return value;
};
const count = option('count', 20);
const seed = option('seed', 7);
const isNearOnly = process.argv.includes('--near');

/** What a tired hand writes in place of what was meant. */
const patterns = [
  [/ <= /g, ' < '],
  [/ >= /g, ' > '],
  [/ < /g, ' <= '],
  [/ > /g, ' >= '],
  [/ === /g, ' !== '],
  [/ !== /g, ' === '],
  [/ && /g, ' || '],
  [/ \|\| /g, ' && '],
  [/ \+ /g, ' - '],
  [/ - /g, ' + '],
  [/ \* /g, ' / '],
  [/ \/ /g, ' * '],
  [/Math\.max\(/g, 'Math.min('],
  [/Math\.min\(/g, 'Math.max('],
  [/\.some\(/g, '.every('],
  [/\.every\(/g, '.some('],
  [/\.at\(-1\)/g, '.at(0)'],
  [/\bfalse\b/g, 'true'],
  [/\btrue\b/g, 'false'],
  [/(?<=[ (])(\d+(?:\.\d+)?)(?=[ ,;)])/g, (n) => String(Number(n) * 10 + (Number(n) === 0 ? 1 : 0))],
];

/** Changes that change nothing that anybody could see, with the line they stand on. */
const equivalent = JSON.parse(readFileSync('scripts/mutants-equivalent.json', 'utf8'));

/** The same sequence for the same seed (mulberry32). */
function randomOf(state) {
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const tracked = spawnSync('git', ['ls-files', '-z'], { encoding: 'utf8' }).stdout.split('\0').filter(Boolean);
const sources = tracked.filter(
  (f) => /^src\/(core|service)\/.*\.ts$/.test(f) && !/\.test\.ts$|\/fixtures\/|\/version-\d\//.test(f),
);

/** Whether a place in a line is code: no comment, no import, no type, and not inside a text. */
function isCode(line, at) {
  if (/^\s*(import|export type|type|\/\/|\*|\/\*)/.test(line)) return false;
  const before = line.slice(0, at);
  return ["'", '`', '"'].every((quote) => before.split(quote).length % 2 === 1) && !before.includes('//');
}

function mutantsOf(file) {
  return readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((line, i) =>
      patterns.flatMap(([pattern, put]) =>
        [...line.matchAll(pattern)].flatMap((m) => {
          const to = typeof put === 'string' ? put : put(m[0]);
          const changed = line.slice(0, m.index) + to + line.slice(m.index + m[0].length);
          const isKnown = equivalent.some((e) => e.file === file && e.from === line.trim() && e.to === changed.trim());
          return isCode(line, m.index) && !isKnown ? [{ file, line: i, from: line, to: changed }] : [];
        }),
      ),
    );
}

const all = sources.flatMap(mutantsOf);
const random = randomOf(seed);
const chosen = [];
while (chosen.length < Math.min(count, all.length)) chosen.push(...all.splice(Math.floor(random() * all.length), 1));

const copy = mkdtempSync(join(tmpdir(), 'just-twice-mutants-'));
for (const file of tracked) {
  mkdirSync(dirname(join(copy, file)), { recursive: true });
  cpSync(file, join(copy, file));
}
symlinkSync(resolve('node_modules'), join(copy, 'node_modules'));

const vitest = (args) =>
  spawnSync('npx', ['--no-install', 'vitest', ...args, '--bail=1', '--reporter=dot'], {
    cwd: copy,
    stdio: 'ignore',
    timeout: 900_000,
  }).status;

/** Who imports a file, of all that is tracked: `../x`, `./x` and `./x/y` with or without their ending. */
const importers = new Map();
const isTracked = new Set(tracked);
for (const file of tracked.filter((f) => /\.(ts|tsx)$/.test(f)))
  for (const [, target] of readFileSync(file, 'utf8').matchAll(/(?:from|import\() ?'(\.[^']+)'/g)) {
    const bare = join(dirname(file), target);
    const imported = [bare, `${bare}.ts`, `${bare}.tsx`, `${bare}/index.ts`].find((f) => isTracked.has(f));
    if (imported) importers.set(imported, [...(importers.get(imported) ?? []), file]);
  }

/** The tests within so many imports of a file, and those of its folder. */
function near(file, most) {
  const seen = new Set([file, ...tracked.filter((f) => f.startsWith(`${dirname(file)}/`) && f.endsWith('.test.ts'))]);
  let edge = [file];
  for (let i = 0; i < most; i++) {
    edge = edge.flatMap((f) => importers.get(f) ?? []).filter((f) => !seen.has(f));
    for (const f of edge) seen.add(f);
  }
  return [...seen].filter((f) => /(?<!\.long)\.test\.tsx?$/.test(f));
}

/** What goes through all of the core in seconds. */
const examples = ['src/core/document/shipped.test.ts', 'src/core/document/at-the-bench.test.ts', 'src/core/proof/'];

/** Whether a test that reaches the file fails, the nearest first; one that never ends has found it too. */
function isFound(file) {
  const beside = near(file, 1);
  // Of those further off, what stands on no database and plays nobody (those are slow); and the worked examples of all documents.
  const next = [...near(file, 2).filter((f) => f.startsWith('src/core/')), ...examples].filter((f) => !beside.includes(f));
  return (
    [beside, next].some((tests) => tests.length > 0 && vitest(['run', ...tests]) !== 0) ||
    (!isNearOnly && vitest(['related', file, '--run']) !== 0)
  );
}

// A tree that fails as it stands would find everything.
if (vitest(['run', 'src/core/formula', 'src/core/evaluate']) !== 0) {
  console.error('The tests fail as they stand: mend them, commit new files, and ask again.');
  process.exit(1);
}

const survivors = [];
for (const [i, { file, line, from, to }] of chosen.entries()) {
  const path = join(copy, file);
  const text = readFileSync(path, 'utf8');
  const lines = text.split('\n');
  lines[line] = to;
  writeFileSync(path, lines.join('\n'));
  const found = isFound(file);
  writeFileSync(path, text);
  if (!found) survivors.push({ file, line, from, to });
  console.log(
    `${i + 1} of ${chosen.length}: ${found ? 'found   ' : 'SURVIVED'} ${file}:${line + 1}  ${from.trim()}  →  ${to.trim()}`,
  );
}
rmSync(copy, { recursive: true, force: true });

for (const { file, line, from, to } of survivors) console.log(`\n${file}:${line + 1}\n  ${from.trim()}\n  ${to.trim()}`);
console.log(`\n${survivors.length} of ${chosen.length} survived`);
