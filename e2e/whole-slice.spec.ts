import type { RecordedEvent } from '../src/core/acts/registry';
import type { Page } from '@playwright/test';
import type { Certificate } from '../src/core/certificate/certificate';
import { enter, expect, indications, prepareByKeyboard, readByKeyboard, test, typeConditions } from './server';

type Block = { id: string; nominal: number; certified: number; expandedUncertainty: number; coverageFactor: number };

/** Probability within ±k of Student's t with ν degrees of freedom, by Simpson's rule on the density. */
function coverageOfT(k: number, dof: number): number {
  const density = (t: number) => (1 + (t * t) / dof) ** (-(dof + 1) / 2);
  const integral = (to: number) => {
    const n = 20_000;
    const h = to / n;
    let sum = density(0) + density(to);
    for (let i = 1; i < n; i++) sum += density(i * h) * (i % 2 ? 4 : 2);
    return (sum * h) / 3;
  };
  return integral(k) / integral(400);
}

/** Errors and uncertainties worked out anew from the typed readings and the certificate of the blocks. */
function expected(readings: string[][], stacks: Block[][], years: number) {
  const groups = readings.map((g) => g.map((t) => Number(t.replace(',', '.'))));
  const mean = (g: number[]) => g.reduce((a, b) => a + b, 0) / g.length;
  const pooled = Math.sqrt(groups.flatMap((g) => g.map((v) => (v - mean(g)) ** 2)).reduce((a, b) => a + b, 0) / 20);
  return groups.map((g, i) => {
    const stack = stacks[i]!;
    const L = stack.reduce((s, b) => s + b.certified, 0);
    const error = mean(g) - L * (1 + 1.15e-5 * (20.4 - 20) - 1.15e-5 * (20.2 - 20));
    const third = Math.sqrt(3);
    const parts = [
      Math.max(pooled / third, 0.001 / Math.sqrt(12)),
      stack.reduce((s, b) => s + b.expandedUncertainty / b.coverageFactor, 0),
      ((0.00005 * stack.length + 0.0000005 * stack.reduce((s, b) => s + b.nominal, 0)) * years) / third,
      (0.00005 * (stack.length - 1)) / third,
      (L * 0.4 * 1e-6) / third,
      (L * 0.2 * 2e-6) / third,
      (L * 1.15e-5 * 0.3) / third,
      // One band on the worse face, two over both.
      (0.00015 * 3) / third,
    ];
    const u = Math.sqrt(parts.reduce((s, p) => s + p * p, 0));
    return {
      error: error * 1000,
      u: u * 1000,
      dof: pooled / third > 0.001 / Math.sqrt(12) ? u ** 4 / (parts[0]! ** 4 / 20) : null,
    };
  });
}

/** Blocks of every point of a set, as the log keeps them. */
const placesOf = (events: RecordedEvent[]) => (set: string) =>
  events.flatMap(({ act }) =>
    'plan' in act && act.plan.items.some((i) => i.set === set && i.type === 'reading')
      ? act.plan.places[0]!.points.map((p) => p.items['blocks']!)
      : [],
  );

