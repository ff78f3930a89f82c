import { drive, start } from './drive';
import { expect, serve, test } from './server';

/** Dirt between the faces at one point: found by looking at that point, and not by adjusting. */
test(
  'dirt: one point is read again after wiping, then everything, by keyboard alone',
  { tag: '@long' },
  async ({ page, request }) => {
    test.setTimeout(180_000);
    // A works of its own: what is begun and chosen here is remembered.
    const server = await serve('demo');
    const run = await start(page, 'keys', server, 'qm-0126');
    let isWiped = false;
    const shows = (sentence: string) => {
      const nominal = Number(/^([\d.]+) mm/.exec(sentence)![1]);
      return (nominal + (nominal === 7.7 && !isWiped ? 0.006 : 0)).toFixed(3).replace('.', ',');
    };
    const now = page.getByRole('region', { name: 'Now' });
    const decide = now.getByRole('group', { name: 'Decide' });
    const judging = now.getByRole('heading', { name: /^As found:/ });
    await drive(page, 'keys', shows, { air: '20,4', until: () => judging.isVisible() });
    await expect(decide).toBeVisible();
    await expect(now.getByText('Outside: Error, 7.7 mm')).toBeVisible();

    // Not the unit: it reads as before, and that comes later in the list.
    const causes = now.getByRole('listitem');
    const lookFor = async (title: string) => {
      await causes.filter({ hasText: title }).getByRole('button', { name: 'Look for it' }).focus();
      await page.keyboard.press('Enter');
      await expect(now.getByRole('heading', { name: '7.7 mm: read it once more' })).toBeVisible();
      await expect(now.getByRole('textbox')).toBeFocused();
    };
    await lookFor('Unit or preset');
    await page.keyboard.type('7,706');
    await page.keyboard.press('Enter');
    await expect(causes.filter({ hasText: 'Unit or preset' })).toContainText('as before');
    await expect(causes.last()).toContainText('Unit or preset');

    await lookFor('Dirt');
    await page.keyboard.type('7,70004');
    await page.keyboard.press('Enter');
    await expect(now.getByRole('alert')).toContainText('more digits than it can show');
    isWiped = true;
    await page.keyboard.press('Control+A');
    await page.keyboard.type('7,700');
    await page.keyboard.press('Enter');
    await expect(now.getByText('It was “Dirt”.')).toBeVisible();
    await expect(decide).toBeFocused();
    await page.keyboard.press('1');
    await expect(now.getByRole('button', { name: /^Begin: as found/ })).toBeVisible();

    // All is read again; nothing is adjusted, and what was found stays a failure.
    await drive(page, 'keys', shows, { air: '20,4' });
    const certificate = (await (await request.get(`${server.url}/api/runs/${run}/certificate.json`)).json()) as {
      asFound: { verdict: string };
      asLeft: { verdict: string } | null;
      adjustments: unknown[];
      remarks: string[];
    };
    expect(certificate.adjustments).toEqual([]);
    expect(certificate.asFound.verdict).toBe('fail');
    expect(certificate.asLeft?.verdict).toBe('pass');
    expect(certificate.remarks.join()).toContain('Looked for (Dirt), one point read again: 7.7 mm');

    // The next micrometer is told what it was here.
    await start(page, 'keys', server, 'qm-0147');
    isWiped = false;
    await drive(page, 'keys', shows, { air: '20,4', until: () => judging.isVisible() });
    await expect(decide).toBeVisible();
    await expect(causes.filter({ hasText: 'Dirt' })).toContainText('it was this 1 of 1 time');
    await server.kill();
  },
);
