import { expectNothing } from './axe';
import { expect, open, test } from './fixtures';

const suspects = 'Who it can still be';

test('from the complaint to a proved contact by keyboard alone, and the fault takes it over', async ({
  edda: page,
  ledger,
}) => {
  // The first look at a circuit works out each of its faults.
  test.setTimeout(120_000);
  await open(page, `${ledger.url}/visits/v3/reason`);
  const list = page.getByRole('region', { name: suspects });
  await expect(list).toContainText('Chain 2 + or a contact of it');
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('Z3-J1·2 to PS·- 0.04 V');
  // Why, with the numbers it used.
  await page.keyboard.press('F4');
  await page.keyboard.type('zone 2 works, zone 4 weak');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('M4, belt running: weak');
  const first = list.getByRole('button').first();
  await first.focus();
  await page.keyboard.press('Enter');
  await expect(list).toContainText('Speaks for it');
  await expect(list).toContainText('If it is this');

  // A reading typed in what is known is a reading of the round, and counts at once.
  await page.keyboard.press('F4');
  await page.keyboard.type('Z2-J1-1 24.4');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('Z2-J1·1 24.4 V');
  await page.keyboard.press('F4');
  await page.keyboard.type('Z2-J2-4 24.3');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Proved: Chain 2 \+ or a contact of it, because/)).toBeVisible();
  await expectNothing(page, 'reason');

  // What is read where it proposes is stored by Enter alone.
  await page.keyboard.press('Alt+2');
  const field = page.getByLabel(/^Reading at/);
  await field.focus();
  const asked = (await field.getAttribute('aria-label')) ?? '';
  await page.keyboard.type('18.1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'What is known' }).getByRole('listitem').first()).toContainText(
    asked.replace('Reading at ', ''),
  );
  await page.keyboard.press('F8');
  await expect(page.getByLabel(/[Nn]oticed/).first()).toHaveValue(/Zone 3 creeps/);
});

