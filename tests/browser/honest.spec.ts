import { expect, measure, newRound, newVisit, open, test } from './fixtures';

test('a reading off the book is accepted with its reason, by keyboard, and is the normal from then on', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 400/);
  const { round } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${round}`);
  const key = await page.locator('tr[aria-current]').getAttribute('data-check');
  await measure(page, '26.9');
  await expect(page.getByTestId('last')).toContainText('high');
  await page.keyboard.press('F7');
  const form = page.getByRole('form', { name: 'Right for LY-04' });
  await expect(form.getByLabel('Should read here')).toHaveValue(/^26\.9 V/);
  await expect(form.getByLabel('Why it is right')).toBeFocused();
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  await expect(form.getByRole('alert')).toContainText('say why it is so on this machine only');
  await form.getByLabel('Why it is right').fill('set high for the far end');
  // Nothing typed goes with the page.
  await page.reload();
  await expect(form.getByLabel('Why it is right')).toHaveValue('set high for the far end');
  await form.getByLabel('Why it is right').press('Enter');
  await expect(form).toHaveCount(0);
  await expect(page.getByTestId('last')).toContainText('right on this machine: set high for the far end');
  await page.keyboard.press('?');
  await expect(page.getByRole('region', { name: 'Why' })).toContainText('this machine');

  // The next round asks for it, and says who says so; before it stands what was read.
  const next = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${next.round}`);
  const row = page.locator(`tr[data-check="${key}"]`);
  await expect(row).toContainText('26.9 V');
  await expect(page.getByTestId('before')).toContainText(/26\.9 V, \d/);
  await measure(page, '26.5');
  await row.getByRole('button').first().click();
  await expect(page.getByTestId('before')).toContainText('now 0.4 V lower, 1 %');

  // And it stands among what is so on this machine only, where it can be written otherwise.
  await open(page, `${alone.url}/machines/LY-04/wiring`);
  const only = page.getByRole('region', { name: 'So on LY-04 only' });
  const line = only.getByRole('row', { name: /set high for the far end/ });
  await expect(line).toContainText('26.9 V');
  await line.getByRole('gridcell').nth(5).click();
  await page.keyboard.type('set high on purpose, sign in the door');
  await page.keyboard.press('Enter');
  await expect(only.getByRole('row', { name: /sign in the door/ })).toContainText('26.9 V');
  await expect(only.getByRole('status')).toHaveCount(0);
  const kept = await alone.get<{ rows: { reason: string }[] }>('/api/machines/ly-04/overrides');
  expect(kept.rows.map((r) => r.reason)).toContain('set high on purpose, sign in the door');
});

test('a wire of another colour on one machine is entered with its reason, and the probe says so', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/machines/LY-04/wiring`);
  const only = page.getByRole('region', { name: 'So on LY-04 only' });
  await only.getByRole('row').last().getByRole('gridcell').first().click();
  await page.keyboard.type('Z1-J1-1');
  await page.keyboard.press('Tab');
  await page.keyboard.type('vt');
  await page.keyboard.press('Enter');
  // Without its reason it waits, marked, as it was typed.
  await expect(only.getByText(/reason is missing/)).toBeVisible();
  const line = only.getByRole('row', { name: /Z1-J1-1/ });
  await line.getByRole('gridcell').nth(5).click();
  await page.keyboard.type('joined with what was in the van');
  await page.keyboard.press('Enter');
  await expect(only.getByRole('row', { name: /Z1-J1·1/ })).toContainText('joined with what was in the van');
  const { round } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${round}`);
  await page
    .getByRole('button', { name: /^Z1-J1·1, / })
    .first()
    .click();
  await expect(page.getByTestId('probe')).toContainText('violet');
});

test('one phase bad: the rest is a key away, and the set is judged when all are read', async ({
  edda: page,
  alone,
}) => {
  const { round } = await newVisit(alone, 'ly-05');
  await open(page, `${alone.url}/rounds/${round}`);
  await page.getByRole('button', { name: /^PW-X1·L1, / }).click();
  await measure(page, '340');
  const set = page.getByTestId('set');
  await expect(set).toContainText('PW-X1·L1 of phases is bad');
  await expect(set).toContainText('Measure the rest, 2 of 3');
  await page.keyboard.press('F3');
  await expect(page.getByTestId('probe')).toContainText('PW-X1·L2');
  await measure(page, '401');
  await page
    .getByRole('button', { name: /^PW-J1·F1, / })
    .first()
    .click();
  await page.keyboard.press('F3');
  await expect(page.getByTestId('probe')).toContainText('PW-X1·L3');
  await measure(page, '399');
  await expect(set).toContainText('differs');
  await expect(set).toContainText('PW-X1·L1 stands apart from the others');
  await page.keyboard.press('?');
  await expect(page.getByRole('region', { name: 'Why' })).toContainText('NEMA MG 1');
});

