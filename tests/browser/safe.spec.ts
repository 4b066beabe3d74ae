import type { Page } from '@playwright/test';
import { expectNothing } from './axe';
import { choose, expect, measure, newRound, newVisit, test } from './fixtures';

test('LY-02 from arrival to proved dead, by keyboard only', async ({ edda: page, ledger, allow }) => {
  allow(/status of 409/);
  // A number for the name of a source is refused.
  allow(/status of 400/);
  await page.goto(ledger.url);
  await expect(page.getByRole('region', { name: 'Visits open' })).toContainText('LY-04');
  await page.keyboard.press('F2');
  await page.keyboard.type('ly02');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'From the last visit' })).toContainText('locked, tag 14');
  await page.getByLabel('What is the complaint?').focus();
  await page.keyboard.type('trips when it heats');
  await page.keyboard.press('F9');

  // What goes when it is off comes first.
  const caught = page.getByRole('region', { name: 'Catch what goes when it is off' });
  await expect(caught).toContainText('open');
  await caught.getByRole('textbox').focus();
  await page.keyboard.type('E 07, blinking');
  await page.keyboard.press('Enter');
  await expect(caught.getByRole('listitem')).toContainText('E 07, blinking');
  await expect(page.getByRole('navigation', { name: 'This page' })).toContainText('1 thing caught');

  // Outside checks, a key each.
  const outside = page.getByTestId('outside');
  // Wherever the hand is, unless it is in a field.
  await page.getByRole('heading', { level: 1 }).click();
  const first = await outside.locator('p').first().innerText();
  await page.keyboard.press('y');
  await expect(outside.locator('p').first()).not.toHaveText(first);
  const second = await outside.locator('p').first().innerText();
  await page.keyboard.press('n');
  await expect(outside).toContainText('Does the machine work now?');
  await page.keyboard.press('n');
  await expect(outside.locator('p').first()).not.toHaveText(second);
  await expect(page.getByRole('region', { name: 'Outside checks' })).toContainText('was not, put right');
  const third = await outside.locator('p').first().innerText();
  await page.keyboard.press('c');
  await expect(outside.locator('p').first()).not.toHaveText(third);

  await page.keyboard.press('F7');
  const safe = page.getByTestId('safe');
  await expect(safe).toContainText('live');
  await expect(safe).toContainText('Steam scalds');
  const act = page.getByTestId('next-act');
  for (const words of [
    'switch off the mains',
    'isolate the mains at main switch Q1',
    'lock and tag the mains',
    'close the feed water',
    'open drain V2',
  ]) {
    await expect(act).toContainText(words);
    await page.keyboard.press('Enter');
  }
  await expect(safe).toContainText('isolated, not proved dead');
  await expect(page.getByRole('region', { name: 'Stored charge' })).toContainText('to wait');
  await expect(page.getByRole('region', { name: 'element fan' }).getByRole('timer')).toContainText(/^5:/);
  await expect(act).toContainText('prove the meter on a known source');
  // A number typed too early is not taken for the name of the source, and is not lost.
  await page.keyboard.type('231 V');
  await page.keyboard.press('Enter');
  await expect(act.getByRole('alert')).toContainText('name the known source the meter was proved on');
  await expect(act.getByRole('textbox')).toHaveValue('231 V');
  await page.keyboard.press('Home');
  await page.keyboard.type('socket X9, ');
  await page.keyboard.press('Enter');

  // Not dead is said, and is read again.
  await expect(act).toContainText('L1');
  await page.keyboard.type('231');
  await page.keyboard.press('Enter');
  // That is the mains alive. The lock was on throughout, which is one key; the proof begins anew.
  const doubt = page.getByRole('alert').filter({ hasText: '231 V was read' });
  await expect(doubt).toContainText('mains live');
  await expect(act).toContainText(/switch off the mains/i);
  await doubt.getByRole('button', { name: 'My lock was on throughout' }).click();
  await expect(act).toContainText('prove the meter on a known source');
  await act.getByRole('textbox').fill('socket X9, 231 V');
  await page.keyboard.press('Enter');
  await expect(act).toContainText('L1');
  const reads = page.getByTestId('safe-steps').locator('li', { hasText: /^read / });
  await expect(reads).toHaveCount(21);
  for (let i = 0; i < 21; i++) {
    await expect(page.getByTestId('safe-steps').locator('li', { hasText: '0.1 V' })).toHaveCount(i);
    await page.keyboard.type('0.1');
    await page.keyboard.press('Enter');
  }
  await expect(act).toContainText('prove the meter again');
  await expect(page.getByLabel('On which known source?')).toHaveValue('socket X9, 231 V');
  await page.keyboard.press('Enter');
  await expect(act).toContainText('Proved dead');
  await expect(safe).toContainText('proved dead');

  // Now what is measured dead comes first.
  await page.keyboard.press('F9');
  await expect(page.getByTestId('probe')).toContainText('ohms');
  await expect(page.getByTestId('safe')).toContainText('proved dead');
  const home = await ledger.get<{ visits: { tag: string }[] }>('/api/home');
  expect(home.visits.map((v) => v.tag)).toContain('LY-02');
});

