import { beginMachine, choose, expect, measure, newVisit, open, settled, test } from './fixtures';
import { Ledger } from './ledger';

test('on an empty ledger two boards, a supply and what joins them are entered, and the fault between them is named', async ({
  page,
}) => {
  const ledger = await Ledger.empty();
  try {
    await beginMachine(page, ledger, { tag: 'GT-1', name: 'slip gate', boards: 'MB-7, RB-2' });

    const machine = await ledger.get<{ boards: { positionId: string; name: string; prefix: string }[] }>(
      '/api/machines/GT-1',
    );
    const rows = [
      'connector,pin,colour,signal,common,expected,feeds',
      'J1,1,RD,24 V in,J1-2,24 V ±5 %,J2-1',
      'J1,2,BK,return,,,',
      'J2,1,OG,24 V on,J1-2,24 V ±5 %,',
    ];
    for (const { positionId } of machine.boards) {
      await page.goto(`${ledger.url}/machines/GT-1/boards/${positionId}/terminals`);
      await page.getByLabel('or paste the rows here').fill(rows.join('\n'));
      await page.getByRole('button', { name: 'Accept these rows' }).click();
      await expect(page.getByRole('button', { name: /-J2·1$/ })).toBeVisible();
    }
    const [first = '', second = ''] = machine.boards.map((b) => b.prefix);

    await open(page, `${ledger.url}/machines/GT-1/wiring`);
    const understood = page.getByRole('complementary', { name: 'As the ledger understands it' });
    await expect(understood).toContainText('Nobody has said yet where power enters');
    await choose(page.getByLabel('Add what is off the boards'), 'supply');
    const parts = page.getByRole('group', { name: 'Off the boards' });
    await expect(parts.getByLabel('Called')).toHaveValue('PS');
    await expect(understood).toContainText('Power enters at PS·+');

    // By the keyboard, as one says it: dashes and dots may be left out.
    for (const [from, to] of [
      ['ps+', `${first}j11`],
      [`${first}j21`, `${second}j11`],
      ['ps-', `${first}j12`],
    ]) {
      await page.getByLabel('From here').focus();
      await page.keyboard.type(from ?? '');
      await expect(page.getByRole('option').first()).toBeVisible();
      await page.keyboard.press('Enter');
      await page.keyboard.press('Tab');
      await page.keyboard.type(to ?? '');
      await expect(page.getByRole('option').first()).toBeVisible();
      await page.keyboard.press('Enter');
      await page.keyboard.press('Enter');
    }
    const branches = understood.getByRole('list', { name: 'Branches' });
    await expect(branches).toContainText(`PS·+ › ${first}-J1·1 › ${first}-J2·1 › ${second}-J1·1 › ${second}-J2·1`);
    // The return feeds nothing; it is put right where it is told.
    await page.getByRole('button', { name: 'No direction: PS·-' }).click();
    const grid = page.getByRole('grid', { name: 'Wires' });
    await expect(grid.getByRole('row', { name: /PS·-/ })).toContainText('no direction');
    await expect(understood).toContainText('orange at');
    await expect(page.getByText('kept', { exact: true })).toBeVisible();
    await page.reload();
    // Headings, three wires, and the row in which the next is typed.
    await expect(grid.getByRole('row')).toHaveCount(5);
    await expect(branches).toContainText(`${second}-J2·1`);

    // Measured: good up to the end of the first board, low at the second.
    await page.goto(`${ledger.url}/machines/GT-1`);
    await page.getByLabel('What is the complaint?').fill('the gate creeps');
    await page.keyboard.press('F9');
    await expect(page.getByTestId('outside')).toBeVisible();
    await page.keyboard.press('F9');
    await expect(page.getByTestId('probe')).toContainText(`${first}-J1·1`);
    await measure(page, '24.1');
    await page
      .locator('[data-check]', { hasText: `${first}-J2·1` })
      .getByRole('button')
      .click();
    await measure(page, '24');
    await page
      .locator('[data-check]', { hasText: `${second}-J1·1` })
      .getByRole('button')
      .click();
    await measure(page, '18.2');
    await expect(page.getByTestId('path-words')).toContainText(`The loss is between ${first}-J2·1 and ${second}-J1·1`);
  } finally {
    await page.close();
    await ledger.kill();
  }
});