test('one micrometer from receiving to certificate, by keyboard alone', async ({ page, request, server }) => {
  await page.goto(server.url);
  const start = page.getByRole('row', { name: /QM-0112/ }).getByRole('link', { name: 'Start' });
  await start.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Calibrate QM-0112' })).toBeVisible();
  await expect(page.getByText('QM-GB-32 cannot be used: its certificate')).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the bench' }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/runs\//);
  const run = page.url().split('/').at(-1)!;

  await prepareByKeyboard(page);
  await readByKeyboard(page, 0.0034);
  await expect(page.getByRole('heading', { name: /a constant offset/ })).toBeVisible();
  await expect(page.getByRole('group', { name: 'Decide' })).toBeFocused();
  // A bounced Enter decides nothing; the reading before can be looked at; a note has a key.
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: '1 Set the zero' })).toBeVisible();
  // The readings are drawn, with what is most probably wrong, and its probability.
  await expect(page.getByRole('img', { name: /^Errors as read\. All errors lie near/ })).toBeVisible();
  await expect(page.getByText('Off by the same everywhere')).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('button', { name: /Strike it out/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Decide' })).toBeFocused();
  await page.keyboard.press('j');
  await page.keyboard.type('Queer: does the ratchet slip?');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Decide' })).toBeFocused();
  await page.keyboard.press('g');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: /5\.1 mm, Micrometer 2/ })).toBeFocused();
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await expect(page.locator('input[name="shift.after"]')).toBeFocused();
  // Nothing is changed yet: it can be given up, and decided on once more.
  await page.keyboard.press('z');
  await expect(page.getByRole('heading', { name: /why is it not adjusted/ })).toBeVisible();
  await page.keyboard.press('2');
  await expect(page.getByRole('group', { name: 'Decide' })).toBeFocused();
  await page.keyboard.press('1');
  await expect(page.locator('input[name="shift.after"]')).toBeFocused();
  await enter(page, '-0,003');
  await expect(page.getByRole('button', { name: 'Begin: as left' })).toBeFocused();
  await page.keyboard.press('Enter');
  await typeConditions(page, ['20.3', '20.4', '20.2']);
  await readByKeyboard(page, 0.0002);
  await expect(page.getByRole('group', { name: 'Decide' })).toBeFocused();
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: 'Set this date' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Finish and make the certificate' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Certificate', exact: true })).toBeVisible();

  const certificate = (await (await request.get(`/api/runs/${run}/certificate.json`)).json()) as Certificate;
  const { standard } = (await (await request.get('/api/standards/gb-47')).json()) as {
    standard: { document: { items: Block[] } };
  };
  const { items } = standard.document;
  const { events } = (await (await request.get(`/api/runs/${run}/events`)).json()) as { events: RecordedEvent[] };
  const places = placesOf(events);
  expect(certificate.number).toMatch(/^C\d\d-\d{4}$/);
  expect(certificate.persons).toMatchObject({ measuredBy: ['Maud Ellery'], finishedBy: 'Maud Ellery', reviewedBy: null });
  const today = new Date().toISOString().slice(0, 10);
  const years = (Date.parse(today) - Date.parse(certificate.standards[0]!.date)) / (365.25 * 86_400_000);
  const rows = certificate.tables[0]!.rows;
  expect(rows).toHaveLength(10);
  for (const [side, set, offset] of [
    ['found', 'as-found', 0.0034],
    ['left', 'as-left', 0.0002],
  ] as const) {
    const stacks = places(set).map((ids) => ids.map((id) => items.find((i) => i.id === id)!));
    const worked = expected(indications(offset), stacks, years);
    rows.forEach((row, i) => {
      const p = row[side]!;
      const { error, u, dof } = worked[i]!;
      const computed = p.computed!;
      expect(computed.value, row.point).toBeCloseTo(error, 5);
      expect(computed.expandedUncertainty / computed.coverageFactor, row.point).toBeCloseTo(u, 4);
      if (dof === null) expect(computed.effectiveDof, row.point).toBeNull();
      else expect(computed.effectiveDof! / dof, row.point).toBeCloseTo(1, 2);
      // The normal distribution is t at very many degrees of freedom.
      const counted = Math.floor(computed.effectiveDof ?? 1e5);
      expect(coverageOfT(computed.coverageFactor, counted), row.point).toBeCloseTo(0.9545, 4);
      expect(Number(p.expandedUncertainty)).toBeCloseTo(
        computed.expandedUncertainty,
        p.expandedUncertainty.split('.')[1]!.length - 1,
      );
      expect(p.verdict).toBe(Math.abs(error) <= 4 - computed.expandedUncertainty ? 'pass' : 'conditional-pass');
    });
  }
  const pdf = await request.get(`/api/runs/${run}/certificate.pdf`);
  expect(pdf.headers()['content-type']).toBe('application/pdf');
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');

  await page.goto('/instruments/qm-0112');
  await expect(page.getByText(certificate.next.date).first()).toBeVisible();
});

/** Opens the first record that waits for its signature. */
async function toBeSigned(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/`);
  await page
    .getByRole('link', { name: /C\d\d-\d{4}/ })
    .first()
    .click();
  await expect(page.getByRole('heading', { name: 'To be signed by a second person' })).toBeVisible();
}

test('a second person signs; the one who finished cannot', async ({ page, server }) => {
  await toBeSigned(page, server.url);
  const finisher = (await page.getByText(/finished this run; someone else/).count()) > 0;
  if (finisher) await expect(page.getByRole('button', { name: 'Sign', exact: true })).toBeDisabled();
  await page.context().setExtraHTTPHeaders(server.as('Ines Calderstone'));
  await page.goto(page.url());
  await page.getByRole('button', { name: 'Sign as Ines Calderstone' }).click();
  await expect(page.getByText(/Ines Calderstone, \d{4}-/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'To be signed by a second person' })).toHaveCount(0);
  // Another one goes back to the bench: not without saying why, and its certificate is taken back.
  await toBeSigned(page, server.url);
  await page.getByRole('button', { name: 'Send it back' }).click();
  await expect(page.getByRole('alert')).toContainText('what is to be looked at again');
  await page.getByLabel(/^Remark/).fill('Read the middle once more');
  await page.getByRole('button', { name: 'Send it back' }).click();
  await expect(page.getByRole('region', { name: 'Now' })).toBeVisible();
  await expect(page.getByRole('list', { name: 'Stages of the run' })).toBeVisible();
});
