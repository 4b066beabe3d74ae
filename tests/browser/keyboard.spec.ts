import { choose, expect, measure, newRound, newVisit, open, test } from './fixtures';

test('LY-04 is found, measured, its stretch named and the fault written up, by keyboard only', async ({
  page,
  alone: ledger,
}) => {
  await page.goto(ledger.url);
  // A name once per device.
  await expect(page.getByRole('heading', { name: 'Who is holding this device?' })).toBeVisible();
  await expect(page.getByLabel('Another name')).toBeFocused();
  await page.keyboard.type('Sunniva');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Visits open' })).toContainText('LY-04');

  await page.keyboard.press('F2');
  await page.keyboard.type('ly o4');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /Zone 3 creeps/ })).toBeVisible();
  await page.keyboard.press('F9');

  // The half-done round proposes the middle of the stretch.
  const probe = page.getByTestId('probe');
  await expect(probe).toContainText('Z2-J1·1');
  await expect(page.getByTestId('path-words')).toContainText('The loss is between Z1-J2·4 and Z3-J1·1');
  // An empty Enter stores nothing.
  await page.keyboard.press('Enter');
  await expect(probe).toContainText('Z2-J1·1');
  await measure(page, '24.3');
  await expect(page.getByTestId('last')).toContainText('Z2-J1·1 24.3 V');
  await expect(page.getByTestId('last')).toContainText('within');
  await expect(page.getByTestId('last')).toContainText('narrows the fault from 3 places to 2');

  // The black probe moves, and the page says so before it takes a number.
  await expect(probe).toContainText('Z2-J2·4');
  await expect(page.getByRole('alert')).toContainText('Black probe: Z2-J2·1');
  // Whoever types the number has moved it: the card goes, and no digit is lost.
  await page.keyboard.type('24.1');
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('24.1');
  await page.keyboard.press('Enter');
  // The return was read under load before, 0.04 V: it is not accused.
  await expect(page.getByTestId('path-words')).toContainText(
    'The loss is between Z2-J2·4 and Z3-J1·1: wire OG-BK from Z2-J2·4 to Z3-J1·1, either contact, or a load pulling it down.',
  );

  await page.keyboard.press('?');
  const why = page.getByRole('region', { name: 'Why' });
  await expect(why).toContainText('4.83 V under the least allowed, 23.03 V');
  await expect(why).toContainText('Rule: in the band');

  await page.keyboard.press('F8');
  await expect(page.getByRole('heading', { name: 'Write up the fault' })).toBeVisible();
  await expect(page.getByLabel(/^Noticed/)).toHaveValue('Zone 3 creeps when loaded, zone 4 stops; zones 1 and 2 run');
  await expect(page.getByLabel(/^Found/)).toHaveValue(/The loss is between Z2-J2·4 and Z3-J1·1/);
  await expect(
    page.getByText('Z3-J1·1 to Z3-J1·2, belt running: ~18.2 V (falls when the belt pulls), low'),
  ).toBeVisible();
  await page.getByLabel('Cause').focus();
  await page.keyboard.type('contact');
  await page.keyboard.press('Tab');
  await expect(page.getByLabel(/^How it was proved/)).toBeFocused();
  await page.keyboard.type('5.9 V across the crimp of Z3-J1·1 with the belt loaded');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Crimp renewed');
  for (let i = 0; i < 7; i++) {
    await page.keyboard.press('Tab');
  }
  await expect(page.getByRole('button', { name: 'Close the fault' })).toBeFocused();
  await expect(page.getByRole('status')).toHaveText('kept');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Fault, closed with its proof' })).toBeVisible();
  const machine = await ledger.get<{ faults: { proof: string; closedAt: string | null; person: string }[] }>(
    '/api/machines/LY-04',
  );
  expect(machine.faults[0]).toMatchObject({
    proof: '5.9 V across the crimp of Z3-J1·1 with the belt loaded',
    person: 'Sunniva',
  });
  expect(machine.faults[0]?.closedAt).not.toBeNull();
});