test('going live again lists what is open, and voids the proof', async ({ edda: page, ledger }) => {
  const { visit } = await newVisit(ledger, 'ly-08');
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  await makeSafe(page);
  const open = page.getByRole('region', { name: 'Covers off, plugs pulled' });
  await open.getByLabel('Which cover or plug').fill('saddle shroud');
  await page.keyboard.press('Enter');
  await expect(open.getByRole('listitem')).toContainText('saddle shroud');
  await page.getByRole('button', { name: 'Go live again' }).click();
  const live = page.getByRole('form', { name: 'Go live again' });
  await expect(live.getByRole('listitem')).toHaveText(['Cover off: saddle shroud']);
  await live.getByLabel('Why?').fill('brake tried');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('safe')).toContainText('no longer holds');
  await expect(page.getByTestId('next-act')).toContainText('switch off the mains');
});

test('volts on a machine proved dead are asked about, and end the proof for good', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  const round = await newRound(ledger);
  await page.goto(`${ledger.url}/rounds/${round}`);
  const band = page.getByTestId('safe');
  await expect(band).toContainText('proved dead');
  await page.locator('tr[data-check="ps"] button').click();
  await measure(page, '24.3');
  const asks = page.getByRole('alert').filter({ hasText: 'thought dead' });
  await expect(asks).toContainText('24.3 V DC');
  await expectNothing(page, 'live, or mistyped');

  // Mistyped: nothing was stored, and the field is empty.
  await page.keyboard.press('m');
  await expect(asks).toHaveCount(0);
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('');
  await expect(band).toContainText('proved dead');
  expect((await ledger.get<{ taken: number }>(`/api/rounds/${round}`)).taken).toBe(0);

  await page.keyboard.type('24.3');
  await page.keyboard.press('Enter');
  await expect(asks).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByTestId('last')).toContainText('24.3 V');
  await expect(band).toContainText('no longer holds');
  await expect(band.getByRole('link')).toContainText('live');
  // Taking the reading back revives nothing.
  await page.keyboard.press('Backspace');
  await expect(page.getByTestId('last')).not.toContainText('24.3 V');
  await expect(band.getByRole('link')).toContainText('live');

  // The lock stood all the while: one key, then the readings anew.
  await band.getByRole('link').click();
  const doubt = page.getByRole('alert').filter({ hasText: 'was read' });
  await expect(doubt).toContainText('24.3 V DC at PS');
  await doubt.getByRole('button', { name: 'My lock was on throughout' }).click();
  await expect(band.getByRole('link')).toContainText('isolated, not proved');
  await expect(page.getByTestId('next-act')).toContainText(/prove the meter on a known source/i);
});

test('what is bridged all the same is written down in red, and leaves only tagged out', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  const { visit } = await newVisit(ledger, 'ly-02');
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  await page.getByRole('button', { name: 'Place one' }).click();
  const form = page.getByRole('form', { name: 'Place a temporary link' });
  await form.getByLabel('Where, in words').fill('at the panel');
  await choose(form.getByLabel('Across which protective device?'), 'over-temperature cut-out');
  await form.getByLabel('Why', { exact: true }).fill('was there when I came');
  await form.getByRole('button', { name: 'It is placed' }).click();
  await expect(form.getByRole('group', { name: 'It is in all the same' })).toBeVisible();
  await form.getByRole('button', { name: 'Found bypassed' }).click();
  await expect(page.getByTestId('safe')).toContainText('over-temperature cut-out is bypassed, found so');
  await expectNothing(page, 'a bypass that was found');
  const end = async (ending: string) => {
    const { version } = await ledger.get<{ version: number }>(`/api/visits/${visit}`);
    return fetch(`${ledger.url}/api/visits/${visit}/end`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ version, ending }),
    });
  };
  expect((await end('temporaryRepair')).status).toBe(409);
  expect((await end('leftSafe')).status).toBe(200);
});

