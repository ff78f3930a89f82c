import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { functionsPage } from '../core/disciplines/functions-page';
import { jsonSchemas } from './json-schemas';

it('the schemas in docs/schemas are those of the code (npm run schemas writes them)', () => {
  const schemas = jsonSchemas();
  expect(readdirSync('docs/schemas').sort()).toEqual(Object.keys(schemas).sort());
  for (const [file, text] of Object.entries(schemas))
    expect(JSON.parse(readFileSync(`docs/schemas/${file}`, 'utf8')), file).toEqual(JSON.parse(text));
  expect(JSON.parse(schemas['budget.schema.json']!)).toMatchObject({
    type: 'object',
    required: expect.arrayContaining(['format', 'model', 'quantities']),
  });
});

it('docs/functions.md is that of the code (npm run schemas writes it)', () =>
  expect(readFileSync('docs/functions.md', 'utf8')).toBe(functionsPage()));
