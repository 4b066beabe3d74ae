import { expectNothing } from './axe';
import { expect, open, test } from './fixtures';

test('another device sees one page until it is let in by the code, and again from when it is locked out', async ({
  edda: page,
  alone,
  browser,
  allow,
}) => {
  allow(/status of (401|403)/);
  await open(page, `${alone.url}/shop`);
  await page.getByRole('button', { name: 'Let a device in' }).click();
  const shown = page.getByRole('region', { name: 'Devices' }).getByRole('status');
  const code = /[2-9A-Z]{4}-[2-9A-Z]{4}/.exec(await shown.innerText())?.[0] ?? '';
  await expect(shown.getByRole('img', { name: /A code to scan/ })).toBeVisible();

  // As it comes through a proxy from elsewhere.
  const context = await browser.newContext({
    extraHTTPHeaders: { 'X-Forwarded-For': '192.0.2.44' },
    viewport: { width: 390, height: 844 },
  });
  const phone = await context.newPage();
  await phone.goto(`${alone.url}/machines/LY-04`);
  await expect(phone.getByRole('heading', { name: 'Let this device in' })).toBeVisible();
  await expectNothing(phone, 'let in');
  await phone.getByLabel('Code').fill('AAAA-BBBB');
  await phone.getByLabel('What this device is called').fill('the phone in the van');
  await phone.getByRole('button', { name: 'Let it in' }).click();
  await expect(phone.getByRole('alert')).toContainText('That is not the code');
  // Scanned, the code stands there already.
  await phone.goto(`${alone.url}/let-in?code=${code}`);
  await expect(phone.getByLabel('Code')).toHaveValue(code);
  await phone.getByLabel('What this device is called').fill('the phone in the van');
  await phone.getByRole('button', { name: 'Let it in' }).click();
  await expect(phone.getByText('Who is holding this device?')).toBeVisible();
  await phone.getByRole('button', { name: 'Edda' }).click();
  await phone.goto(`${alone.url}/machines/LY-04`);
  await expect(phone.getByRole('link', { name: 'LY-04', exact: true })).toBeVisible();

  await page.reload();
  await page.getByRole('button', { name: 'Lock out the phone in the van' }).click();
  await expect(page.getByText('None was let in yet.')).toBeVisible();
  await phone.goto(`${alone.url}/machines/LY-04`);
  await expect(phone.getByRole('heading', { name: 'Let this device in' })).toBeVisible();
  await context.close();
});

test('a backup is made from the page of the shop, and its age stands there', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/shop`);
  const backups = page.getByRole('region', { name: 'Backups' });
  await expect(backups).toContainText('None was made yet');
  await backups.getByRole('button', { name: 'Make one now' }).click();
  await expect(backups).toContainText(/The newest is of \d\d \w+ \d{4}, \d\d:\d\d, [\d.]+ [kM]B/);
  await expect(backups).toContainText('1 kept in');
});

test('a new machine with the number of a known board is asked whose it is, and shares nothing unasked', async ({
  edda: page,
  alone,
}) => {
  const { boards } = await alone.get<{ boards: { partNumber: string; boardTypeId: string }[] }>('/api/machines/LY-04');
  const known = boards[0] ?? { partNumber: '', boardTypeId: '' };
  await page.goto(`${alone.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-20');
  await page.getByLabel(/^Boards/).fill(`${known.partNumber}, NEW-1`);
  const asked = page.getByRole('group', { name: `Which ${known.partNumber} is it?` });
  await expect(asked).toContainText('LY-04');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('alert')).toContainText(`${known.partNumber} is known: say below`);
  await asked.getByRole('checkbox', { name: 'another one with the same number' }).click();
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page).toHaveURL(/LY-20\/photographs$/);
  const own = await alone.get<{ boards: { partNumber: string; boardTypeId: string }[] }>('/api/machines/LY-20');
  expect(own.boards.map((b) => b.partNumber)).toEqual([known.partNumber, 'NEW-1']);
  expect(own.boards[0]?.boardTypeId).not.toBe(known.boardTypeId);

  await page.goto(`${alone.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-21');
  await page.getByLabel(/^Boards/).fill(known.partNumber);
  await asked
    .getByRole('checkbox', { name: /in LY-04/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page).toHaveURL(/LY-21\/photographs$/);
  const shared = await alone.get<{ boards: { boardTypeId: string }[] }>('/api/machines/LY-21');
  expect(shared.boards.map((b) => b.boardTypeId)).toEqual([known.boardTypeId]);
});
