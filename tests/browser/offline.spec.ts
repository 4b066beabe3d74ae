import { expect, ledgerIsGone, measure, newRound, test } from './fixtures';
import { Ledger } from './ledger';

// The page itself must open with the ledger gone.
test.use({ serviceWorkers: 'allow' });

interface Round {
  taken: number;
  rows: { key: string; takes: number; reading: { typed: string } | null }[];
}

test('the server is killed, three readings are typed, the page reloaded, the server started again: all three are there once', async ({
  page,
  allow,
}) => {
  allow(ledgerIsGone);
  const own = await Ledger.mortal();
  try {
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    await page.goto(`${own.url}/rounds/r3`);
    await expect(page.getByTestId('probe')).toContainText('Z2-J1·1');
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => true));
    await own.kill();
    const asked: string[] = [];
    for (const text of ['24.3', '24.0', '23.9']) {
      const row = page.locator('tr[aria-current]');
      asked.push((await row.getAttribute('data-check')) ?? '');
      await measure(page, text);
      await expect(page.locator(`tr[data-check="${asked.at(-1)}"]`)).toContainText('not judged until sent');
    }
    expect(new Set(asked).size).toBe(3);
    await expect(page.getByRole('status')).toContainText('3 things wait on this device');

    // The page opens from the device while the server is still gone.
    await page.reload();
    await expect(page.getByRole('status')).toContainText('3 things wait on this device');
    await expect(page.locator(`tr[data-check="${asked[1]}"]`)).toContainText('24.0');

    await own.run();
    await expect(page.getByRole('status')).toHaveCount(0, { timeout: 20_000 });
    const round = await own.get<Round>('/api/rounds/r3');
    expect(round.taken).toBe(10);
    expect(asked.map((key) => round.rows.find((r) => r.key === key)?.reading?.typed)).toEqual(['24.3', '24.0', '23.9']);
    expect(asked.map((key) => round.rows.find((r) => r.key === key)?.takes)).toEqual([1, 1, 1]);
    await expect(page.getByTestId('last')).toContainText('23.9 V');
  } finally {
    await own.kill();
  }
});

test('another device sees the round', async ({ edda: page, ledger, browser }) => {
  const round = await newRound(ledger);
  const other = await (await browser.newContext()).newPage();
  await other.addInitScript(() => {
    localStorage.setItem('person-id', 'bram');
    localStorage.setItem('person-name', 'Bram');
  });
  await other.goto(`${ledger.url}/rounds/${round}`);
  await expect(other.getByTestId('probe')).toBeVisible();
  await page.goto(`${ledger.url}/rounds/${round}`);
  await measure(page, '3.1');
  await expect(other.getByTestId('last')).toContainText('3.1 Ω');
  await other.context().close();
});
