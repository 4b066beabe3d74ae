import { expect, measure, newVisit, open, test } from './fixtures';

test('checks of more than one number are entered, and judged by what they mean', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/machines/LY-11/wiring`);
  const grid = page.getByRole('grid', { name: 'Checks from board to board' });
  const rows = grid.getByRole('row');
  const enter = async (red: string, black: string, mode: string, limit: string) => {
    const before = await rows.count();
    await rows.last().getByRole('gridcell').first().click();
    await page.keyboard.type(red);
    await page.keyboard.press('Tab');
    await expect(rows).toHaveCount(before + 1);
    await page.keyboard.type(black);
    await page.keyboard.press('Tab');
    const row = rows.nth(before - 1);
    await row.getByRole('gridcell').nth(2).click();
    await page.keyboard.type(mode);
    await page.keyboard.press('Enter');
    await row.getByRole('gridcell').nth(3).click();
    await page.keyboard.type('running');
    await page.keyboard.press('Enter');
    await row.getByRole('gridcell').nth(5).click();
    await page.keyboard.type(limit);
    await page.keyboard.press('Enter');
    await expect(row).toContainText(limit);
  };
  await enter('DIS-J1·3', 'DRI-J1·2', 'fuse', 'good fuse, 24 V');
  await enter('DIS-J1·2', 'DRI-J1·2', 'word', 'bits 1 on');
  await enter('DIS-J1·1', 'DRI-J1·2', 'DC volts', 'follows >= 5 V');
  await expect(page.getByRole('region', { name: 'Checks from board to board' }).getByRole('status')).toHaveCount(0);

  const { id } = await alone.get<{ id: string }>('/api/machines/LY-11');
  const { round } = await newVisit(alone, id);
  await open(page, `${alone.url}/rounds/${round}`);
  const line = (limit: string) => page.locator('tr[data-check]', { hasText: limit });
  const last = page.getByTestId('last');
  // The live trap: nothing across it on a circuit that may be fed back.
  await line('good fuse, 24 V').getByRole('button').first().click();
  await measure(page, '24.1 24 0 lowz');
  await expect(last).toContainText('may feed the far end back');
  await line('good fuse, 24 V').getByRole('button').first().click();
  await measure(page, '24.1 24 0 lowz alone');
  await expect(last).toContainText('nothing feeding back: good');
  await line('bits .... ..1.').getByRole('button').first().click();
  await measure(page, '04');
  await expect(last).toContainText('04 is 0000 0100: bit 1 should be on');
  await line('follows >= 5 V').getByRole('button').first().click();
  await measure(page, '2.1..9.8');
  await expect(last).toContainText('rises by 7.7 V');
});

test('what is behind the cover is read in one go, by the rules of the model', async ({ edda: page, alone, allow }) => {
  allow(/status of 400/);
  const { id } = await alone.get<{ id: string }>('/api/machines/LY-01');
  await open(page, `${alone.url}/machines/LY-01`);
  const { modelId } = await alone.get<{ modelId: string }>('/api/machines/LY-01');
  await open(page, `${alone.url}/models/${modelId}?from=LY-01`);
  const rules = page.getByRole('textbox', { name: 'Order of a round' });
  await rules.fill('panel out: KP\npanel out lasts 3 min');
  await rules.blur();
  await expect(page.getByText(/Line 2: .*no rule of a round/)).toBeVisible();
  // What was typed stands, a reload later too.
  await page.reload();
  await expect(rules).toHaveValue(/lasts 3 min/);
  await rules.fill('panel out: KP\npanel out takes 3 min\nKP before CB1');
  await rules.blur();
  await expect(page.getByRole('region', { name: 'Order of a round' }).getByText('kept')).toBeVisible();
  const { round } = await newVisit(alone, id);
  await open(page, `${alone.url}/rounds/${round}`);
  const pins = await page.locator('tr[data-check] th, tr[data-check] td:first-child').allInnerTexts();
  const names = pins.map((p) => p.trim());
  expect(names.findLastIndex((n) => n.startsWith('KP'))).toBeLessThan(names.findIndex((n) => n.startsWith('CB1')));
  const covered = names.map((n) => n.startsWith('KP'));
  expect(covered.filter((c, i) => c !== covered[i - 1] && c).length).toBe(1);
  await page.getByRole('button', { name: /^About \d+ min for \d+ more/ }).click();
  await expect(page.getByText(/panel out at 3 min/)).toBeVisible();
});
