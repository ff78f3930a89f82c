import { readFileSync, existsSync } from 'node:fs'; import { join } from 'node:path'; import { gzipSync } from 'node:zlib';
const html = await (await fetch('http://127.0.0.1:4977' + process.argv[2])).text();
const seen = new Map();
const visit = (path) => { if (seen.has(path) || !existsSync(join('dist/client', path))) return; const source = readFileSync(join('dist/client', path), 'utf8'); seen.set(path, gzipSync(source).length);
 for (const [, next] of source.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g)) visit(`/_astro/${next}`); };
for (const [path] of html.matchAll(/\/_astro\/[\w.-]+\.js/g)) visit(path);
console.log([...seen.values()].reduce((a, b) => a + b, 0)); console.log([...seen].sort((a,b)=>b[1]-a[1]).slice(0,14));
