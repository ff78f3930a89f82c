// npm test: install what is missing, then types, lint, unit tests, build, browser tests; ends with the count over all suites and the time.
// npm run test:long: what takes long and finds little that npm test does not. --all, as CI runs it: both.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { installChromium, installPackages } from './install.mjs';

const isAll = process.argv.includes('--all');
const isLong = process.argv.includes('--long');
const began = Date.now();
process.env.ASTRO_TELEMETRY_DISABLED = '1';
process.env.CI ??= '1';
installPackages();
process.env.CHROMIUM_PATH = installChromium();

const reports = 'test-results';
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });

let passed = 0;
let failed = 0;
/** What failed, said again at the end: a long output is read from there. */
const failures = [];

function count(name, ok) {
  if (ok) passed++;
  else {
    failed++;
    failures.push(name);
  }
  return ok;
}

const minutes = (from) => `${((Date.now() - from) / 60_000).toFixed(1)} min`;

/** What a step in a process of its own says and ends with; one that has the screen to itself says it as it goes. */
async function run(command, args, isAlone = false) {
  const child = spawn(command, args, { stdio: isAlone ? 'inherit' : ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const channel of [child.stdout, child.stderr]) channel?.on('data', (text) => (said += text));
  const status = await new Promise((resolve) => child.once('exit', resolve));
  return { status, said: said.trim() };
}

/** Steps that pass or fail as a whole, each counting as one, one after the other; each says what it has to say when it is over. */
async function steps(all) {
  const done = {};
  for (const [name, args] of all) {
    const from = Date.now();
    const { status, said } = await run(...args);
    console.log(`\n— ${name} (${minutes(from)})\n${said}`);
    done[name] = count(name, status === 0);
  }
  return done;
}

/** A suite reports its own counts; one that fails without a report counts as one failure. */
async function suite(name, args, report, counted, isAlone = false) {
  const from = Date.now();
  if (isAlone) console.log(`\n— ${name}`);
  const { status, said } = await run('npx', ['--no-install', ...args], isAlone);
  if (!isAlone) console.log(`\n— ${name}\n${said}`);
  const counts = existsSync(report) ? counted(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 1, names: [] };
  console.log(`${name}: ${minutes(from)}`);
  passed += counts.passed;
  failed += status !== 0 && counts.failed === 0 ? 1 : counts.failed;
  failures.push(...(status !== 0 && counts.names.length === 0 ? [name] : counts.names));
}

/** Browser tests that did not do what was expected, by file and title. */
function failedSpecs(suites) {
  return suites.flatMap((s) => [
    ...s.specs.filter((t) => !t.ok).map((t) => `${t.file}: ${t.title}`),
    ...failedSpecs(s.suites ?? []),
  ]);
}

const npx = (...args) => ['npx', ['--no-install', ...args]];
const build = ['Build', [process.execPath, ['scripts/build.mjs']]];
const checks = [
  ['Types', npx('astro', 'check', '--minimumSeverity', 'error')],
  ['Lint and the direction of imports', npx('eslint', '.', '--max-warnings', '0')],
  ['Formatting', npx('prettier', '--check', '--log-level', 'warn', '.')],
];
process.env.TESTS = isAll ? 'all' : isLong ? 'long' : 'short';
const units = suite(
  'Unit tests',
  ['vitest', 'run', '--reporter=dot', '--reporter=json', `--outputFile.json=${reports}/unit.json`],
  `${reports}/unit.json`,
  (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests + r.testResults.filter((t) => t.status === 'failed' && t.assertionResults.length === 0).length,
    names: r.testResults.flatMap((file) =>
      file.status !== 'failed'
        ? []
        : file.assertionResults.length === 0
          ? [file.name]
          : file.assertionResults
              .filter((t) => t.status === 'failed')
              .map((t) => `${t.fullName}: ${t.failureMessages.join(' ')}`),
    ),
  }),
);
// Beside each other: neither keeps two cores busy.
const [, done] = await Promise.all([units, steps(isLong ? [build] : [...checks, build])]);
const demo = `${reports}/demo-for-tests.db`;
if (existsSync(demo)) process.env.DEMO_MADE = demo;
if (done.Build)
  await suite(
    'Browser tests',
    ['playwright', 'test'],
    `${reports}/browser.json`,
    (r) => ({
      passed: r.stats.expected,
      failed: r.stats.unexpected + r.stats.flaky + r.stats.skipped + r.errors.length,
      names: [...failedSpecs(r.suites), ...r.errors.map((e) => e.message)],
    }),
    true,
  );

if (failures.length > 0) console.log(`\n— Failed\n${failures.map((f) => f.slice(0, 500)).join('\n')}`);
console.log(`\nIt took ${minutes(began)}.`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
