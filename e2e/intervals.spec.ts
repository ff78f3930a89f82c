import { readFileSync } from 'node:fs';
import ICAL from 'ical.js';
import { drive, start } from './drive';
import { awake, expect, indications, test } from './server';

/** The micrometer as it shows: right to a few tenths of a micrometre. */
const shows = indications(0.0004);
const nominals = [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8, 25];
const reading = (sentence: string): string => {
  const [, nominal, repeat] = /^([\d.]+) mm.*?, (\d) of 3/.exec(sentence)!;
  return shows[nominals.indexOf(Number(nominal))]![Number(repeat) - 1]!;
};

test(
  'a date chosen against advice takes a reason; what the other schools say is a key away',
  { tag: '@long' },
  async ({ page, request, server }) => {
    test.setTimeout(240_000);
    const run = await start(page, 'keys', server, 'qm-0113');
    const now = page.getByRole('region', { name: 'Now' });
    const isAtDate = async () => (await now.getByRole('heading', { name: 'Next calibration' }).count()) > 0;
    // As far as the date by keys, as any run.
    await drive(page, 'keys', reading, {
      until: isAtDate,
      conditionNow: () => '20,3',
    });
    const main = page.getByRole('button', { name: 'Set this date' });
    await expect(main).toBeFocused();
    // Where the server does not answer, the months of record and procedure are offered, and it says so.
    await page.route('**/proposals', (route) => route.abort());
    await page.reload();
    await expect(now).toContainText('only the months of record and procedure were asked');
    await expect(main).toBeFocused();
    await page.unroute('**/proposals');
    await page.reload();
    await expect(main).toBeFocused();
    await expect(now).toContainText('Drift of this instrument.');
    await page.keyboard.press('w');
    await expect(now.getByText('Reliability of similar instruments')).toBeVisible();
    await expect(now.getByText('Fixed months', { exact: true })).toBeVisible();
    const fixed = now.getByRole('listitem').filter({ hasText: 'Fixed months' }).getByRole('button');
    const date = (await fixed.textContent())!;
    await fixed.click();
    await expect(now.locator('.text-4xl')).toHaveText(date);
    // The keyboard stands where the reason is asked for; without one nothing is set.
    await page.keyboard.press('Enter');
    await expect(now.getByRole('alert')).toContainText('give the reason');
    await page.keyboard.type('The owner wants it each year');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Finish and make the certificate' })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('link', { name: 'Certificate', exact: true })).toBeVisible();
    const { events } = (await (await request.get(`/api/runs/${run}/events`)).json()) as {
      events: { act: { type: string; school?: string; next?: string; proposed?: string; reason?: string; advice?: unknown[] } }[];
    };
    const decided = events.find((e) => e.act.type === 'interval-decided')!.act;
    expect(decided).toMatchObject({ school: 'drift', next: date, reason: 'The owner wants it each year' });
    expect(decided.proposed).not.toBe(date);
    expect(decided.advice).toHaveLength(6);
    await page.goto(`${server.url}/instruments/qm-0113`);
    await expect(page.getByText(`Next calibration ${date}`)).toBeVisible();
  },
);