test('wires are pasted as a block, taken back, made by a cable and by what beeps', async ({
  edda: page,
  alone,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await open(page, `${alone.url}/machines/LY-11/wiring`);
  const grid = page.getByRole('grid', { name: 'Wires' });
  const rows = grid.getByRole('row');
  await expect(rows).toHaveCount(16);

  // Three rows, one of which names a pin that is not there: it waits with what was pasted, over a reload too.
  await page.evaluate(() =>
    navigator.clipboard.writeText(
      'DRI-J2·3\tLOG-J7·1\t301\tnone\ndri-j2.4\tlogj72\t302\tfeeds\nDRI-J4·2\tQQ·7\t303\tnone\n',
    ),
  );
  await rows.last().getByRole('gridcell').first().click();
  await page.keyboard.press('Control+V');
  await expect(rows).toHaveCount(19);
  await expect(grid.getByRole('row', { name: /DRI-J2·4 LOG-J7·2 302 feeds/ })).toBeVisible();
  await expect(page.getByText('There is no one pin “QQ·7”.')).toBeVisible();
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByText('There is no one pin “QQ·7”.')).toBeVisible();

  // Mended in its cell it is a wire; taken back it is none.
  await grid.getByRole('gridcell', { name: 'QQ·7' }).click();
  await page.keyboard.type('P12·3');
  await page.keyboard.press('Enter');
  await expect(page.getByText('There is no one pin')).toHaveCount(0);
  await expect(grid.getByRole('row', { name: /DRI-J4·2 P12·3 303/ })).toBeVisible();
  await page.keyboard.press('Control+Z');
  await expect(grid.getByRole('row', { name: /DRI-J4·2 P12·3 303/ })).toHaveCount(0);

  // A cable pin to pin; where the colours do not agree it says so, and takes it only when told.
  await page.getByRole('tab', { name: 'A cable' }).click();
  const cable = page.getByRole('form', { name: 'Join by a cable' });
  await choose(cable.getByLabel('From connector'), 'DRI-J4, 4 pins');
  await choose(cable.getByLabel('to connector'), 'LOG-J7, 3 pins');
  await expect(cable.getByRole('list', { name: 'Cores' })).toContainText('violet here, green there');
  await expect(cable.getByText(/Without another end/)).toContainText('DRI-J4·4');
  await expect(cable.getByRole('button', { name: 'Join 0 wires' })).toBeDisabled();
  await cable.getByRole('checkbox', { name: /^DRI-J4·3/ }).click();
  await cable.getByRole('button', { name: 'Join 1 wire' }).click();
  await expect(grid.getByRole('row', { name: /DRI-J4·3 LOG-J7·3/ })).toBeVisible();

  // Beeped out: hold one end, tap what beeps.
  await page.getByRole('tab', { name: 'Beep out' }).click();
  await page.getByLabel('Hold one probe here').fill('DIS-J1·2');
  await page.getByRole('option', { name: /DIS-J1·2/ }).click();
  const beeps = page.getByRole('group', { name: 'Beeps against DIS-J1·2' });
  await expect(beeps.getByRole('button', { name: 'LOG-J6·3' })).toHaveAttribute('aria-pressed', 'true');
  await beeps.getByRole('button', { name: 'J12·3' }).click();
  await expect(grid.getByRole('row', { name: /DIS-J1·2 J12·3/ })).toContainText('no direction');
  await beeps.getByRole('button', { name: 'J12·3' }).click();
  await expect(grid.getByRole('row', { name: /DIS-J1·2 J12·3/ })).toHaveCount(0);
});

