// npm test: install what is missing, then types, lint, unit tests, build, browser tests; ends with the count over all suites.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { installChromium, installPackages } from './install.mjs';

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

/** A step that passes or fails as a whole counts as one. */
const step = (name, args) => command(name, 'npx', ['--no-install', ...args]);

function command(name, program, args) {
  console.log(`\n— ${name}`);
  const ok = spawnSync(program, args, { stdio: 'inherit' }).status === 0;
  if (ok) passed++;
  else {
    failed++;
    failures.push(name);
  }
  return ok;
}

/** A suite reports its own counts; one that fails without a report counts as one failure. */
function suite(name, args, report, count) {
  console.log(`\n— ${name}`);
  const { status } = spawnSync('npx', ['--no-install', ...args], { stdio: 'inherit' });
  const counts = existsSync(report) ? count(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 1, names: [] };
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

step('Types', ['tsc', '--noEmit']);
step('Types of pages', ['astro', 'check', '--minimumSeverity', 'error']);
step('Lint and the direction of imports', ['eslint', '.', '--max-warnings', '0']);
step('Formatting', ['prettier', '--check', '--log-level', 'warn', '.']);
suite(
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
if (command('Build', process.execPath, ['scripts/build.mjs']))
  suite('Browser tests', ['playwright', 'test'], `${reports}/browser.json`, (r) => ({
    passed: r.stats.expected,
    failed: r.stats.unexpected + r.stats.flaky + r.stats.skipped + r.errors.length,
    names: [...failedSpecs(r.suites), ...r.errors.map((e) => e.message)],
  }));

if (failures.length > 0) console.log(`\n— Failed\n${failures.map((f) => f.slice(0, 500)).join('\n')}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