test('a policy is changed with its preview, by keyboard, and can be taken back', { tag: '@long' }, async ({ page, server }) => {
  await page.goto(`${server.url}/laboratory?scope=family&subject=calliper#policy`);
  await expect(page.getByRole('combobox', { name: 'For' })).toContainText('Family: Calliper');
  await page
    .getByRole('textbox', { name: /^Fixed months/ })
    .first()
    .focus();
  await page.keyboard.type('4,5');
  await page.keyboard.press('Enter');
  const preview = page.getByRole('region', { name: 'What would change' });
  await expect(preview).toContainText('Of 2 instruments in use, 2 would come another day');
  await expect(preview.getByRole('row')).toHaveCount(3);
  // What is typed afterwards is not what was looked at.
  await page.getByLabel('Shortest interval, months').fill('12');
  await expect(preview).toHaveCount(0);
  await page.getByLabel('Longest interval, months').fill('6');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The shortest interval is longer than the longest.').first()).toBeVisible();
  await page.getByLabel('Shortest interval, months').fill('3');
  await page.getByLabel('Longest interval, months').fill('36');
  await page.getByRole('radio', { name: 'Steps by the last result' }).check();
  await page.getByRole('button', { name: 'Show what would change' }).click();
  await preview.getByRole('button', { name: 'Set this policy' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Family: Calliper' })).toContainText('Steps by the last result');
  await page.goto(`${server.url}/instruments/qc-34`);
  await expect(page.locator('summary').first()).toContainText('Steps by the last result');
  await page.goto(`${server.url}/laboratory?scope=family&subject=calliper#policy`);
  await page.getByRole('button', { name: 'Take this policy back' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Family: Calliper' }).filter({ hasText: 'Steps' })).toHaveCount(0);
});

test('a quick check that gives an alarm: from its label to what to do, on a tablet', async ({ page, server }) => {
  await page.setViewportSize({ width: 820, height: 1180 });
  await page.goto(`${server.url}/`);
  await expect(page.getByRole('heading', { name: 'Quick checks today' })).toBeVisible();
  await page.getByRole('link', { name: 'Scan a label' }).click();
  await page.waitForURL(/\/quick/);
  await awake(page);
  await page.keyboard.type('no such thing');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('No instrument is called “no such thing”');
  await awake(page);
  // A scanner types the address of the code, and Enter.
  await page.getByLabel('What stands on the label').fill(`${server.url}/quick?code=SH-22`);
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/instruments\/sh-22\/checks/);
  await awake(page);
  await expect(page.getByText('Quiet: the latest check')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Begin the check' })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/runs\//);
  await awake(page);
  // The meter has gone off in the middle of its range.
  const showsNow = (s: string) => (/temperature/.test(s) ? '22,8' : /another lot/.test(s) ? '0,760' : '0,5200');
  await drive(page, 'keys', showsNow);
  await page.waitForURL(/\/checks/);
  await awake(page);
  const alarm = page.getByRole('alert').first();
  await expect(alarm).toContainText('Alarm');
  await expect(alarm).toContainText('Do not measure with it');
  await expect(alarm).toContainText('is in doubt until then');
  await page.goto(`${server.url}/`);
  await expect(page.getByRole('listitem').filter({ hasText: 'SH-22' }).first()).toContainText(
    /outside its tolerance|standard deviations/,
  );
  await page.goto(`${server.url}/instruments/sh-22`);
  await expect(page.locator('summary').first()).toContainText('Calibrate it now');
  await page.getByRole('alert').getByRole('link', { name: 'What to do' }).click();
  await expect(page).toHaveURL(/sh-22\/checks$/);
});

test('a target is dragged, and moved by keys, and says what it would cost', async ({ page, server }) => {
  // The policy tells them apart by use: an address that does not is answered with all there are.
  await page.goto(`${server.url}/families/pressure-transmitter`);
  await page.getByRole('link', { name: 'wind chest' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Pressure transmitter, wind chest');
  const slider = page.getByRole('slider', { name: /Target/ });
  await expect(slider).toHaveAttribute('aria-valuenow', '90');
  const what = page.getByRole('region', { name: 'What if' });
  const figure = async (row: string) => Number(await what.getByRole('row', { name: row }).getByRole('cell').nth(1).textContent());
  const before = { calibrations: await figure('Calibrations in a year'), outside: await figure('Results outside') };
  const box = (await slider.boundingBox())!;
  await page.mouse.move(box.x + box.width / 3, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 3, box.y + box.height / 2 + 40, { steps: 6 });
  await page.mouse.up();
  const lower = Number(await slider.getAttribute('aria-valuenow'));
  expect(lower).toBeLessThan(85);
  await expect(what.getByRole('heading').first()).toContainText(`${lower.toFixed(1)} %`);
  expect(await figure('Calibrations in a year')).toBeLessThan(before.calibrations);
  await slider.focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press('PageUp');
  await expect(slider).toHaveAttribute('aria-valuenow', String(Math.min(99.5, lower + 15)));
  expect(await figure('Calibrations in a year')).toBeGreaterThan(before.calibrations);
  expect(await figure('Cost in a year')).toBeGreaterThan(100);
});

test('a calendar that is subscribed to is read back, and follows what is moved', { tag: '@long' }, async ({ page, server }) => {
  await page.goto(`${server.url}/due?owner=${encodeURIComponent('Sallowby Harness Makers')}`);
  await page.getByRole('button', { name: 'As a calendar' }).click();
  await page.getByRole('button', { name: 'Make the address' }).click();
  const address = await page.getByLabel('Address of the calendar').inputValue();
  // A calendar has nothing but its address, which opens nothing else.
  const { pathname, search, searchParams } = new URL(address);
  const bare = (path: string) => fetch(server.url + path, { redirect: 'manual' });
  expect((await bare(pathname + search.replace(/.$/, ''))).status).toBe(401);
  expect((await bare(`/api/people?key=${searchParams.get('key')}`)).status).toBe(401);
  const read = async () => {
    const response = await bare(pathname + search);
    expect(response.headers.get('content-type')).toContain('text/calendar');
    const calendar = new ICAL.Component(ICAL.parse(await response.text()) as unknown[]);
    return new Map(
      calendar.getAllSubcomponents('vevent').map((e) => {
        const event = new ICAL.Event(e);
        return [event.summary, event.startDate.toString()];
      }),
    );
  };
  const before = await read();
  expect([...before.keys()].every((s) => s.startsWith('Calibrate SH-'))).toBe(true);
  expect(before.size).toBeGreaterThanOrEqual(2);
  await page.getByRole('button', { name: 'Close' }).click();

  await page.getByLabel('Choose SH-MIC-1').check();
  await page.getByLabel('Choose SH-MIC-2').check();
  await page.getByRole('button', { name: 'Move 2 to one day' }).click();
  await page.getByLabel('Reason, for instance').fill('One parcel for both');
  const to = await page.getByLabel('To', { exact: true }).inputValue();
  await page.getByRole('button', { name: 'Move them' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'SH-MIC-1' })).toContainText(to);
  const after = await read();
  expect(after.get('Calibrate SH-MIC-1')).toBe(to);
  expect(after.get('Calibrate SH-MIC-2')).toBe(to);
});

test('a history goes out as a table, and another value is looked at', { tag: '@long' }, async ({ page, server }) => {
  // A download carries no header of a test: it is asked for by a session.
  await page.context().setExtraHTTPHeaders({});
  await page.goto(`${server.url}/instruments/qm-0112`);
  await page.keyboard.press('1');
  await page.waitForURL('**/instruments/qm-0112');
  await expect(page.getByRole('img', { name: /^Error .* mm\. \d{4}-/ })).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /All values as CSV/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('history-QM-0112.csv');
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(lines[0]).toContain('instrument,day,run,result');
  expect(lines).toHaveLength(51);
  await page.getByRole('combobox', { name: /Another of/ }).click();
  await page.keyboard.type('7.7');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Error, 7.7 mm', exact: true })).toBeVisible();
});

test(
  'an instrument that wears by use is taken back with what it was used, and is asked for that',
  { tag: '@long' },
  async ({ page, server }) => {
    await page.goto(`${server.url}/instruments/hv-22`);
    await expect(page.getByText('Tobias Wrenfield, Varnish room')).toBeVisible();
    const counter = page.getByText(/^Counter:/);
    const before = Number(/([\d.]+) cycles/.exec(await counter.innerText())![1]);
    await page.getByRole('button', { name: 'It is back' }).click();
    await expect(page.getByText('Type how much it was used.')).toHaveCount(1);
    // The field has the keyboard; a decimal comma will do.
    await page.keyboard.type('240,5');
    await page.keyboard.press('Enter');
    await expect(counter).toContainText(`${before + 240.5} cycles`);
    await page.getByLabel('It goes to').fill('Voicing room');
    await page.keyboard.press('Enter');
    await expect(page.getByText(/^Out since .*Maud Ellery, Voicing room/)).toBeVisible();
  },
);
