import type { Page } from '@playwright/test';
import { choose, expect, newVisit, test } from './fixtures';

const headline = (page: Page) => page.locator('[aria-live=polite].font-mono');

/** Types into the fields one after the other, as they stand, with nothing but the keyboard. */
async function fill(page: Page, first: string, texts: string[]): Promise<void> {
  await page.getByLabel(first).focus();
  for (const text of texts) {
    await page.keyboard.type(text);
    await page.keyboard.press('Tab');
  }
}

test('a drop on the return leg is found by keyboard and kept with the visit', async ({ edda: page, alone, allow }) => {
  allow(/status of 400/);
  const { visit } = await newVisit(alone, 'ly-04');
  await page.goto(`${alone.url}/visits/${visit}/look`);
  await page.getByRole('link', { name: 'Bench sums' }).press('Enter');
  await fill(page, 'Fed in, at the supply', ['24.3', '0', '0', '0', '1.5', '8']);
  await expect(headline(page)).toHaveText('supply: not judged, return: not judged');
  await expect(page.getByText('Load it and read again').first()).toBeVisible();

  await page.getByLabel('Current while it was read').fill('4');
  await page.getByLabel('Lost along the supply leg').fill('0.45');
  await page.getByLabel('Lost along the return leg').fill('1.9');
  await expect(headline(page)).toHaveText('return: high contact');
  await page.getByRole('button', { name: 'Why?' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Why' })).toContainText('IEC 60228');

  // Nothing typed goes with the page.
  await page.reload();
  await expect(page.getByLabel('Gauge')).toHaveValue('1.5');
  await page.getByRole('button', { name: 'Keep it with the visit' }).press('Enter');
  const kept = page.getByRole('complementary', { name: 'Kept with this visit' });
  await expect(kept).toContainText('A wire, both legs under load: return: high contact');
  await expect(kept).toContainText('lost along the return leg 1.9 V');
  await expect(page.getByRole('button', { name: 'Kept with the visit' })).toBeDisabled();
  await kept.getByRole('button', { name: /^Strike out/ }).press('Enter');
  await expect(kept).toContainText('Nothing yet');

  // What is wrong is said at its field, and holds up no other.
  await page.getByLabel('Gauge').fill('thick');
  await expect(page.getByRole('alert')).toContainText('"thick" is not understood; write 1.5 mm² or AWG 14.');
  await page.getByLabel('Gauge').fill('AWG 16');
  await expect(headline(page)).toHaveText('return: high contact');
});

test('no volts across a live fuse clear nothing', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/sums/fuse`);
  await expect(page.getByText('as soon as what is marked “needed” is filled in')).toBeVisible();
  await fill(page, 'What is fed', ['24', '', '', '0']);
  await expect(headline(page)).toHaveText('not judged');
  await page.getByLabel('Fed end to common').fill('24.1');
  await page.getByLabel('Far end to common').fill('0');
  await expect(headline(page)).toHaveText('open, no load');
  await expect(page.getByText('what does it feed?')).toBeVisible();
  await page.getByLabel('Far end to common').fill('24.1');
  await expect(headline(page)).toHaveText('not judged');
  await choose(page.getByRole('button', { name: 'Meter' }), 'low impedance');
  await expect(page.getByText('may feed the far end back')).toBeVisible();
  await choose(page.getByRole('button', { name: 'May the far end be fed back' }), 'no');
  await expect(headline(page)).toHaveText('good');
  await choose(
    page.getByRole('button', { name: 'May the far end be fed back' }),
    'yes: windings, phases or another supply',
  );
  await expect(headline(page)).toHaveText('not judged');
});

test('a blown fuse of the machine says what goes dead with it', async ({ edda: page, alone }) => {
  const { visit } = await newVisit(alone, 'ly-03');
  await page.goto(`${alone.url}/visits/${visit}/sums/pulled`);
  const fuses = await alone.get<{ printed: string; rating: string; feeds: string[] }[]>('/api/machines/ly-03/fuses');
  const fuse = fuses.find((f) => f.feeds.length > 0);
  await choose(
    page.getByRole('button', { name: 'Which fuse' }),
    [fuse?.printed, fuse?.rating].filter(Boolean).join(', '),
  );
  await expect(page.getByText(`feeds ${fuse?.feeds[0] ?? ''}`)).toBeVisible();
  await expect(page.getByText('as soon as what is marked “needed” is filled in')).toBeVisible();
  await choose(page.getByRole('button', { name: 'Where it is' }), 'pulled');
  await choose(page.getByRole('button', { name: 'Continuity' }), 'silent');
  await expect(headline(page)).toHaveText('blown');
  await page.getByRole('button', { name: 'Keep it with the visit' }).click();
  await expect(page.getByRole('complementary', { name: 'Kept with this visit' })).toContainText(
    `${fuse?.printed ?? ''}, a fuse, dead: blown`,
  );
});

test('a set of coils on the phone: one bad, one open', async ({ edda: page, ledger }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${ledger.url}/sums`);
  await choose(page.getByRole('button', { name: 'Sum', exact: true }), 'A set that should read alike');
  await page.getByLabel('Readings, one after the other').fill('28.1, 28.3, 14.0, 28.2');
  await expect(headline(page)).toHaveText('no. 3 is the odd one');
  await expect(page.getByText('measure the rest of the set as well')).toBeVisible();
  await page.getByLabel('Readings, one after the other').fill('c1 28.1, c2 28.3, c3 OL, c4 28.2');
  await expect(headline(page)).toHaveText('c3 is the odd one');
});