test('one hand: OL, on and off, later, take back, a refused text and two readings', async ({
  edda: page,
  ledger,
  allow,
}) => {
  allow(/status of 4(00|22)/);
  const round = await newRound(ledger);
  await page.goto(`${ledger.url}/rounds/${round}`);
  const last = page.getByTestId('last');
  // Proved dead, the sheet begins with what is measured dead; each black probe move is announced before a number is taken.
  await measure(page, '3.1');
  await expect(last).toContainText('3.1 Ω');
  await expect(page.getByRole('alert')).toContainText('Black probe: Z2-J3·M-');
  await page.keyboard.press('Enter');
  await page.keyboard.press('*');
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('OL');
  await page.keyboard.press('Enter');
  await expect(last).toContainText('OL: no path');

  // Backspace on an empty field takes it back, and its row asks again.
  await page.keyboard.press('Backspace');
  await expect(last).toContainText('3.1 Ω');
  await measure(page, '3k3');
  await expect(last).toContainText('3300 Ω');

  // On and off, at a contact.
  await page.locator('tr[data-check="ec"] button').focus();
  await page.keyboard.press('Enter');
  await measure(page, '+');
  await expect(last).toContainText('closed, as it should be');

  // A slash puts it off.
  const here = await page.locator('tr[aria-current]').getAttribute('data-check');
  if (await page.getByRole('button', { name: /^Done/ }).first().isVisible()) {
    await page.keyboard.press('Enter');
  }
  await page.keyboard.press('/');
  await expect(page.locator(`tr[data-check="${here}"]`)).toContainText('later');
  await expect(page.locator('tr[aria-current]')).not.toHaveAttribute('data-check', here ?? '');

  // A text that is not understood stays in the field with its place and an example.
  await measure(page, '1,200');
  await expect(page.getByRole('alert')).toContainText('may be a thousand or a fraction at place 2');
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('1,200');
  await page.getByLabel(/^Reading at/).fill('');
  await measure(page, '2.6 / 2.3');
  await expect(page.getByRole('alert')).toContainText('Which one counts?');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(last).toContainText('2.3 Ω');
});

