import { expect, newRound, test } from './fixtures';

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

test('the same round by taps', async ({ edda: page, ledger, allow }) => {
  allow(/status of 409/);
  const round = await newRound(ledger);
  await page.goto(`${ledger.url}/rounds/${round}`);
  const pad = page.getByRole('group', { name: 'Number pad' });
  const tap = async (...keys: string[]) => {
    for (const key of keys) {
      await pad.getByRole('button', { name: key, exact: true }).tap();
    }
  };
  const go = async (check: string) => {
    await page.locator(`tr[data-check="${check}"] button`).tap();
    if (await pad.getByRole('button', { name: 'Done' }).isVisible()) {
      await tap('Done');
    }
    // Before the first check of few ohms the leads are asked for.
    const leads = page.getByRole('button', { name: 'Not now' });
    await expect(pad.or(leads).first()).toBeVisible();
    if (await leads.isVisible()) {
      await leads.tap();
    }
  };
  await go('z1/fm');
  await tap('OL, no path', 'Store');
  await expect(page.getByTestId('last')).toContainText('OL');
  await go('z1/mw');
  await tap('3', 'k, thousand', 'Store');
  await expect(page.getByTestId('last')).toContainText('3000 Ω');
  await go('ec');
  await tap('open', 'Store');
  await expect(page.getByTestId('last')).toContainText('open, should be closed');
  await go('ps');
  await tap('2', '4', 'Point', '9', 'Store');
  // Volts on a machine proved dead are asked about, and the answer is as large as a thumb.
  const live = page.getByRole('button', { name: /^It is live/ });
  expect((await live.boundingBox())?.height).toBeGreaterThan(43.9);
  await live.tap();
  await expect(page.getByTestId('last')).toContainText('PS·+ 24.9 V');
  await go('z2/on');
  await tap('2', '4', 'Point', '6', 'Take back', '4', 'Store');
  await expect(page.getByTestId('last')).toContainText('Z2-J2·4 24.4 V');
  await go('z3/in');
  await tap('1', '7', 'Store');
  await expect(page.getByTestId('path-words')).toContainText('The loss is between Z2-J2·4 and Z3-J1·1');
  await tap('Skip, later');
  await expect(page.getByText('later', { exact: true }).first()).toBeAttached();

  // The page never scrolls sideways, and what gloves press is at least 44 px.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  for (const button of await pad.getByRole('button').all()) {
    const box = await button.boundingBox();
    expect(box?.height).toBeGreaterThan(43.9);
    expect(box?.width).toBeGreaterThan(43.9);
  }
  await page.getByRole('button', { name: 'Write up' }).tap();
  await expect(page.getByRole('heading', { name: 'Write up the fault' })).toBeVisible();
  await expect(page.getByLabel(/^Found/)).toHaveValue(/Z2-J2·4 and Z3-J1·1/);
});

test('a photograph answers a field for words, and the words say which', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/machines/LY-08`);
  const note = page.getByPlaceholder('A note on this machine');
  await note.tap();
  const instead = page.getByRole('button', { name: 'Photograph it instead' });
  await expect(instead).toBeVisible();
  const chooser = page.waitForEvent('filechooser');
  await instead.tap();
  await (await chooser).setFiles({ name: 'plate.png', mimeType: 'image/png', buffer: aPicture });
  await expect(note).toHaveValue(/^see photograph of \d\d:\d\d$/);
  await expect
    .poll(async () => {
      const { id } = await ledger.get<{ id: string }>('/api/machines/LY-08');
      const taken = await ledger.get<{ caption: string }[]>(`/api/machines/${id}/photographs`);
      return taken.filter((p) => p.caption === 'Note').length;
    })
    .toBe(1);
  // A number is no place for it.
  await page.getByRole('link', { name: 'LY-08' }).first().focus();
  await page.getByLabel('Find a machine').tap();
  await expect(instead).toBeHidden();
});

/** One rust-red point. */
const aPicture = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGNY4coPAAKVAP0MMUVVAAAAAElFTkSuQmCC',
  'base64',
);