test('the leads are asked for once before a check of few ohms, and can be taken back', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 400/);
  const round = await newRound(alone, 'ly-03');
  await open(page, `${alone.url}/rounds/${round}`);
  const go = (pin: string) =>
    page
      .getByRole('button', { name: new RegExp(`^${pin}, `) })
      .first()
      .click();
  await go('LS3·1');
  const leads = page.getByTestId('leads');
  await expect(leads).toBeVisible();
  await expect(leads.getByLabel('Leads, Ω')).toBeFocused();
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  await expect(leads.getByRole('alert')).toContainText('too much for leads');
  await leads.getByLabel('Leads, Ω').fill('0.3');
  await page.keyboard.press('Enter');
  await expect(leads).toHaveCount(0);
  await expect(page.getByText('taken off under 10 Ω')).toBeVisible();
  await measure(page, '1.2');
  await expect(page.getByTestId('last')).toContainText('0.9 Ω, which is 1.2 Ω less 0.3 Ω of the leads');
  // Once a round.
  await go('DR-X2·U');
  await expect(page.getByTestId('probe')).toContainText('DR-X2·U');
  await expect(leads).toHaveCount(0);
  await page.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(page.locator('tr[data-check="lsr"]')).toContainText('high');
});

test.describe('under a thumb', () => {
  test.use({ viewport: { width: 390, height: 844 } });
  test('a round with three kinds is read with the pad alone', async ({ edda: page, alone }) => {
    const none = await alone.get<{ version: number }>('/api/machines/ly-06/checks');
    const row = (id: string, red: string, mode: string, limit: string) => ({
      id,
      target: 'part',
      red,
      black: '',
      mode,
      state: 'running',
      plugged: '',
      limit,
      remark: '',
    });
    const kept = await fetch(`${alone.url}/api/machines/ly-06/checks`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        version: none.version,
        rows: [
          row('k1', 'fuel pump', 'pressure', '0.3..0.5 bar'),
          row('k2', 'shaft', 'speed', '1500 rpm ±3 %'),
          row('k3', 'frame', 'leakage', '<= 3.5 mA'),
        ],
      }),
    });
    expect(((await kept.json()) as { problems: unknown[] }).problems).toEqual([]);
    const { round } = await newVisit(alone, 'ly-06');
    await open(page, `${alone.url}/rounds/${round}`);
    const pad = page.getByRole('group', { name: 'Number pad' });
    const read = async (name: string, keys: string, unit: string) => {
      await page.getByRole('button', { name: new RegExp(`^${name}, `) }).click();
      const done = pad.getByRole('button', { name: 'Done' });
      await expect(done.or(pad.getByRole('button', { name: 'Store' }))).toBeVisible();
      if (await done.isVisible()) {
        await done.click();
      }
      await expect(page.getByLabel(`Reading at ${name}`).locator('..')).toContainText(unit);
      for (const key of keys) {
        await pad.getByRole('button', { name: key === '.' ? 'Point' : key, exact: true }).click();
      }
      await pad.getByRole('button', { name: 'Store' }).click();
      await expect(page.getByTestId('last')).toContainText(name);
    };
    await read('fuel pump', '0.42', 'bar');
    await expect(page.getByTestId('last')).toContainText('within');
    await read('shaft', '1380', 'rpm');
    await expect(page.getByTestId('last')).toContainText('low');
    await read('frame', '0.001', 'A');
    await expect(page.getByTestId('last')).toContainText('within');
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});

test('after a drop along one leg the other is asked for, and read with a key', async ({ edda: page, alone }) => {
  const { round } = await newVisit(alone, 'ly-01');
  await open(page, `${alone.url}/rounds/${round}`);
  await page.keyboard.press('F4');
  const form = page.getByRole('form', { name: 'Extra reading' });
  await form.getByLabel('Red probe').fill('CB1·2');
  await page.keyboard.press('Enter');
  await form.getByLabel('Black probe').fill('CT-J1·+');
  await page.keyboard.press('Enter');
  await form.getByRole('button', { name: 'State' }).click();
  await page.getByRole('option', { name: 'extending' }).click();
  await form.getByLabel('Reads').fill('0.14');
  await page.keyboard.press('Enter');
  await expect(form).toHaveCount(0);
  // By the circuit of this machine: what its wire and contact lose at the current of both motors.
  await expect(page.getByTestId('last')).toContainText('0.14 V along the feed, as expected');
  const leg = page.getByTestId('other-leg');
  await expect(leg).toContainText('now the return');
  await page.keyboard.press('F9');
  await expect(form.getByLabel('Reads')).toBeFocused();
  await page.keyboard.type('0.38');
  await page.keyboard.press('Enter');
  await expect(form).toHaveCount(0);
  await expect(page.getByTestId('last')).toContainText('lost along the return');
  await expect(leg).toHaveCount(0);
});
