// Builds the pages and the server into dist/, and says there what they were built from.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { run } from './install.mjs';

const sources = ['src', 'demo', 'public', 'astro.config.mjs'];
const stamp = 'dist/built-from';

function filesIn(path) {
  return statSync(path).isDirectory()
    ? readdirSync(path)
        .sort()
        .flatMap((name) => filesIn(join(path, name)))
    : [path];
}

/** A digest of everything the build is made from; times of files say nothing after a checkout. */
function digest() {
  const hash = createHash('sha256');
  for (const file of sources.flatMap(filesIn).filter((f) => !/\.test\.tsx?$/.test(f)))
    hash.update(file).update(readFileSync(file));
  // Of the packages their versions: npm itself rewrites the rest of the file as it goes.
  for (const [path, { version }] of Object.entries(JSON.parse(readFileSync('package-lock.json', 'utf8')).packages))
    if (path) hash.update(`${path} ${version}\n`);
  return hash.digest('hex');
}

/** Packs what browsers load, once and tightly, beside each file; fonts and pictures are packed already. */
function pack(folder) {
  for (const file of filesIn(folder).filter((f) => /\.(js|css|html|svg|json|txt|webmanifest)$/.test(f))) {
    const text = readFileSync(file);
    if (text.length < 1400) continue;
    const params = { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: text.length };
    writeFileSync(`${file}.br`, brotliCompressSync(text, { params }));
    writeFileSync(`${file}.gz`, gzipSync(text, { level: 9 }));
  }
}

export const isBuilt = () => existsSync(stamp) && existsSync('dist/serve.mjs') && readFileSync(stamp, 'utf8') === digest();

export function build() {
  process.env.ASTRO_TELEMETRY_DISABLED = '1';
  run(
    'npx',
    ['--no-install', 'astro', 'build', '--silent'],
    'The application could not be built; the message above says where.',
    {
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  );
  rmSync('dist/parts', { recursive: true, force: true });
  run(
    'npx',
    [
      '--no-install',
      'esbuild',
      'src/server/serve.ts',
      'src/server/printing-thread.ts',
      '--bundle',
      '--platform=node',
      '--format=esm',
      '--packages=external',
      '--log-level=warning',
      '--splitting',
      '--outdir=dist',
      '--out-extension:.js=.mjs',
      '--chunk-names=parts/[name]-[hash]',
    ],
    'The server could not be built; the message above says where.',
  );
  pack('dist/client');
  writeFileSync(stamp, digest());
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) build();
