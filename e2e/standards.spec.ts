import { awake, expect, test } from './server';

test('a source is entered part by part, its voltages at two frequencies', { tag: '@long' }, async ({ page }) => {
  await page.goto('/standards/new');
  await awake(page);
  await page.getByLabel('Kind').click();
  await page.keyboard.type('multifunction');
  await page.keyboard.press('Enter');
  await page.getByLabel('Identification').fill('MS-9');
  await page.getByLabel('Certificate issued by').fill('Institute');
  await page.getByLabel('Certificate number').fill('77');
  await page.getByLabel('Date', { exact: true }).fill('2026-01-10');
  await page.getByRole('button', { name: 'Add what procedures read of it: dcv, acv, dca, ohm' }).click();
  const tables = page.getByLabel(/A line each/);
  await expect(tables).toHaveCount(4);
  await page.getByRole('button', { name: 'Take away the part ohm' }).click();
  await page.getByRole('button', { name: 'Take away the part dca' }).click();
  await tables.nth(0).fill('0 0,00001 2e-5\n10 0,0001 0,0002');
  await tables.nth(1).fill('Shows;Correction (mV);U (mV);Frequency (Hz)\n1;0,1;0,2;50\n1;0,3;none;1000');
  await expect(page.getByText('Line 3: "none" is not a number')).toBeVisible();
  await page.getByRole('button', { name: 'Enter the standard' }).click();
  await expect(page.getByRole('alert')).toContainText('Line 3: "none" is not a number');
  await tables.nth(1).fill('Shows;Correction (mV);U (mV);Frequency (Hz)\n1;0,1;0,2;50\n1;0,3;0,4;1000');
  await page.getByRole('button', { name: 'Enter the standard' }).click();
  await page.waitForURL(/\/standards\/(?!new)/);
  await expect(page.getByRole('heading', { name: 'acv' })).toBeVisible();
  // Changed, it comes back as it was typed.
  await page.goto(`${page.url()}/edit`);
  await awake(page);
  await expect(page.getByLabel(/A line each/).nth(1)).toHaveValue(/frequency\n1\t0.0001\t0.0002\t50\n1\t0.0003\t0.0004\t1000$/);
});