test('an observation is doubted and taken back', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/visits/ly01-v4/reason`);
  const known = page.getByRole('region', { name: 'What is known' });
  await page.keyboard.press('F4');
  await page.keyboard.type('M1 weak, extending');
  await page.keyboard.press('Enter');
  const line = known.getByRole('listitem').filter({ hasText: 'M1, extending: weak' });
  await expect(line).toBeVisible();
  await line.getByRole('button', { name: /^Doubt/ }).click();
  await expect(line).toContainText('doubted');
  await line.getByRole('button', { name: /^Take back/ }).click();
  await expect(line).toHaveCount(0);
  await page.keyboard.press('F4');
  await page.keyboard.type('the cook says it hums');
  await page.keyboard.press('Enter');
  await expect(known).toContainText('not counted: names nothing that this machine is known to do');
});

test('what was swapped, watched and looked at counts: typed, or by the key of what was seen', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/visits/ly10-v1/reason`);
  const known = page.getByRole('region', { name: 'What is known' });
  const list = page.getByRole('region', { name: suspects });
  const say = async (line: string) => {
    await page.keyboard.press('F4');
    await page.keyboard.type(line);
    await page.keyboard.press('Enter');
  };
  await expect(list).toContainText('Lamps 3');
  await say('swapped Lamps 3 with Lamps 1: the fault followed');
  await expect(known).toContainText('swapped Lamps 3 with Lamps 1: the fault followed');
  await expect(known).toContainText(/speaks for Lamps [36]/);
  await say('nothing for 20 min');
  await expect(known).toContainText('did not come back for 20 min');
  await page.getByText('What can be said').click();
  await expect(known).toContainText('swapped M3 with M2: the fault stayed');

  // Nothing live: the second best is to look, by one key each.
  await open(page, `${alone.url}/visits/ly11-v1/reason`);
  await page.getByRole('button', { name: /^Way of going on/ }).click();
  await page.getByRole('option', { name: 'No live work' }).click();
  await expect(page.getByText('Put board DIS or P12 right and try')).toBeVisible();
  await page.keyboard.press('Alt+2');
  const next = page.getByRole('region', { name: 'Do this next' });
  await expect(next).toContainText('Look at it closely. Isolate it first.');
  await expect(page.getByRole('button', { name: /^Alt 3 Go over its settings and jumpers/ })).toBeVisible();
  await expect(next.getByRole('button', { name: 'burnt' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(known).toContainText('P12 and board DIS look burnt');
  await expectNothing(page, 'reason with what was looked at');
});

test('what comes and goes is read while it shows, its plug is moved, and nothing of it is lost by a reload', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/visits/ly01-v4/reason`);
  const known = page.getByRole('region', { name: 'What is known' });
  const next = page.getByRole('region', { name: 'Do this next' });
  const meanwhile = next.getByRole('group', { name: /^Meanwhile M1/ });
  await expect(meanwhile.getByRole('radio', { name: 'nobody looked' })).toBeChecked();
  const field = next.getByLabel(/^Reading at/);
  await field.focus();
  await page.keyboard.type('11.8');
  await page.keyboard.press('/');
  await expect(meanwhile.getByRole('radio', { name: 'does nothing' })).toBeChecked();
  await page.keyboard.press('/');
  await expect(meanwhile.getByRole('radio', { name: 'works' })).toBeChecked();
  await page.reload();
  await expect(field).toHaveValue('11.8');
  await expect(meanwhile.getByRole('radio', { name: 'works' })).toBeChecked();
  await expectNothing(page, 'reason with what showed meanwhile');
  await field.focus();
  await page.keyboard.press('Enter');
  await expect(known).toContainText('11.8 V not showing, retracting');
  // It was away just then: from now on it is waited for.
  await expect(
    page.getByText('It may come and go: read it while it shows (M1: does nothing), and say so.'),
  ).toBeVisible();
  // Read again at the same check, while it shows: both stand, and either is taken back by itself.
  for (const reading of ['M1-1 -11.2 not showing', 'M1-1 -0.1 showing']) {
    await page.keyboard.press('F4');
    await page.keyboard.type(reading);
    await page.keyboard.press('Enter');
    await expect(known).toContainText(reading.slice(5).replace(/^(\S+)/, '$1 V'));
  }
  const away = known.getByRole('listitem').filter({ hasText: '-11.2 V not showing' });
  await away.getByRole('button', { name: /^Take back/ }).click();
  await expect(away).toHaveCount(0);
  await expect(known).toContainText('-0.1 V showing');
  await page.keyboard.press('F4');
  await page.keyboard.type('wiggled CT-J2: it came and went');
  await page.keyboard.press('Enter');
  await expect(known).toContainText('wiggled CT-J2: it came and went');
  await expect(page.getByRole('region', { name: suspects }).getByRole('listitem').first()).toContainText(
    'open at times',
  );
});

test('on the phone with one thumb: tried, not possible here, and brought another time', async ({
  edda: page,
  alone,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await open(page, `${alone.url}/visits/ly10-v1/reason`);
  const next = page.getByRole('region', { name: 'Do this next' });
  await expect(next).toBeVisible();
  const before = await next.innerText();
  await next.getByRole('button', { name: 'Cannot be done here' }).click();
  await expect(page.getByText('1 left out as not possible here.')).toBeVisible();
  await expect.poll(() => next.innerText()).not.toBe(before);
  await page.getByRole('button', { name: /^Not today: bring/ }).click();
  await expect(page.getByText('It is with what to bring')).toBeVisible();
  await open(page, `${alone.url}/visits/ly10-v1`);
  await expect(page.getByLabel('To bring next time, a line each')).toHaveValue(/Lamps/);
});

test('a machine entered from nothing: what it does, in ticks, and who it can be', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/machines/new`);
  await page.getByLabel('Tag', { exact: false }).first().fill('QQ-01');
  await page.getByRole('button', { name: 'Begin' }).click();
  await page.waitForURL(/QQ-01|rounds|visits/);
  await open(page, `${alone.url}/machines/QQ-01/functions`);
  for (const part of ['supply', 'board', 'motor', 'lamp']) {
    await page.getByLabel('One more part').fill(part);
    await page.keyboard.press('Enter');
  }
  for (const what of ['wheel turns', 'work light']) {
    await page.getByLabel('One more function').fill(what);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: 'wheel turns, board: not needed' }).click();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'work light, lamp: not needed' }).click();
  await expect(page.getByRole('button', { name: 'wheel turns, motor: needed' })).toBeVisible();
  await expect(page.getByRole('complementary')).toContainText('board, motor');
  await expectNothing(page, 'functions');

  await open(page, `${alone.url}/machines/QQ-01`);
  const bar = page.getByRole('region', { name: 'Visit', exact: true });
  await bar.getByRole('textbox').fill('Wheel does not turn; work light works');
  await bar.getByRole('button', { name: /^Start visit/ }).click();
  await page.waitForURL(/rounds|visits/);
  const id = await page.evaluate(async () => {
    const machine = (await (await fetch('/api/machines/QQ-01')).json()) as { visits: { id: string }[] };
    return machine.visits[0]?.id ?? '';
  });
  await open(page, `${alone.url}/visits/${id}/reason`);
  await expect(page.getByRole('region', { name: suspects }).getByRole('listitem').first()).toContainText(
    'board or motor',
  );
});

