import { choose, expect, measure, open, test } from './fixtures';
import { Ledger } from './ledger';

test('on an empty ledger two boards, a supply and what joins them are entered, and the fault between them is named', async ({
  page,
}) => {
  const ledger = await Ledger.empty();
  try {
    await page.goto(ledger.url);
    await page.getByLabel('Another name').fill('Ruth');
    await page.getByRole('button', { name: 'That is me' }).click();
    await expect(page.getByRole('link', { name: 'Ruth' })).toBeVisible();
    await page.goto(`${ledger.url}/machines/new`);
    await page.getByLabel(/^Tag/).fill('GT-1');
    await page.getByLabel(/^What it is/).fill('slip gate');
    await page.getByLabel(/^Boards/).fill('MB-7, RB-2');
    await page.getByRole('button', { name: 'Begin' }).click();
    await expect(page.getByRole('heading', { name: 'Photographs of GT-1' })).toBeVisible();

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
    await page.getByRole('button', { name: `PS·- to ${first}-J1·2: feeds it; change` }).click();
    await expect(page.getByRole('button', { name: `PS·- to ${first}-J1·2: no direction; change` })).toBeVisible();
    await expect(understood).toContainText('orange at');
    await expect(page.getByText('kept', { exact: true })).toBeVisible();
    await page.reload();
    await expect(page.getByRole('table', { name: 'Wires' }).getByRole('row')).toHaveCount(4);
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
