import { choose, expect, newVisit, open, settled, test } from './fixtures';

interface Round {
  extras: { redPrinted: string; blackPrinted: string; value: string }[];
  taken: number;
}

test('readings are called out along a plug, between two pins, and at a pin that nobody entered', async ({
  edda: page,
  alone,
}) => {
  const { id } = await alone.get<{ id: string }>('/api/machines/LY-11');
  const { round } = await newVisit(alone, id);
  await open(page, `${alone.url}/rounds/${round}`);
  await page.keyboard.press('F4');
  await page.getByRole('tab', { name: 'As one calls them' }).click();
  const box = page.getByLabel('As you say it');
  await box.fill('DRI-J2: 24.3 0 0 0.1\nS1-1 to TB1-- 24.5\n2 24.4\nJ99-2 12\nthe lamp is dim');
  const understood = page.getByRole('list', { name: 'As understood' });
  await expect(understood).toContainText('DRI-J2·1 to DRI-J1·2 24.3');
  await expect(understood).toContainText('S1·1 to TB1·- 24.5');
  await expect(understood).toContainText('S1·2');
  await expect(understood).toContainText('nobody entered J99-2 yet');
  await expect(understood).toContainText('write for example');

  // Whatever is typed is there after a reload.
  await page.reload();
  await settled(page);
  await page.keyboard.press('F4');
  await expect(box).toHaveValue(/J99-2/);
  await page.getByRole('button', { name: /^Store 7/ }).click();
  // A name that nobody entered is kept with its reading; what was not understood stays in the box, as it was said.
  await expect(box).toHaveValue('the lamp is dim');
  const later = page.getByRole('region', { name: 'Called, and not placed yet' });
  await expect(later).toContainText('J99-2 last read 12');
  const now = await alone.get<Round>(`/api/rounds/${round}`);
  expect(now.taken).toBe(4);
  expect(now.extras.map((e) => `${e.redPrinted} ${e.blackPrinted} ${e.value}`)).toEqual(
    expect.arrayContaining([expect.stringMatching(/^S1·1 TB1·- 24\.5/), expect.stringMatching(/^J99-2 /)]),
  );

  // Where it is is said later: a pin of its own is added, and the name is said to be it.
  await choose(later.getByRole('button', { name: 'Where is J99', exact: true }), 'logic board (LOG)');
  await later.getByRole('button', { name: 'Add this pin' }).click();
  await expect(later.getByRole('button', { name: 'Add this pin' })).toBeHidden();
  await box.fill('J99-2 12.1');
  await expect(understood).toContainText('LOG-J99·2');
  await page.route(`**/api/rounds/${round}/lines`, async (sent) => {
    await new Promise((wait) => setTimeout(wait, 400));
    await sent.continue();
  });
  await box.press('Control+Enter');
  // What is called while that is stored stays to be stored.
  await page.keyboard.type('\nS1-1 to TB1-- 24.3');
  await expect(box).toHaveValue('S1-1 to TB1-- 24.3');
  await expect(understood).toContainText('24.3');
  await expect(page.getByText('not judged: 12.1 V')).toBeVisible();
  await box.press('Control+Enter');
  // The hand is back at the next probe once it is stored.
  await expect(box).toBeHidden();
  await later.getByRole('button', { name: 'Where is J99-2?' }).click();
  await page.keyboard.type('logj99');
  await page.getByRole('option', { name: /^LOG-J99·2/ }).click();
  await later.getByRole('button', { name: 'It is LOG-J99·2' }).click();
  await expect(later).toBeHidden();
  await open(page, `${alone.url}/rounds/${round}`);
  await page.keyboard.press('F4');

  // The machine is healthy: what was read becomes what should be read, and stands on the sheet.
  await page.getByRole('button', { name: 'Leave' }).click();
  await page.getByRole('button', { name: 'It is healthy: make these the sheet' }).click();
  await expect(page.getByText(/New checks: .*LOG-J99·2 12.1 V DC/)).toBeVisible();
  await expect(page.locator('[data-check]', { hasText: 'LOG-J99·2' })).toContainText('12.1 V DC');
  await page.getByRole('button', { name: 'It is healthy: make these the sheet' }).click();
  await expect(page.getByText('No new check.')).toBeVisible();
});