test('the map, the photograph and the path mark what is suspected, and Measure says the same', async ({
  edda: page,
  alone,
}) => {
  test.setTimeout(120_000);
  await open(page, `${alone.url}/visits/v3/reason`);
  const reason = await alone.get<{
    pins: { printed: string; position: string | null; share: number }[];
    next: { red: { printed: string } | null }[];
  }>('/api/visits/v3/reason');
  const [most] = reason.pins.filter((p) => p.position !== null);
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  await expect(page.getByTestId('path')).toContainText(`${most!.printed}${percent(most!.share)}`);
  await expect(page.getByTestId('path').locator('line.stroke-rust')).not.toHaveCount(0);
  await page.getByRole('tab', { name: 'Map' }).click();
  const leaf = page.getByRole('complementary', { name: 'What is known' });
  await page.getByRole('button', { name: 'Board', exact: true }).click();
  await page.getByRole('option', { name: 'zone 2' }).click();
  const here = reason.pins.filter((p) => p.position === 'z2');
  expect(here.length).toBeGreaterThan(0);
  for (const pin of here) {
    await expect(
      leaf.getByRole('img', { name: new RegExp(`^${pin.printed}, .*suspected ${percent(pin.share)}`) }),
    ).toBeVisible();
  }
  await expectNothing(page, 'reason with the map');
  // The first board is the one that was photographed and laid.
  await page.getByRole('tab', { name: 'Photograph' }).click();
  await page.getByRole('button', { name: 'Board', exact: true }).click();
  await page.getByRole('option', { name: 'zone 1' }).click();
  const first = reason.pins.find((p) => p.position === 'z1');
  await expect(
    page.getByTestId('photo-map').getByRole('img', { name: new RegExp(`^${first!.printed}, .*suspected`) }),
  ).toBeVisible();

  const { lastRoundId } = await alone.get<{ lastRoundId: string }>('/api/visits/v3/reason');
  await open(page, `${alone.url}/rounds/${lastRoundId}`);
  await expect(page.getByTestId('path')).toContainText(`${most!.printed}${percent(most!.share)}`);
  // Where the readings alone say the same, their sentence stands.
  await expect(page.getByTestId('path-words')).toContainText('The loss is between Z1-J2·4 and Z3-J1·1');
});

test('what tells most is measured in a round, one check after the other, and back', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/visits/ly01-v4/reason`);
  const { round } = await alone.get<{ round: { checkKey: string; words: string; isDead: boolean }[] }>(
    '/api/visits/ly01-v4/reason',
  );
  const live = round.filter((r) => !r.isDead);
  expect(live.length).toBeGreaterThan(1);
  await expect(page.getByRole('link', { name: `Measure the ${round.length} that tell most in a round` })).toBeVisible();
  await page.keyboard.press('F9');
  await expect(page.getByText(`A round of ${round.length} on what is suspected.`)).toBeVisible();
  await expect(page.locator('[data-check]')).toHaveCount(round.length);
  const probe = page.getByTestId('probe');
  await expect(probe).toContainText(live[0]!.words.split(' to ')[0]!);
  await page.keyboard.type('12.3');
  await page.keyboard.press('Enter');
  // What comes next is the next of the round, whatever the sheet would ask for.
  await expect(probe).toContainText(live[1]!.words.split(' to ')[0]!);
  await expect(page.locator('[data-check]')).toHaveCount(round.length);
  await expectNothing(page, 'a round on what is suspected');
  await page.reload();
  await expect(page.getByText(`A round of ${round.length} on what is suspected.`)).toBeVisible();
  await page.getByRole('link', { name: 'Back to Reason' }).click();
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('12.3 V');
});
