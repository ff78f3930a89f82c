import { readdirSync, readFileSync } from 'node:fs';
import { awake, expect, test } from './server';

test('procedures are listed, opened with their worked example, and exported as they are', async ({ page, server }) => {
  await page.goto(`${server.url}/procedures`);
  await expect(page.getByText(/agrees, \d+ numbers/)).toHaveCount(readdirSync('procedures').length);
  await page.getByRole('link', { name: 'Electronic balance with standard weights' }).click();
  await expect(page.getByRole('heading', { name: 'Worked example: agrees' })).toBeVisible();
  await expect(page.getByText('lift with both hands')).toBeVisible();
  const exported = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export the document' }).click();
  const file = await (await exported).path();
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(JSON.parse(readFileSync('procedures/balance.json', 'utf8')));
});

test('a document is checked while it is written, with the place of its fault', { tag: '@long' }, async ({ page, server }) => {
  await page.goto(`${server.url}/procedures`);
  await awake(page);
  const text = page.getByLabel('Text of a procedure');
  await text.fill('{ "format": ');
  await expect(page.getByText('This is not a whole document yet')).toBeVisible();
  const source = readFileSync('procedures/pressure-transmitter.json', 'utf8');
  await text.fill(source.replace('"is": "(pressure.value', '"is": "(presure.value'));
  await expect(page.getByText('"presure.value" is a name that nothing offers here.')).toBeVisible();
  await expect(page.getByText('at series · 0 · computed · 0 · is')).toBeVisible();
  await text.fill(source);
  await expect(page.getByText('Valid: every name is offered.')).toBeVisible();
  await expect(page.getByText('Worked example: 18 numbers, all agree.')).toBeVisible();
});

test('a changed document is taken in as a new revision, with what changed told', { tag: '@long' }, async ({ page, server }) => {
  await page.goto(`${server.url}/procedures`);
  await awake(page);
  const source = readFileSync('procedures/balance.json', 'utf8');
  const text = page.getByLabel('Text of a procedure');
  await text.fill(source);
  await page.getByRole('button', { name: 'Take it into the library' }).click();
  await expect(page.getByText('is in the library already')).toBeVisible();
  const changed = JSON.parse(source) as { revision: number; title: string; interval: { months: number } };
  await text.fill(JSON.stringify({ ...changed, revision: changed.revision + 1, interval: { ...changed.interval, months: 6 } }));
  await page.getByRole('button', { name: 'Take it into the library' }).click();
  await page.waitForURL(/\/procedures\/balance$/);
  await expect(page.getByRole('heading', { name: `Changed since revision ${changed.revision}` })).toBeVisible();
  await expect(page.getByText('12 → 6')).toBeVisible();
  await page.getByRole('link', { name: `revision ${changed.revision}` }).click();
  await expect(page.getByText('Changed since')).toHaveCount(0);
});
