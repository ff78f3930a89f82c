import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { partsOf } from './address';
import { endpoints, refusalSchema, type EndpointName } from './endpoints';
import { endpointsPage } from './endpoints-page';

const pages = 'src/pages';
const fileOf = (name: string) => {
  const address = name.split(' ')[1]!;
  return [`${pages}${address}.ts`, `${pages}${address}/index.ts`].find((f) => existsSync(f));
};

describe('the contract', () => {
  it.each(Object.keys(endpoints))('%s is served by the file of its address', (name) => {
    const file = fileOf(name);
    expect(file).toBeDefined();
    const source = readFileSync(file!, 'utf8');
    expect(source).toContain(`export const ${name.split(' ')[0]}`);
    if (name !== 'GET /calendar.ics') expect(source).toContain(`served('${name}'`);
  });
  it('has every method of every file', () => {
    const files = readdirSync(join(pages, 'api'), { recursive: true, encoding: 'utf8' }).filter(
      (f) => f.endsWith('.ts') && !/_endpoint|_device|\.test\.ts|rest/.test(f),
    );
    expect(files.length).toBeGreaterThan(20);
    for (const file of files) {
      const address = `/api/${file.replace(/\/?index\.ts$|\.ts$/, '')}`;
      const methods = [...readFileSync(join(pages, 'api', file), 'utf8').matchAll(/export const (GET|POST|PUT|DELETE)/g)];
      expect(methods.length).toBeGreaterThan(0);
      for (const [, method] of methods) expect(Object.keys(endpoints)).toContain(`${method} ${address}`);
    }
  });
  it('tells how an endpoint is called', () => {
    expect(partsOf('PUT /api/budgets/[id]', 'a/b')).toEqual({ method: 'PUT', address: '/api/budgets/a%2Fb' });
    expect(partsOf('GET /api/people')).toEqual({ method: 'GET', address: '/api/people' });
  });
  it('has one shape of refusal', () => {
    expect(refusalSchema.safeParse({ error: { message: 'Not so.', path: ['a', 1], missed: [] } }).success).toBe(true);
    expect(refusalSchema.safeParse({ error: 'Not so.' }).success).toBe(false);
  });
  it('is one table on paper, a line each', () => {
    const lines = endpointsPage()
      .split('\n')
      .filter((l) => /^\| (GET|POST|PUT|DELETE) /.test(l));
    expect(lines).toHaveLength((Object.keys(endpoints) as EndpointName[]).length);
    expect(lines.find((l) => l.includes('| POST | `/api/due` |'))).toMatch(
      /`instruments`, `to`, `reason`, `person` \| `moved` \| 200, 404, 422/,
    );
  });
});
