import { expect, newVisit, open, test } from './fixtures';

test('a round goes out on paper and comes in typed, one Enter a reading, and a refused one waits in its field', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 4(00|22)/);
  const { round } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${round}`);
  await page.getByText('Paper and spreadsheet').click();
  await page.getByRole('link', { name: /On paper/ }).click();
  await expect(page.getByRole('heading', { name: 'The round on paper' })).toBeVisible();
  const out = await page.getByRole('link', { name: 'PDF, A4' }).first().getAttribute('href');
  const pdf = await page.request.get(`${alone.url}${out}`);
  expect(pdf.headers()['content-type']).toBe('application/pdf');
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');

  const first = page.getByLabel(/^33, /);
  await first.click();
  await page.keyboard.type('24.4');
  await page.keyboard.press('Enter');
  await page.keyboard.type('24.x');
  await page.keyboard.press('Enter');
  await page.keyboard.type('24.3');
  await expect(page.getByRole('alert')).toContainText('not understood');
  // What was typed meanwhile is still there, and the refused text is in its field.
  await expect(page.getByLabel(/^34, /)).toHaveValue('24.x');
  await expect(page.getByLabel(/^35, /)).toHaveValue('24.3');
  await page.reload();
  await expect(page.getByLabel(/^34, /)).toHaveValue('24.x');
  await page.getByLabel(/^34, /).fill('24.1');
  await page.getByLabel(/^34, /).press('Enter');
  await expect(page.getByRole('listitem').filter({ has: page.getByLabel(/^34, /) })).toContainText('24.1 V');
  await expect(page.getByRole('listitem').filter({ has: page.getByLabel(/^33, /) })).toContainText('within');
  const view = await alone.get<{ taken: number }>(`/api/rounds/${round}`);
  expect(view.taken).toBeGreaterThanOrEqual(2);
});

test.describe('under a thumb', () => {
  test.use({ viewport: { width: 390, height: 844 } });
  test('the paper page is no wider than the screen', async ({ edda: page, alone }) => {
    const { round } = await newVisit(alone, 'ly-04');
    await open(page, `${alone.url}/rounds/${round}/paper`);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});
