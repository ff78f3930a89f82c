import { randomUUID } from 'node:crypto';
import { expect, openRunOf, serve, test } from './server';

test(
  'a confirmed absurd reading leaves sheet, record, certificate and lists usable, and the server alive',
  { tag: '@long' },
  async ({ page }) => {
    // A server of its own: it finishes a run that other tests carry on with.
    const server = await serve('demo');
    const run = await openRunOf(server, 'qm-0118');
    await page.context().setExtraHTTPHeaders(server.as('Maud Ellery'));
    const ask = async (path: string, body?: unknown) => {
      const answer = await fetch(server.url + path, {
        headers: { ...server.as(), 'content-type': 'application/json' },
        ...(body ? { method: 'POST', body: JSON.stringify(body) } : {}),
      });
      expect(answer.status, path).toBeLessThan(300);
      return answer.json() as Promise<Record<string, unknown>>;
    };
    type Logged = { sequence: number; act: Record<string, unknown> & { type: string } };
    let log = ((await ask(`/api/runs/${run}/events`))['events'] as Logged[]).slice();
    const act = async (what: Record<string, unknown>) => {
      const { event } = await ask(`/api/runs/${run}/events`, {
        expectedSequence: log.at(-1)!.sequence,
        idempotencyKey: randomUUID(),
        person: 'Maud Ellery',
        act: what,
      });
      log = [...log, event as Logged];
    };
    const taken = (point: string) => log.filter((e) => e.act.type === 'observed' && e.act['point'] === point).length;
    const nominals = [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8, 25];
    for (const [i, nominal] of nominals.entries())
      for (let repeat = taken(`p${i + 1}`); repeat < 3; repeat++)
        await act({
          type: 'observed',
          set: 'as-found',
          series: 'error',
          point: `p${i + 1}`,
          repeat: repeat + 1,
          observation: 'R',
          text: i === 7 && repeat === 2 ? '1.290' : nominal.toFixed(3),
          confirmed: true,
          reason: 'It showed this',
        });
    const open = async () => {
      await page.goto(`${server.url}/runs/${run}`);
      await expect(page.getByRole('heading', { level: 2 }).first()).toBeVisible();
    };
    await open();
    await expect(page.getByText(/stands apart|scatter/).first()).toBeVisible();
    // On to the certificate, by what the page itself proposes.
    await page
      .getByRole('button', { name: /leave it|Leave/i })
      .first()
      .click();
    const reason = page.getByLabel(/In a few words|Another reason|Reason/);
    const setDate = page.getByRole('button', { name: 'Set this date' });
    await expect(reason.or(setDate).first()).toBeVisible();
    if (await reason.isVisible()) {
      await reason.fill('kept to see what comes of it');
      await page.keyboard.press('Enter');
    }
    await setDate.click();
    await page.getByRole('button', { name: 'Finish and make the certificate' }).click();
    await expect(page.getByRole('link', { name: 'Certificate', exact: true })).toBeVisible({ timeout: 20_000 });
    const pdf = await fetch(`${server.url}/api/runs/${run}/certificate.pdf`, { headers: server.as() });
    expect(pdf.status).toBe(200);
    expect((await pdf.arrayBuffer()).byteLength).toBeGreaterThan(10_000);
    const began = Date.now();
    for (const path of ['/', '/instruments', '/instruments/qm-0118', '/standards']) {
      const answer = await page.goto(server.url + path);
      expect(answer!.status(), path).toBe(200);
    }
    expect(Date.now() - began).toBeLessThan(30_000);
    await page.goto(`${server.url}/instruments/qm-0118`);
    await expect(page.getByText('An arrow at the edge')).toBeVisible();
    expect(await page.locator('.recharts-yAxis .recharts-cartesian-axis-tick').count()).toBeLessThanOrEqual(9);
    await server.kill();
  },
);
