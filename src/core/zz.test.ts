import { readFileSync, writeFileSync } from 'node:fs';
import { it } from 'vitest';
const modules = import.meta.glob<Record<string, unknown>>(['./**/*.ts', '!./**/*.test.ts', '!./**/fixtures/**']);
it('probes', async () => {
  const scope: Record<string, unknown> = {};
  for (const m of Object.values(modules)) { const x = await m(); for (const k of Object.keys(x)) if (!(k in scope)) scope[k]=x[k]; }
  Object.assign(scope, await import('./run/fixtures/examples'));
  scope['laboratory'] = (await import('../../demo/works')).laboratory;
  const out = readFileSync('/tmp/calls.txt','utf8').split('\n').filter(Boolean).map(c => { let r; try { r = new Function(...Object.keys(scope), `return (${c});`)(...Object.values(scope)); r = typeof r==='function'?'FUNCTION':JSON.stringify(r) ?? String(r);} catch(e) { r = 'ERROR ' + (e as Error).message; } return c + '  ==> ' + String(r).slice(0,140); });
  writeFileSync('/tmp/calls.out', out.join('\n'));
}, 120000);
