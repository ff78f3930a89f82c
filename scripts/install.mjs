// Installs what is missing, with Node alone.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';

/** Runs a command and stops with a sentence when it fails. */
export function run(command, args, whatToDo, options = {}) {
  const result = spawnSync(command, args, { stdio: 'inherit', ...options });
  if (result.status !== 0) {
    console.error(`\n${whatToDo}`);
    process.exit(result.status ?? 1);
  }
}

/**
 * Node packages, when what is installed is not what the lock file says. What only tests and checks need is not asked for where the
 * application is just to run, so that an installation pruned of it stays as it is.
 */
export function installPackages({ forRunning = false } = {}) {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 18)) {
    console.error(`Just Twice needs Node 20.18 or newer; this is ${process.versions.node}.`);
    process.exit(1);
  }
  const installed = 'node_modules/.package-lock.json';
  const wanted = JSON.parse(readFileSync('package-lock.json', 'utf8')).packages;
  if (existsSync(installed)) {
    const have = JSON.parse(readFileSync(installed, 'utf8')).packages;
    const missing = Object.entries(wanted).filter(
      ([path, { version, optional, dev, devOptional }]) =>
        path && !optional && !(forRunning && (dev || devOptional)) && have[path]?.version !== version,
    );
    if (missing.length === 0) return;
  }
  console.log('Installing the packages…');
  // Not `npm ci`: it refuses a lock file made where the registry lacks some platform's optional packages.
  run(
    'npm',
    ['install', '--no-save', '--no-audit', '--no-fund'],
    'The packages could not be installed. Check the connection to the npm registry and run this again.',
  );
}

const chromiumPaths = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];

/** The browser for the browser tests: an installed Chromium, else Debian's package. */
export function installChromium() {
  const named = process.env.CHROMIUM_PATH;
  const found = [named, ...chromiumPaths].find((path) => path && existsSync(path));
  if (found) return found;
  const advice =
    'The browser tests need Chromium. Install it (on Debian as root: apt-get install chromium), or name one in CHROMIUM_PATH, and run this again.';
  if (process.getuid?.() !== 0 || spawnSync('apt-get', ['--version']).status !== 0) {
    console.error(advice);
    process.exit(1);
  }
  console.log('Installing Chromium from Debian’s packages…');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], advice, { env });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], advice, {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const installed = chromiumPaths.find(existsSync);
  if (!installed) {
    console.error(advice);
    process.exit(1);
  }
  return installed;
}
