// npm start and npm run demo: install what is missing, build when the source is newer, prepare the data, serve.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, run } from './install.mjs';

const flags = process.argv.slice(2);
const isDemo = flags.includes('--demo');

process.env.ASTRO_TELEMETRY_DISABLED = '1';
installPackages();

function newest(path) {
  const stat = statSync(path);
  return stat.isDirectory() ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name)))) : stat.mtimeMs;
}

const entry = 'dist/server/entry.mjs';
const isBuilt =
  existsSync(entry) && statSync(entry).mtimeMs > Math.max(...['src', 'package-lock.json', 'astro.config.mjs'].map(newest));
if (!isBuilt) {
  console.log('Building…');
  run('npx', ['--no-install', 'astro', 'build'], 'The application could not be built; the message above says where.', {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

const env = {
  ...process.env,
  HOST: process.env.HOST || '127.0.0.1',
  PORT: process.env.PORT || '4600',
  DATABASE_URL: process.env.DATABASE_URL || (isDemo ? 'file:demo-data/demo.db' : 'file:data/just-twice.db'),
  NODE_ENV: 'production',
};
const prepare = [
  '--no-install',
  'tsx',
  'src/cli/prepare-data.ts',
  ...(isDemo ? ['--demo'] : []),
  ...(flags.includes('--fresh') ? ['--fresh'] : []),
];
run('npx', prepare, 'The data could not be prepared; the message above says why. Nothing was changed.', { env });

const server = spawn(process.execPath, [entry], { stdio: ['ignore', 'ignore', 'inherit'], env });
server.on('exit', (code) => process.exit(code ?? 1));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));

const address = `http://${env.HOST}:${env.PORT}/`;
for (let i = 0; i < 100; i++) {
  await new Promise((resolve) => setTimeout(resolve, 100));
  if (
    await fetch(address).then(
      (r) => r.ok,
      () => false,
    )
  ) {
    console.log(`Just Twice is at ${address}  (stop it with Ctrl+C)`);
    break;
  }
}
