// npm run mutants -- --count 200 --seed 7: plants small bugs in core and service, lets one bite at a time, runs the tests that came by it,
// and names those that no test finds. Ends with "N of M survived". All tests run once first, to see which come by what. What a bug's
// tests take together may be bounded by --seconds 60: those it names may then still be found by a test that takes longer.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { clearTimeout, setTimeout } from 'node:timers';
import { createVitest } from 'vitest/node';
import { changesIn, planted } from './plant.mjs';

const option = (name, otherwise) => {
  const at = process.argv.indexOf(`--${name}`);
  const value = at < 0 ? otherwise : Number(process.argv[at + 1]);
  if (value !== Infinity && (!Number.isInteger(value) || value < 1)) {
    console.error(`--${name} takes a whole number from 1, for instance --${name} 20.`);
    process.exit(1);
  }
  return value;
};
const count = option('count', 20);
const seed = option('seed', 7);
const seconds = option('seconds', Infinity);

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
const codes = new Map(sources.map((f) => [f, readFileSync(f, 'utf8')]));
const all = sources
  .flatMap((f) => changesIn(f, codes.get(f)))
  .filter((c) => !equivalent.some((e) => e.file === c.file && e.from === c.from && e.to === c.to));
const random = randomOf(seed);
const bugs = [];
while (bugs.length < count && all.length > 0)
  bugs.push({ ...all.splice(Math.floor(random() * all.length), 1)[0], number: bugs.length });
const byFile = new Map(bugs.map(({ file }) => [resolve(file), bugs.filter((b) => b.file === file)]));

const folder = mkdtempSync(join(tmpdir(), 'just-twice-mutants-'));
process.env.PLANTED = folder;
const biting = (numbers) => writeFileSync(join(folder, 'biting.json'), JSON.stringify(numbers));
biting([]);
// What this process itself loads is as it was meant.
globalThis.planted = () => false;

const vitest = await createVitest(
  'test',
  { config: 'scripts/mutants.config.mjs', watch: false, bail: 1, reporters: [{}] },
  {
    plugins: [
      {
        name: 'planted',
        enforce: 'pre',
        load(id) {
          const here = byFile.get(id);
          return here && planted(id, codes.get(here[0].file), here);
        },
      },
    ],
  },
);
const specifications = await vitest.globTestSpecifications();

/** Runs test files; one that does not come back is ended, and counts as failed. */
async function run(files, longest) {
  const clock = setTimeout(() => spawnSync('pkill', ['-KILL', '-P', String(process.pid), '-f', 'vitest']), longest);
  vitest.state.clearErrors();
  const { testModules, unhandledErrors } = await vitest.runTestSpecifications(files);
  clearTimeout(clock);
  const failed = testModules.filter((m) => !m.ok());
  return { isFine: failed.length === 0 && unhandledErrors.length === 0, failed, testModules };
}

const began = Date.now();
const whole = await run(specifications, 1_800_000);
if (!whole.isFine) {
  console.error(`The tests fail as they stand: ${whole.failed.map((m) => m.moduleId).join(', ')}. Mend them, and ask again.`);
  process.exit(1);
}
console.log(`All tests ran once, in ${Math.round((Date.now() - began) / 1000)} s.`);
const takes = new Map(whole.testModules.map((m) => [m.moduleId, m.diagnostic().duration + m.diagnostic().collectDuration]));
const metBy = new Map(
  readdirSync(folder)
    .filter((f) => f.startsWith('~'))
    .map((f) => [f.replaceAll('~', '/').replace(/\.json$/, ''), new Set(JSON.parse(readFileSync(join(folder, f), 'utf8')))]),
);

/** The tests that came by a bug: those beside it first, then what takes least. */
function testsOf({ file, number }) {
  const beside = (id) => (id === resolve(file).replace(/\.ts$/, '.test.ts') ? 2 : dirname(id) === dirname(resolve(file)) ? 1 : 0);
  return specifications
    .filter(({ moduleId }) => metBy.get(moduleId)?.has(number))
    .sort((a, b) => beside(b.moduleId) - beside(a.moduleId) || takes.get(a.moduleId) - takes.get(b.moduleId));
}

/** Whether a test that came by it fails; a few at a time, since most fail early. */
async function isFound(bug) {
  biting([bug.number]);
  const tests = testsOf(bug);
  let left = seconds * 1000;
  for (let most = 3000; tests.length > 0 && left > 0; most *= 2) {
    const some = [];
    for (let sum = 0; tests.length > 0 && (some.length < 2 || sum < most); some.push(tests.shift()))
      sum += takes.get(tests[0].moduleId);
    const from = Date.now();
    if (!(await run(some, 300_000)).isFine) return true;
    left -= Date.now() - from;
  }
  return false;
}

const survivors = [];
for (const bug of bugs) {
  const from = Date.now();
  const found = await isFound(bug);
  if (!found) survivors.push(bug);
  const took = ((Date.now() - from) / 1000).toFixed(0);
  console.log(
    `${bug.number + 1} of ${bugs.length}: ${found ? 'found   ' : 'SURVIVED'} ${took} s ${bug.file}:${bug.line + 1}  ${bug.from}  →  ${bug.to}`,
  );
}
await vitest.close();
rmSync(folder, { recursive: true, force: true });

for (const { file, line, from, to } of survivors) console.log(`\n${file}:${line + 1}\n  ${from}\n  ${to}`);
console.log(`\n${survivors.length} of ${bugs.length} survived`);
process.exit(0);
