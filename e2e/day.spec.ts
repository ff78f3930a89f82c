import { readFileSync } from 'node:fs';
import { serve, expect, test } from './server';

/** The work of a line, as its slider says it. */
const saidOf = (text: string | null) => {
  const [, from, to] = /: (\d\d:\d\d) to (\d\d:\d\d)$/.exec(text ?? '')!;
  return { from: from!, to: to! };
};
const minute = (time: string) => 60 * Number(time.slice(0, 2)) + Number(time.slice(3));

test('days are planned, moved by keys and by dragging, left out and taken back; what was moved is kept', async ({ page }) => {
  const server = await serve('demo');
  await page.context().setExtraHTTPHeaders(server.as('Maud Ellery'));
  await page.goto(`${server.url}/day`);
  await page.getByRole('button', { name: '2 days' }).click();
  const status = page.getByRole('status').first();
  const settled = async () => {
    await expect(status).toContainText('as far as their plans are known');
    await expect(status).not.toContainText('Looking for a better one', { timeout: 20_000 });
  };
  await settled();
  const lines = page.getByRole('list', { name: 'Over the hours' }).getByRole('slider');
  expect(await lines.count()).toBeGreaterThan(10);

  // The last of them begins on the second day, whatever time it is today: it is moved within that day.
  const all = await lines.evaluateAll((e) =>
    e.map((x) => [x.getAttribute('aria-label')!, Number(x.getAttribute('aria-valuenow'))]),
  );
  const [label] = all.find(([, begins]) => (begins as number) > 1440 + 480 && (begins as number) < 1440 + 720)! as [
    string,
    number,
  ];
  const line = page.getByRole('slider', { name: label, exact: true });
  const said = async () => saidOf(await line.getAttribute('aria-valuetext'));
  const begins = async () => Number(await line.getAttribute('aria-valuenow'));
  const first = await begins();
  await line.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(begins).toBeGreaterThanOrEqual(first + 15);
  await settled();
  await expect(line).toBeFocused();
  const byKeys = await begins();

  const box = (await line.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + box.width / 20, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  // A twentieth of two days of eight hours and a half.
  await expect.poll(begins).toBeGreaterThanOrEqual(byKeys + 45);
  await settled();
  await page.reload();
  await settled();
  // A minute later there is a minute less: the rest may be laid another way, this not before it was moved to.
  expect(await begins()).toBeGreaterThanOrEqual(byKeys + 45);
  expect(minute((await said()).to)).toBeGreaterThan(minute((await said()).from));

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'As calendar' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^day-\d{4}-\d\d-\d\d\.ics$/);
  expect(readFileSync(await download.path(), 'utf8')).toContain(`SUMMARY:${label.replace('Begin of ', '')}: `);

  const name = label.replace('Begin of ', '');
  await line.focus();
  await page.keyboard.press('x');
  await expect(line).toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'Left out' })).toBeVisible();
  await page.getByRole('button', { name: 'Take it back in' }).click();
  await settled();
  await expect(line).toHaveCount(1);
  await page.getByRole('button', { name: 'As first planned' }).click();
  await expect.poll(begins).toBeLessThan(byKeys + 45);

  // What is to be done is listed by the clock, with what it needs; from there it is gone on with.
  const clock = page.getByRole('listitem').filter({ hasText: name }).filter({ hasText: '–' }).first();
  await clock.getByRole('link', { name }).click();
  await page.waitForURL(/\/(instruments|runs|set-ups)\//);
  await server.kill();
});

test('a laboratory without instruments has an empty day', async ({ page }) => {
  const server = await serve('empty');
  await page.context().setExtraHTTPHeaders(server.as('Maud Ellery'));
  await page.goto(`${server.url}/day`);
  await expect(page.getByText('Nothing lies on the bench')).toBeVisible();
  await expect(page.getByRole('slider')).toHaveCount(0);
  await server.kill();
});
