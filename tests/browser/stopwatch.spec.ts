import { expect, newVisit, open, settled, test } from './fixtures';

test('what times mean is written a line each, and the stopwatch names the likeliest, by keyboard', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 400/);
  const { visit } = await newVisit(alone, 'ly-05');
  await open(page, `${alone.url}/visits/${visit}/stopwatch`);
  await expect(page.getByText('is not written yet')).toBeVisible();
  await page.getByRole('link', { name: 'What times mean' }).click();
  const text = page.getByRole('textbox', { name: 'What times mean' });
  await text.fill('fan 0, click 1: sound\nfan 0, click later: stuck');
  await text.blur();
  const section = page.getByRole('region', { name: 'What times mean' });
  await expect(section.getByRole('alert')).toContainText('Line 2');
  await text.fill('fan 0, click 1 ±1: sound\nfan 0, click 20 ±4: stuck');
  await text.blur();
  await expect(section.getByRole('status')).toHaveText('kept');

  await open(page, `${alone.url}/visits/${visit}/stopwatch`);
  await expect(page.getByRole('button', { name: /^fan/ })).toBeDisabled();
  await page.keyboard.press('Space');
  await page.keyboard.press('1');
  await page.keyboard.press('2');
  await page.keyboard.press('2');
  await page.keyboard.press('Backspace');
  const tapped = page.getByRole('list', { name: 'Tapped' }).getByRole('listitem');
  await expect(tapped).toHaveCount(2);
  // It goes on over a reload, as the machine does.
  await page.reload();
  await settled(page);
  await expect(tapped).toHaveCount(2);
  await page.keyboard.press('Space');
  const means = page.getByRole('region', { name: 'What it means' });
  const first = means.getByRole('listitem').first();
  await expect(first).toContainText('sound');
  await first.getByRole('button').click();
  await expect(first).toContainText('usual 1 s ± 1 s');
  await page.getByRole('button', { name: 'Keep it with the visit' }).click();
  await expect(page.getByRole('button', { name: 'Kept with the visit' })).toBeVisible();
  await expect(page.getByText(/^Timed: fan .*sound$/)).toBeVisible();
});

test.describe('under a thumb', () => {
  test.use({ viewport: { width: 390, height: 844 } });
  test('the stopwatch is no wider than the screen, and its keys are large', async ({ edda: page, alone }) => {
    const { visit } = await newVisit(alone, 'ly-05');
    await open(page, `${alone.url}/visits/${visit}/stopwatch`);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await page.getByRole('button', { name: /^Start/ }).click();
    const box = await page.getByRole('button', { name: /^fan/ }).boundingBox();
    expect(box?.height).toBeGreaterThanOrEqual(44);
  });
});