test('a temporary link across a protective device is refused with the test to do instead; another stands in sight', async ({
  edda: page,
  ledger,
  allow,
}) => {
  allow(/status of 409/);
  const { visit } = await newVisit(ledger, 'ly-02');
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  await page.getByRole('button', { name: 'Place one' }).click();
  const form = page.getByRole('form', { name: 'Place a temporary link' });
  await choose(form.getByLabel(/^From/), 'VB-J2·1 cut-out feed');
  await choose(form.getByLabel(/^To/), 'VB-J2·2 cut-out back');
  await form.getByLabel('Where, in words').fill('J2');
  await form.getByLabel('Why').fill('to see');
  await form.getByRole('button', { name: 'It is placed' }).click();
  await expect(form.getByRole('alert')).toContainText('Instead: volts across J2·1 and J2·2 while it trips');
  await choose(form.getByLabel(/^From/), 'VB-X1·L1 phase 1');
  await choose(form.getByLabel(/^To/), 'VB-F1·1 control, in');
  await form.getByLabel('Where, in words').fill('round the fuse holder');
  await form.getByRole('button', { name: 'It is placed' }).click();
  await expect(page.getByTestId('safe')).toContainText('round the fuse holder');
  await page.goto(ledger.url);
  await expect(page.getByRole('region', { name: 'Temporary links placed' })).toContainText('round the fuse holder');
  await page.goto(`${ledger.url}/visits/${visit}/arrive`);
  await expect(page.getByTestId('safe')).toContainText('round the fuse holder');
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  await page.getByRole('button', { name: 'It is out: round the fuse holder' }).click();
  await expect(page.getByTestId('safe')).not.toContainText('round the fuse holder');
});

test('a board is recognised in four answers', async ({ edda: page, alone: ledger }) => {
  await page.goto(`${ledger.url}/visits/ly07-v1/arrive`);
  await expect(page.getByRole('complementary', { name: 'Build and boards' })).toContainText(
    'differs: here it is WK-20 rev D',
  );
  await page.getByRole('link', { name: /Which board is the turnstile board/ }).click();
  const choices = page.getByRole('list', { name: 'What it may be' }).locator('> li');
  await expect(choices).toHaveCount(4);
  await expect(choices.first().getByRole('img')).toBeVisible();
  // Two answers that cannot be seen, two that can.
  const question = page.getByRole('region', { name: 'Question' }).locator('p').first();
  await expect(question).toHaveText('How do the parts’ leads run?');
  await page.keyboard.press('0');
  await expect(question).toHaveText('Which way do the relays lie?');
  await page.keyboard.press('0');
  await expect(question).toHaveText('How wide is the board?');
  await page.getByRole('button', { name: /^140 mm/ }).click();
  await expect(choices).toHaveCount(2);
  await expect(question).toHaveText('Are output lamps fitted?');
  await page.getByRole('button', { name: /^no/ }).click();
  await expect(choices).toHaveCount(1);
  await expect(choices).toContainText('WK-20 rev A');
  await choices.getByRole('button', { name: 'It is this one' }).click();
  await expect(page.getByRole('navigation', { name: 'This page' })).toContainText('all known');
  const build = await ledger.get<{ facts: { differs: boolean }[] }>('/api/machines/ly-07/build');
  expect(build.facts.filter((f) => f.differs)).toEqual([]);
});

test('a doubtful date is settled on the plate, and the build follows', async ({ edda: page, alone: ledger }) => {
  await page.goto(`${ledger.url}/machines/LY-06`);
  const build = page.getByTestId('build');
  await expect(build).toContainText('doubtful');
  await expect(build).toContainText('may be September 2013 or week 13 of 2009');
  await expect(build).toContainText('Settled by');
  await page.getByRole('button', { name: 'Change' }).first().click();
  await page.getByLabel(/^Built, as it stands/).fill('2013-09');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('status').first()).toHaveText('kept');
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(build).toContainText('Leat 6 second governor');
});

