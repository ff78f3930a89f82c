import { createClient } from '@libsql/client';
import { drive } from './drive';
import { expect, serve, test } from './server';

/** A signed calibration of an instrument that is on no bench. */
async function signedRun(file: string): Promise<{ id: string; certificate: string }> {
  const client = createClient({ url: `file:${file}` });
  const { rows } = await client.execute(
    `SELECT id, certificate FROM runs WHERE status = 'finished' AND purpose = 'calibration' AND is_reviewed = 1 AND procedure_id = 'outside-micrometer'
     AND instrument_id NOT IN (SELECT instrument_id FROM runs WHERE status = 'open') ORDER BY started_at DESC LIMIT 1`,
  );
  client.close();
  return { id: String(rows[0]!['id']), certificate: String(rows[0]!['certificate']) };
}

test(
  'a name that was mistyped on a signed certificate: another issue replaces it, both stay to be seen, and one is withdrawn',
  {
    tag: '@long',
  },
  async ({ page, request }) => {
    test.setTimeout(180_000);
    const server = await serve('demo');
    const { id, certificate } = await signedRun(server.file);
    await page.goto(`${server.url}/runs/${id}`);
    await page.getByText('A mistake in it?').click();
    const correct = page.getByRole('button', { name: 'Correct it at the bench' });
    await correct.click();
    await expect(page.getByRole('alert')).toHaveText('Say in a few words what is wrong.');
    await page.getByLabel('What is wrong').fill('The owner has another name');
    await page.getByLabel('A name is mistyped').selectOption('Owner');
    await page.getByLabel('It should read').fill('Quillmere Bells');
    await correct.click();
    await expect(page.getByRole('region', { name: 'Now' })).toBeVisible();
    await expect(page.getByText(`To be corrected, of certificate ${certificate}`).first()).toBeVisible();
    expect(await drive(page, 'keys', () => Promise.reject(new Error('Nothing is read again.')))).toBe(0);
    const correction = page.getByRole('region', { name: 'Correction' });
    await expect(correction).toContainText(`Replaces ${certificate} of`);
    await expect(correction.getByRole('row', { name: /Owner/ })).toContainText('Quillmere Bells');
    await expect(page.getByRole('region', { name: 'Review' })).toContainText(`It corrects certificate ${certificate}`);
    const issue = async (number = '') =>
      (await (await request.get(`${server.url}/api/runs/${id}/certificate.json${number && `?number=${number}`}`)).json()) as {
        number: string;
        owner: string;
        replacedBy?: string;
        replaces?: { number: string };
      };
    const now = await issue();
    expect([now.owner, now.replaces!.number]).toEqual(['Quillmere Bells', certificate]);
    const former = await issue(certificate);
    expect([former.number, former.replacedBy]).toEqual([certificate, now.number]);
    expect(former.owner).not.toBe('Quillmere Bells');
    // Somebody who took no part signs it; then it is taken back for good.
    await page.context().setExtraHTTPHeaders(server.as('Ines Calderstone'));
    await page.goto(`${server.url}/runs/${id}`);
    await page.getByRole('button', { name: /^Sign as/ }).click();
    await expect(page.getByText('A mistake in it?')).toBeVisible();
    await page.getByText('A mistake in it?').click();
    await page.getByLabel('What is wrong').fill('Another instrument was measured');
    await page.getByRole('button', { name: `Withdraw ${now.number}` }).click();
    await expect(page.getByText('Another instrument was measured').first()).toBeVisible();
    await expect(page.getByText('Nothing rests on this calibration any more.')).toBeVisible();
    await server.kill();
  },
);
