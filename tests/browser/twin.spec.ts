import { expect, measure, newVisit, open, settled, test } from './fixtures';

test('a second machine of a model stands beside the first as a column, and what differs is marked', async ({
  edda: page,
  alone,
}) => {
  await page.goto(`${alone.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-12');
  // By keyboard: the usual site is gone to by arrow, Enter takes it.
  await page.getByLabel('Site').fill('ferry');
  await expect(page.getByRole('option', { name: 'Ferry terminal, Skerry Haven' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Site')).toHaveValue('Ferry terminal, Skerry Haven');
  await page.getByLabel('Another of').click();
  await page.getByRole('option', { name: /Trundle/ }).click();
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page).toHaveURL(/LY-12\/photographs$/);
  const twin = await alone.get<{ id: string; boards: unknown[]; checks: number }>('/api/machines/LY-12');
  expect(twin.boards).toHaveLength(4);

  // The same two checks on both.
  const there = await newVisit(alone, twin.id);
  await open(page, `${alone.url}/rounds/${there.round}`);
  const first = await page.locator('tr[aria-current]').getAttribute('data-check');
  await measure(page, '24.5');
  const second = await page.locator('tr[aria-current]').getAttribute('data-check');
  await measure(page, '24.4');
  const here = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${here.round}`);
  expect(await page.locator('tr[aria-current]').getAttribute('data-check')).toBe(first);
  await measure(page, '24.3');
  await page.getByLabel('Twin beside it').click();
  await page.getByRole('option', { name: /^LY-12, .*2 read$/ }).click();
  await expect(page.getByRole('columnheader', { name: 'LY-12 read' })).toBeVisible();
  const row = (key: string | null) => page.locator(`tr[data-check="${key}"]`);
  await expect(row(first)).toContainText('24.5 V alike');
  // Not read here yet: nothing is said of it.
  await expect(row(second).getByRole('cell').last()).toHaveText('24.4 V');
  await row(second).getByRole('button').first().click();
  await measure(page, '18.2');
  await expect(row(second)).toContainText('24.4 V differs');
});

test('my black clip is here: said once, it stands for the whole return, over a reload, and can be taken back', async ({
  edda: page,
  alone,
}) => {
  const { round } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${round}`);
  const probe = page.getByTestId('probe');
  await expect(probe).not.toContainText('PS·-');
  await page.keyboard.press('F6');
  await expect(page.getByLabel('My black clip is on')).toBeFocused();
  await page.keyboard.type('ps-');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await expect(probe).toContainText('PS·-');
  // The hand is back at the number, and what is read is read against the clip.
  await page.keyboard.type('24.5');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('last')).toContainText('24.5 V');
  const kept = await alone.get<{ last: { blackPrinted: string }; rows: { black: { printed: string } | null }[] }>(
    `/api/rounds/${round}`,
  );
  expect(kept.last.blackPrinted).toBe('PS·-');
  await page.reload();
  await settled(page);
  await expect(probe).toContainText('PS·-');
  await page.getByRole('button', { name: 'As the sheet has it' }).click();
  await expect(probe).not.toContainText('PS·-');
});

test('a board that is called like another is asked about before it is shared', async ({ edda: page, alone, allow }) => {
  allow(/status of 400/);
  const known = await alone.get<{ boards: { boardTypeId: string }[] }>('/api/machines/LY-03');
  await page.goto(`${alone.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-13');
  await page.getByRole('button', { name: 'Begin' }).click();
  await page.goto(`${alone.url}/machines/LY-13`);
  const fit = async (which: RegExp) => {
    await page.getByRole('button', { name: 'Add or exchange a board' }).click();
    const form = page.getByRole('form', { name: 'Add or exchange a board' });
    await form.getByLabel('Part number').fill('TW-325');
    await expect(form.getByText('TW-325 is known.')).toBeVisible();
    await expect(form.getByText(/TW-325 rev C.*in LY-03/)).toBeVisible();
    // Without an answer nothing is shared.
    await form.getByRole('button', { name: 'Fit it' }).click();
    await expect(form.getByRole('alert')).toContainText('say whether it is that one, or a new one');
    await form.getByLabel(which).click();
    await form.getByRole('button', { name: 'Fit it' }).click();
    await expect(form).toBeHidden();
  };
  await fit(/another one with the same number/);
  const own = await alone.get<{ boards: { boardTypeId: string; pins: number }[] }>('/api/machines/LY-13');
  expect(known.boards.map((b) => b.boardTypeId)).not.toContain(own.boards[0]?.boardTypeId);
  expect(own.boards[0]?.pins).toBe(0);
});