test('an extra reading between any two pins, without a check', async ({ edda: page, ledger }) => {
  const round = await newRound(ledger);
  await page.goto(`${ledger.url}/rounds/${round}`);
  await expect(page.getByTestId('probe')).toBeVisible();
  await page.keyboard.press('F4');
  await page.keyboard.type('z4j12');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await page.keyboard.type('ps-');
  await expect(page.getByRole('option', { name: /^PS·-/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await choose(page.getByLabel(/^Meter(?! in the hand)/), 'DC volts');
  await choose(page.getByLabel('State'), 'belt running');
  await page.getByLabel('Reads').fill('0.42 under load');
  // Who has the next reading before the eyes types on while this one is stored: nothing of it is lost.
  await page.route('**/api/rounds/*/lines', async (sent) => {
    await new Promise((wait) => setTimeout(wait, 400));
    await sent.continue();
  });
  await page.keyboard.press('Enter');
  await page.keyboard.type('3.1');
  const extras = page.getByRole('region', { name: 'Extra readings' });
  await expect(extras).toContainText('Z4-J1·2 to PS·-');
  await expect(extras).toContainText('0.42 V under load belt running');
  await page.getByRole('button', { name: 'Not now' }).click();
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('3.1');
});

test('at 1280x800 the sheet shows twelve rows, the map fills its leaf, and the strip follows the branch', async ({
  edda: page,
  ledger,
}) => {
  await open(page, `${ledger.url}/rounds/r3`);
  const rows = await page.locator('[data-check]').evaluateAll((all) => {
    const box = all[0]?.closest('[role=region]')?.getBoundingClientRect();
    const head = all[0]?.closest('table')?.tHead?.getBoundingClientRect();
    return all
      .map((row) => row.getBoundingClientRect())
      .filter((r) => r.top >= (head?.bottom ?? 0) - 1 && r.bottom <= Math.min(box?.bottom ?? 0, innerHeight) + 1)
      .length;
  });
  expect(rows).toBeGreaterThanOrEqual(12);

  const leaf = await page.getByRole('complementary', { name: 'The board' }).boundingBox();
  const map = await page.getByTestId('board-map').boundingBox();
  expect(map?.width).toBeGreaterThan((leaf?.width ?? 0) * 0.85);
  expect(map?.height).toBeGreaterThan((leaf?.height ?? 0) * 0.55);

  const strip = page.getByTestId('path');
  await expect(strip).toContainText('Z3-J1·1');
  await page.locator('[data-check]', { hasText: 'Z1-J4·1' }).getByRole('button').click();
  await expect(strip).toContainText('Z1-J4·1');
  await expect(strip).not.toContainText('Z3-J1·1');
  await page.locator('[data-check]', { hasText: 'Z2-J1·1' }).getByRole('button').click();
  await expect(strip).toContainText('Z3-J1·1');
});

test('keys land where they are meant: in the reading wherever the hand is, and never as a reason', async ({
  edda: page,
  ledger,
}) => {
  const { round } = await newVisit(ledger, 'ly-04');
  await open(page, `${ledger.url}/rounds/${round}`);
  await page.getByRole('region', { name: 'Sheet' }).focus();
  await page.keyboard.type('24');
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('24');
  await page.keyboard.type('.3');
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('24.3');
  await page.getByLabel(/^Reading at/).fill('');

  await page.locator('[data-check]', { hasText: /Ω/ }).first().getByRole('button').click();
  const asks = page.getByTestId('dead-only');
  await expect(asks.or(page.getByRole('button', { name: /^Done/ })).first()).toBeVisible();
  if (!(await asks.isVisible())) {
    await page.keyboard.press('Enter');
  }
  await page.keyboard.type('4.7');
  await page.keyboard.press('Enter');
  await expect(asks.getByRole('alert')).toContainText('A number is no reason');
  await expect(asks.getByRole('textbox')).toHaveValue('4.7');
  await asks.getByRole('textbox').fill('fed by its own battery, pulled');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Not proved dead, measured all the same: fed by its own battery, pulled.')).toBeVisible();
});

test('of what comes and goes each reading says whether it showed meanwhile, by one key', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 400/);
  const { visit, round } = await newVisit(alone, 'ly-04', 'zone 4 stops now and then');
  await open(page, `${alone.url}/rounds/${round}`);
  const meanwhile = page.getByRole('group', { name: /^Meanwhile the fault/ });
  const says = (words: string) => expect(meanwhile.getByRole('radio', { name: words })).toBeChecked();
  await says('nobody looked');
  await page.keyboard.press('F7');
  await page.keyboard.press('F7');
  await says('is away');
  // What was said stays over a reload, and goes with the reading it was said of.
  await page.reload();
  await says('is away');
  await page.keyboard.type('0.3');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('last')).toContainText(/0\.3 V\s*not showing/);
  await says('nobody looked');
  // From a choice under the mouse the number goes to the reading; what is refused keeps both.
  await meanwhile.getByRole('radio', { name: 'shows' }).click();
  await page.keyboard.type('0.1x');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toBeVisible();
  await expect(page.getByLabel(/^Reading at/)).toHaveValue('0.1x');
  await says('shows');
  await page.getByLabel(/^Reading at/).fill('0.1');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('last')).toContainText(/0\.1 V\s*showing/);
  await open(page, `${alone.url}/visits/${visit}/reason`);
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('0.3 V not showing');

  // Of a fault that is simply there nobody is asked, and can say so all the same.
  const { round: plain } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${plain}`);
  await expect(meanwhile).toHaveCount(0);
  await page.keyboard.press('F7');
  await says('shows');
});
