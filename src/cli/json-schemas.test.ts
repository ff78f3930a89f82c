import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { generatedPages } from './generated-pages';
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

it('the generated pages are those of the code and the procedures (npm run schemas writes them)', () => {
  const pages = generatedPages();
  const onDisk = readdirSync('docs/families').map((file) => `families/${file}`);
  expect(
    Object.keys(pages)
      .filter((file) => file.startsWith('families/'))
      .sort(),
  ).toEqual(onDisk.sort());
  for (const [file, page] of Object.entries(pages)) expect(readFileSync(`docs/${file}`, 'utf8'), file).toBe(page);
});

it('the page of a family tells its budget, its schools, its cautions and its checks', () => {
  const page = generatedPages()['families/bore-gauge.md']!;
  expect(page).toContain('| t | Temperature of the ring above 20 °C | K | rectangular: about rings − 20, ± 0.2 |');
  expect(page).toContain("- Maker's statement: ± its limit mm");
  expect(page).toContain('Alcohol burns');
  expect(page).toContain('- Check ring: in check and quick.');
  expect(page).toContain('12 months, 6 months after a fail');
  expect(page).not.toMatch(/undefined|\[object/);
});