test('checks from board to board are typed in one table; a wrong row waits and holds up no other', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/machines/LY-11/wiring`);
  const grid = page.getByRole('grid', { name: 'Checks from board to board' });
  const rows = grid.getByRole('row');
  const before = await rows.count();
  await rows.last().getByRole('gridcell').first().click();
  await page.keyboard.type('DIS-J1·3');
  await page.keyboard.press('Tab');
  // A row without its value waits, with what is typed.
  await expect(rows).toHaveCount(before + 1);
  await page.keyboard.type('DRI-J1-2');
  await page.keyboard.press('Tab');
  const row = grid.getByRole('row', { name: /DIS-J1·3/ });
  await row.getByRole('gridcell').nth(5).click();
  await page.keyboard.type('5 V ±5 %');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/a limit was expected/)).toHaveCount(0);
  await expect(row).toContainText('DRI-J1·2');

  await row.getByRole('gridcell').nth(3).click();
  await page.keyboard.type('asleep');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/"asleep" is not a state here/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/"asleep" is not a state here/)).toBeVisible();
  await expect(row).toContainText('asleep');
  await row.getByRole('gridcell').nth(3).click();
  await page.keyboard.type('running');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/"asleep" is not a state here/)).toHaveCount(0);
  // Kept: no "keeping" beside the table any more.
  await expect(page.getByRole('region', { name: 'Checks from board to board' }).getByRole('status')).toHaveCount(0);
  await page.reload();
  await expect(row).toContainText('running');

  // It is asked for in the next round.
  const { id } = await alone.get<{ id: string }>('/api/machines/LY-11');
  const { round } = await newVisit(alone, id);
  await open(page, `${alone.url}/rounds/${round}`);
  await expect(page.locator('[data-check]', { hasText: 'DIS-J1·3' })).toContainText('5 V ±5 %');
});

test('a wire is made by pressing its two ends, on the map of a board and on a photograph of the panel', async ({
  edda: page,
  alone,
}) => {
  const before = await alone.get<{ wiring: { wires: unknown[] }; positions: { id: string }[] }>(
    '/api/models/cawdale-trundle',
  );
  await open(page, `${alone.url}/machines/LY-04/wiring`);
  await page.getByRole('tab', { name: 'On a picture' }).click();
  const wires = page.getByRole('region', { name: 'Wires' });
  await wires
    .getByTestId('board-map')
    .getByRole('button', { name: /^Z1-J4·8,/ })
    .click();
  await expect(wires.getByRole('status').first()).toContainText('From Z1-J4·8: now press where it goes.');
  await wires.getByLabel(/^On/).click();
  await page.getByRole('option', { name: /^Z2/ }).click();
  await wires
    .getByTestId('board-map')
    .getByRole('button', { name: /^Z2-J4·8,/ })
    .click();
  await expect(wires.getByRole('status').first()).toContainText('Z1-J4·8 feeds Z2-J4·8.');
  await expect
    .poll(async () => (await alone.get<typeof before>('/api/models/cawdale-trundle')).wiring.wires.length)
    .toBe(before.wiring.wires.length + 1);

  // Power enters at a board as well: it is said of the board.
  const understood = page.getByRole('complementary', { name: 'As the ledger understands it' });
  await understood.getByLabel('and at').fill('z1j18');
  await understood.getByLabel('and at').fill('z1-j1·4');
  await page.getByRole('option').first().click();
  await expect(understood).toContainText('every machine that has this board');
  await understood.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(understood.getByRole('list', { name: 'Power enters at' })).toContainText('Z1-J1·4');
  await understood.getByRole('button', { name: 'Power does not enter at Z1-J1·4' }).click();
  await expect(understood.getByRole('list', { name: 'Power enters at' })).not.toContainText('Z1-J1·4');
});

test('a check of one machine alone stands on its sheet and not on its sister’s', async ({ edda: page, alone }) => {
  const { id } = await alone.get<{ id: string }>('/api/machines/LY-11');
  await open(page, `${alone.url}/machines/LY-11/wiring`);
  const grid = page.getByRole('grid', { name: 'Checks of LY-11 alone' });
  const section = page.getByRole('region', { name: 'Checks of LY-11 alone' });
  const cell = (column: number) => grid.getByRole('row').nth(1).getByRole('gridcell').nth(column);
  await cell(0).click();
  await page.keyboard.type('DRI-J2·1');
  await page.keyboard.press('Enter');
  // What is wrong in a row is named in its cell; the rest of it stays as it was typed.
  await expect(section.getByRole('alert')).toContainText(/missing|write/i);
  await cell(5).click();
  await page.keyboard.type('23 to 25');
  await page.keyboard.press('Enter');
  await expect(cell(5)).toHaveText('23..25 V');
  await expect(section.getByRole('status')).toBeHidden();
  await page.reload();
  await settled(page);
  await expect(cell(0)).toHaveText('DRI-J2·1');
  await expect(cell(5)).toHaveText('23..25 V');
  const { round } = await newVisit(alone, id);
  const rows = await alone.get<{ rows: { red: { printed: string } | null; limit: string }[] }>(`/api/rounds/${round}`);
  expect(rows.rows.filter((r) => r.red?.printed === 'DRI-J2·1' && /23.*25/.test(r.limit))).toHaveLength(1);
  // A sister of the same model knows nothing of it.
  await page.goto(`${alone.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-13');
  await page.getByLabel('Another of').click();
  await page.getByRole('option', { name: /gate/i }).click();
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page).toHaveURL(/LY-13\/photographs$/);
  const { id: other } = await alone.get<{ id: string }>('/api/machines/LY-13');
  const sister = await alone.get<{ checks: unknown[] }>(`/api/machines/${other}/checks`);
  expect(sister.checks).toEqual([]);
});
