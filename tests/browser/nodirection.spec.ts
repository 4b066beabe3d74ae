import { expectNothing } from './axe';
import { beginMachine, choose, expect, measure, open, test } from './fixtures';
import { Ledger } from './ledger';

test('on an empty ledger a circuit is entered over wires without direction, and says the path, the order and the fault', async ({
  page,
}) => {
  const ledger = await Ledger.empty();
  try {
    await beginMachine(page, ledger, { tag: 'WN-1', name: 'boat winch', boards: 'WB-3' });
    const machine = await ledger.get<{ boards: { positionId: string; prefix: string }[] }>('/api/machines/WN-1');
    const { positionId = '', prefix = '' } = machine.boards[0] ?? {};
    const rows = [
      'connector,pin,colour,signal',
      'J1,1,RD,24 V in',
      'J1,2,BK,return',
      'J2,1,OG,winch',
      'J2,2,BK,winch return',
    ];
    await page.goto(`${ledger.url}/machines/WN-1/boards/${positionId}/terminals`);
    await page.getByLabel('or paste the rows here').fill(rows.join('\n'));
    await page.getByRole('button', { name: 'Accept these rows' }).click();
    await expect(page.getByRole('button', { name: /-J2·2$/ })).toBeVisible();

    await open(page, `${ledger.url}/machines/WN-1/wiring`);
    const understood = page.getByRole('complementary', { name: 'As the ledger understands it' });
    await choose(page.getByLabel('Add what is off the boards'), 'supply');
    await expect(understood).toContainText('Power enters at PS·+');
    await choose(page.getByLabel('Add what is off the boards'), 'motor');
    const parts = page.getByRole('group', { name: 'Off the boards' });
    await expect(parts.getByLabel('Called').nth(1)).toHaveValue('M1');
    await page.getByLabel('feeds it').uncheck();
    for (const [from, to] of [
      ['ps+', `${prefix}j11`],
      ['ps-', `${prefix}j12`],
      [`${prefix}j21`, 'm11'],
      [`${prefix}j22`, 'm12'],
    ] as const) {
      await page.getByLabel('From here').focus();
      await page.keyboard.type(from);
      await expect(page.getByRole('option').first()).toBeVisible();
      await page.keyboard.press('Enter');
      await page.keyboard.press('Tab');
      await page.keyboard.type(to);
      await expect(page.getByRole('option').first()).toBeVisible();
      await page.keyboard.press('Enter');
      await page.keyboard.press('Enter');
    }
    const wires = page.getByRole('grid', { name: 'Wires' });
    await expect(wires.getByRole('row')).toHaveCount(6);
    await expect(wires.getByRole('row', { name: /PS·\+/ })).toContainText('no direction');
    const branches = understood.getByRole('list', { name: 'Branches' });
    await expect(branches).not.toContainText('M1');
    await expect(page.getByText('kept', { exact: true })).toBeVisible();

    await open(page, `${ledger.url}/machines/WN-1/circuit`);
    const grid = page.getByRole('grid', { name: 'Circuit' });
    for (const cells of [
      ['PS', 'supply 24 V, at most 10 A', ''],
      ['Winch output', 'output', `${prefix}-J1·1 to ${prefix}-J2·1`],
      ['Winch return', 'wire 2.5 mm² 0.2 m', `${prefix}-J2·2 to ${prefix}-J1·2`],
      ['M1', 'motor 24 V 3 A, winding 1.2 Ω', ''],
    ]) {
      const before = await grid.getByRole('row').count();
      await grid.getByRole('row').last().getByRole('gridcell').first().click();
      for (const cell of cells) {
        await page.keyboard.type(cell);
        await page.keyboard.press('Tab');
      }
      await expect(grid.getByRole('row')).toHaveCount(before + 1);
    }
    const table = page.getByRole('region', { name: 'What is on when' });
    const line = table.getByRole('row', { name: /^Winch output/ });
    // Nobody said it: in every state that is energised. It is on while the winch runs, and at no other time.
    await expect(line.getByRole('button', { pressed: true })).toHaveCount(3);
    await line.getByRole('button', { name: /standby/ }).click();
    await line.getByRole('button', { name: /stopped/ }).click();
    await expect(line.getByRole('button', { pressed: true })).toHaveCount(1);
    await expect(grid).toContainText('running');
    await expect(page.getByText('kept', { exact: true })).toBeVisible();
    await expectNothing(page, 'the parts of a circuit');

    // The way that nobody entered.
    await open(page, `${ledger.url}/machines/WN-1/wiring`);
    await expect(branches).toContainText(`PS·+ › ${prefix}-J1·1 › ${prefix}-J2·1 › M1·1`);
    await expect(branches).toContainText(`Nobody entered the way to ${prefix}-J1·1, ${prefix}-J2·1, M1·1`);
    await expect(understood).not.toContainText('feeds others, and nothing feeds it');

    // And the sheet that nobody typed, in the order of that way.
    await page.goto(`${ledger.url}/machines/WN-1`);
    await page.getByLabel('What is the complaint?').fill('the winch does not turn');
    await page.keyboard.press('F9');
    await expect(page.getByTestId('outside')).toBeVisible();
    await page.keyboard.press('F9');
    await expect(page.getByTestId('probe')).toBeVisible();
    await expect(page.locator('[data-check]').first()).toContainText('PS·+');
    await measure(page, '24');
    await expect(page.getByTestId('probe')).toContainText(`${prefix}-J1·1`);
    await measure(page, '23.9');
    // Alive while it runs: what the board switches on does not come.
    await page.locator('[data-check]', { hasText: '22.8..24.7' }).getByRole('button').click();
    await expect(page.getByTestId('probe')).toContainText(`${prefix}-J2·1`);
    await measure(page, '0.1');
    await expect(page.getByTestId('path-words')).toContainText(`The loss is between PS·+ and ${prefix}-J2·1`);
    await expect(page.getByTestId('path-words')).toContainText(`the path ${prefix}-J1·1 to ${prefix}-J2·1`);
  } finally {
    await page.close();
    await ledger.kill();
  }
});
