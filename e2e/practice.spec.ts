import type { Page } from '@playwright/test';
import { expect, serve, test } from './server';

/** Puts a case on the practice bench, drawn from a seed, and has everything read up to the judgement. */
async function upToTheJudgement(page: Page, url: string, of: string): Promise<void> {
  const begun = await page.request.post(`${url}/api/practice`, { data: { case: of, person: 'Maud Ellery', seed: 2 } });
  const { practice } = (await begun.json()) as { practice: string };
  await page.goto(`${url}/practice/${practice}`);
  await expect(page.getByText('nothing of it enters the records')).toBeVisible();
  await expect(page.getByRole('region', { name: 'What is to be seen' })).not.toContainText('…');
  await page.keyboard.press('F4');
  await expect(page.getByRole('group', { name: 'Decide' })).toBeVisible({ timeout: 30_000 });
}

test('practice: dirt on a block is found, and nothing is adjusted over it', { tag: '@long' }, async ({ page }) => {
  const server = await serve('demo');
  await upToTheJudgement(page, server.url, 'borrowed-blocks');
  const now = page.getByRole('region', { name: 'Now' });
  const decide = now.getByRole('group', { name: 'Decide' });
  const found = now.getByText(/It was “/);
  for (const cause of ['Another block', 'Dirt']) {
    if (await found.isVisible()) break;
    await now.getByRole('listitem').filter({ hasText: cause }).getByRole('button', { name: 'Look for it' }).focus();
    await page.keyboard.press('Enter');
    await expect(decide).toBeHidden();
    await page.keyboard.press('F4');
    await expect(decide).toBeVisible();
  }
  await expect(found).toBeVisible();
  await decide.focus();
  await page.keyboard.press('1');
  await expect(now.getByRole('button', { name: /^Begin: as found/ })).toBeVisible();
  await page.keyboard.press('F4');
  await expect(now.getByRole('heading', { name: /As found.*pass/ })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('1');
  await expect(now.getByRole('heading', { name: 'What was it?' })).toBeVisible();
  await page.keyboard.press('5');
  await expect(now.getByRole('button', { name: 'One point stands apart' })).toHaveAttribute('aria-pressed', 'true');
  await now.getByRole('button', { name: 'That was it: tell me' }).press('Enter');
  await expect(page.getByText('Solved', { exact: true })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Dealt with', { exact: true })).toBeVisible();
  await page.goto(`${server.url}/practice`);
  await expect(page.getByRole('row', { name: /One point stands apart/ })).toContainText('1 of 1');
  await expect(page.getByRole('listitem').filter({ hasText: 'apprentices' }).first()).toContainText('solved 1 of 1');
  await server.kill();
});

test('practice: adjusting over a dirty block is told afterwards', { tag: '@long' }, async ({ page }) => {
  const server = await serve('demo');
  await upToTheJudgement(page, server.url, 'borrowed-blocks');
  const now = page.getByRole('region', { name: 'Now' });
  await now.getByRole('button', { name: /Set the zero all the same/ }).click();
  await now.getByRole('textbox').fill('It is outside');
  await now.getByRole('button', { name: 'Set the zero', exact: true }).click();
  await expect(now.getByRole('region', { name: 'What is to be seen' })).toContainText('as it is stored');
  await page.keyboard.press('F4');
  await expect(now.getByRole('heading', { name: /^As left/ })).toBeVisible({ timeout: 30_000 });
  await now.getByRole('group', { name: 'Decide' }).focus();
  await now.getByRole('button', { name: /Leave it as it is/ }).click();
  const reason = now.getByRole('textbox');
  if (await reason.isVisible()) {
    await reason.fill('Enough');
    await now.getByRole('button', { name: 'Leave it as it is', exact: true }).click();
  }
  await expect(now.getByRole('heading', { name: 'What was it?' })).toBeVisible();
  await now.getByRole('button', { name: 'Off by the same everywhere' }).click();
  await now.getByRole('button', { name: 'That was it: tell me' }).click();
  await expect(page.getByText('Not solved')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('It was adjusted while something else was wrong')).toBeVisible();
  await expect(page.getByText('Said, and not so: “Off by the same everywhere”.')).toBeVisible();
  await server.kill();
});
