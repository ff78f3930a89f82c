import { drive } from './drive';
import { awake, expect, serve, test } from './server';

/** A transmitter of 0 to 300 kPa with two screws, each of which takes the other end with it. */
test(
  'zero and span by their screws: led turn by turn until both hold, by keyboard alone',
  { tag: '@long' },
  async ({ page, request }) => {
    test.setTimeout(180_000);
    // A works of its own: what is begun and chosen here is remembered.
    const server = await serve('demo');
    const off = [0.12, 0.2];
    const drags = [0.9, 0.6];
    const current = (kPa: number) => 4 + (16 * kPa) / 300 + off[0]! + ((off[1]! - off[0]!) * kPa) / 300;
    const shows = (sentence: string) => {
      const kPa = Number(/([\d.]+) kPa/.exec(sentence)![1]);
      return sentence.includes('pressure') ? kPa.toFixed(2) : current(kPa).toFixed(3).replace('.', ',');
    };
    await page.goto(`${server.url}/instruments/qp-22?start`);
    await page.getByText('Screws for zero and span').click();
    await page.getByRole('button', { name: 'Put it on the bench' }).click();
    await page.waitForURL(/\/runs\//);
    await awake(page);
    const run = page.url().split('/').at(-1)!;
    const now = page.getByRole('region', { name: 'Now' });
    const heading = now.getByRole('heading').first();
    const pressure = now.getByRole('textbox', { name: 'Pressure in kPa, now' });
    await drive(page, 'keys', shows, { until: () => pressure.isVisible() });

    let turned = 0;
    for (let i = 0; i < 20 && (await pressure.isVisible()); i++) {
      const asked = (await heading.textContent())!;
      const kPa = Number(/^([\d.]+) kPa/.exec(asked)![1]);
      const to = /shows ([\d.]+) mA/.exec(asked)?.[1];
      if (to) {
        const at = asked.includes('turn the zero') ? 0 : 1;
        const by = Number(to) - current(kPa);
        off[at]! += by;
        off[1 - at]! += drags[at]! * by;
        turned++;
      }
      await expect(pressure).toBeFocused();
      await page.keyboard.type(kPa.toFixed(2));
      await page.keyboard.press('Enter');
      await page.keyboard.type(current(kPa).toFixed(3).replace('.', ','));
      await page.keyboard.press('Enter');
      await expect(heading).not.toHaveText(asked);
    }
    // Zero, span, zero, the span beside its value, and the zero that takes that away.
    expect(turned).toBeLessThanOrEqual(5);
    await expect(heading).toContainText('Both are within');
    await expect(now.getByText('The zero takes 90 % of its turn with it at the top, the span 60 % at the bottom.')).toBeVisible();
    await expect(now.getByRole('button', { name: 'Record the adjustment' })).toBeFocused();
    await page.keyboard.press('Enter');
    await drive(page, 'keys', shows);
    const certificate = (await (await request.get(`${server.url}/api/runs/${run}/certificate.json`)).json()) as {
      asFound: { verdict: string };
      asLeft: { verdict: string };
      adjustments: { title: string }[];
    };
    expect(certificate.asFound.verdict).toBe('fail');
    expect(certificate.adjustments.map((a) => a.title)).toEqual(['Zero and span by their screws']);
    expect(certificate.asLeft.verdict).toBe('pass');
    await server.kill();
  },
);
