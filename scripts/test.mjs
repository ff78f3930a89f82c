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

/** A step that passes or fails as a whole counts as one. */
const step = (name, args) => command(name, 'npx', ['--no-install', ...args]);

function command(name, program, args) {
  console.log(`\n— ${name}`);
  const ok = spawnSync(program, args, { stdio: 'inherit' }).status === 0;
  if (ok) passed++;
  else failed++;
  return ok;
}

/** A suite reports its own counts; one that fails without a report counts as one failure. */
function suite(name, args, report, count) {
  console.log(`\n— ${name}`);
  const { status } = spawnSync('npx', ['--no-install', ...args], { stdio: 'inherit' });
  const counts = existsSync(report) ? count(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 1 };
  passed += counts.passed;
  failed += status !== 0 && counts.failed === 0 ? 1 : counts.failed;
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
  }),
);
if (command('Build', process.execPath, ['scripts/build.mjs']))
  suite('Browser tests', ['playwright', 'test'], `${reports}/browser.json`, (r) => ({
    passed: r.stats.expected,
    failed: r.stats.unexpected + r.stats.flaky + r.stats.skipped + r.errors.length,
  }));

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
