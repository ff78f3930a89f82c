import { drive, start } from './drive';
import { expect, serve, test } from './server';

/** A screw that is worn beyond 16 mm: left as it is, and limited to what it holds. */
test('a micrometer is limited to what it holds, on certificate and label', { tag: '@long' }, async ({ page, request }) => {
  test.setTimeout(180_000);
  const server = await serve('demo');
  const run = await start(page, 'keys', server, 'qm-0126');
  const shows = (sentence: string) => {
    const nominal = Number(/^([\d.]+) mm/.exec(sentence)![1]);
    return (nominal + (nominal > 16 ? 0.0065 : 0)).toFixed(3);
  };
  const now = page.getByRole('region', { name: 'Now' });
  const decide = now.getByRole('group', { name: 'Decide' });
  const judging = now.getByRole('heading', { name: /^As found:/ });
  await drive(page, 'keys', shows, { air: '20.4', until: () => judging.isVisible() });
  await expect(decide).toBeVisible();
  const leave = now.getByRole('button', { name: /Leave it as it is/ });
  await leave.click();
  const limited = now.getByRole('region', { name: 'Limited use' });
  await expect(limited).toContainText(/holds them for 2\.5 to 15 mm/);
  await page.keyboard.press('b');
  await expect(now.getByRole('heading', { name: /Limited to 2\.5 to 15 mm: what was agreed/ })).toBeVisible();
  await now.getByRole('textbox').fill('By telephone with the pipe metal shop');
  await now.getByRole('button', { name: 'Limit it so' }).click();
  await expect(limited).toContainText('By telephone with the pipe metal shop. Label and certificate say so.');
  await now.getByRole('button', { name: 'Set this date' }).click();
  await expect(limited).toBeVisible();
  await now.getByRole('button', { name: /Finish and make/ }).click();
  await expect(page.getByText('Limited to 2.5 to 15 mm').first()).toBeVisible();
  const certificate = (await (await request.get(`${server.url}/api/runs/${run}/certificate.json`)).json()) as {
    remarks: string[];
  };
  expect(certificate.remarks[0]).toContain('Limited to 2.5 to 15 mm');
  await server.kill();
});