test('the editor of builds draws gaps and overlaps as they are made', async ({ edda: page, alone: ledger }) => {
  await page.goto(`${ledger.url}/models/nettlebolt-wicket?from=LY-07`);
  const line = page.getByRole('region', { name: 'Time line of the builds' });
  await expect(line).toContainText('No gap between the builds, and no overlap.');
  const second = page.getByRole('group', { name: 'Wicket 2 second generation' });
  await second.getByLabel('Built from').fill('2021-07-15');
  await page.keyboard.press('Tab');
  await expect(line).toContainText('Gap 2021-07-01 to 2021-07-14: no build');
  await second.getByLabel('Built from').fill('2021-06-01');
  await page.keyboard.press('Tab');
  await expect(line).toContainText(
    'Overlap 2021-06-01 to 2021-06-30: Wicket 2 first generation and Wicket 2 second generation',
  );
  await expect(page.getByRole('region', { name: 'Builds', exact: true }).getByRole('status')).toHaveText('kept');
  await page.reload();
  await expect(second.getByLabel('Built from')).toHaveValue('2021-06-01');
});

test('found by an outside check, the visit ends there', async ({ edda: page, alone: ledger }) => {
  const { visit } = await newVisit(ledger, 'ly-05');
  await page.goto(`${ledger.url}/visits/${visit}/arrive`);
  const outside = page.getByTestId('outside');
  await outside.getByRole('button', { name: /^No/ }).click();
  await outside.getByRole('button', { name: /that was it/ }).click();
  await page.getByRole('button', { name: 'End the visit as found' }).click();
  await page.waitForURL(/machines\/LY-05$/);
  const machine = await ledger.get<{ visits: { ending: string; endingNote: string }[] }>('/api/machines/ly-05');
  expect(machine.visits[0]).toMatchObject({ ending: 'signed' });
  expect(machine.visits[0]?.endingNote).toContain('Found by an outside check');
});

test.describe('under a thumb', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

  test('arrive and make safe, nothing wider than the screen', async ({ edda: page, ledger }) => {
    const { visit } = await newVisit(ledger, 'ly-08');
    await page.goto(`${ledger.url}/visits/${visit}/arrive`);
    await page.getByRole('radio', { name: 'Hours' }).tap();
    await page.getByLabel('Hours, in a line').fill('2214 h');
    await page.getByRole('button', { name: 'Keep it' }).tap();
    await expect(page.getByText('2214 h')).toBeVisible();
    await page.getByTestId('outside').getByRole('button', { name: /^Yes/ }).tap();
    await expect(page.getByRole('navigation', { name: 'This page' })).toContainText('1 of 13');
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    await page.getByRole('link', { name: /^Make safe F7/ }).tap();
    await makeSafe(page);
    await expect(page.getByTestId('safe')).toContainText('proved dead');
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  });
});

test('what is done while the ledger is gone waits on the device, and is written once', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/net::ERR_|Failed to fetch|Failed to load/);
  const { visit } = await newVisit(ledger, 'ly-08');
  await page.goto(`${ledger.url}/visits/${visit}/arrive`);
  await expect(page.getByTestId('outside')).toBeVisible();
  await page.context().setOffline(true);
  await page.getByLabel('Code, in a line').fill('E 3');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/waits on this device/)).toBeVisible();
  await page.context().setOffline(false);
  await expect(page.getByRole('region', { name: 'Catch what goes when it is off' })).toContainText('E 3');
  const start = await ledger.get<{ observations: { text: string }[] }>(`/api/visits/${visit}/start`);
  expect(start.observations.map((o) => o.text)).toEqual(['E 3']);
});

/** Goes down the acts as they come, until it is proved dead. */
async function makeSafe(page: Page): Promise<void> {
  const act = page.getByTestId('next-act');
  for (let i = 0; i < 60; i++) {
    await expect(act).toBeVisible();
    const words = await act.innerText();
    if (words.includes('Proved dead')) {
      return;
    }
    if (words.includes('known source')) {
      await act.getByRole('textbox').fill('socket X9');
    } else if (words.includes('volts')) {
      await act.getByRole('textbox').fill('0.1');
    }
    await act.getByRole('button', { name: /Enter$/ }).click();
    await expect(act).not.toHaveText(words, { useInnerText: true });
  }
}
