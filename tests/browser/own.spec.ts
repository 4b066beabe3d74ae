import { choose, expect, measure, test } from './fixtures';
import { Ledger } from './ledger';

test('on an empty ledger a machine of one’s own is entered, measured, made safe and signed through the screens alone', async ({
  page,
  allow,
}) => {
  allow(/status of 409/);
  const ledger = await Ledger.empty();
  try {
    await page.goto(ledger.url);
    await page.getByLabel('Another name').fill('Ruth');
    await page.getByRole('button', { name: 'That is me' }).click();
    await expect(page.getByRole('link', { name: 'Ruth' }).or(page.getByRole('button', { name: 'Ruth' }))).toBeVisible();
    await page.goto(`${ledger.url}/machines/new`);
    await page.getByLabel(/^Tag/).fill('WX-1');
    await page.getByLabel(/^What it is/).fill('bench hoist');
    await page.getByLabel(/^Boards/).fill('CT-70');
    await page.getByRole('button', { name: 'Begin' }).click();
    await expect(page.getByRole('heading', { name: 'Photographs of WX-1' })).toBeVisible();

    // Nobody wrote a revision or a size, and none is made up.
    await page.goto(`${ledger.url}/machines/WX-1`);
    await page
      .getByRole('navigation')
      .getByRole('link', { name: /^board/ })
      .click();
    await expect(page.getByText('Nobody has measured this board yet')).toBeVisible();
    await expect(page.locator('body')).not.toContainText('rev A');
    await page.getByRole('link', { name: 'From a spreadsheet' }).click();
    await page
      .getByLabel('or paste the rows here')
      .fill(
        [
          'connector,pin,colour,signal,common,expected,feeds,source',
          'X1,1,RD,B+ in,X1-2,12 V,X2-1,yes',
          'X1,2,BK,return,,,,',
          'X2,1,YE,out to the lamp,X1-2,B+,,',
          'X2,2,BU,stop switch,X1-2,NC,,',
        ].join('\n'),
      );
    await page.getByRole('button', { name: 'Accept these rows' }).click();
    await expect(page.getByRole('button', { name: 'B1-X2·1', exact: true })).toBeVisible();

    // The latch is a landmark that one counts by; size and revision are written where they were open.
    await page.getByRole('link', { name: 'Lay it out' }).click();
    const size = page.getByRole('form', { name: 'Size of the board' });
    await size.getByLabel('Width, mm').fill('90');
    await size.getByLabel('Height, mm').fill('60');
    await size.getByLabel('Revision').fill('B');
    await size.getByRole('button', { name: 'Keep' }).click();
    await expect(page.getByRole('heading', { name: 'Layout of CT-70 rev B' })).toBeVisible();
    await page.getByRole('button', { name: /^X1, connector/ }).focus();
    await choose(page.getByLabel('Side of the latch'), 'up');
    await expect(page.getByRole('button', { name: /^Undo/ })).toBeEnabled();

    await page.goto(`${ledger.url}/machines/WX-1`);
    await page.getByLabel('What is the complaint?').fill('lamp dim');
    await page.keyboard.press('F9');
    await expect(page.getByTestId('outside')).toBeVisible();

    // What feeds it nobody wrote down, so one supply is taken as given: plug in sight, AC and DC in one line.
    await page.keyboard.press('F7');
    const act = page.getByTestId('next-act');
    await expect(act).toContainText('switch off supply');
    await page.keyboard.press('Enter');
    await expect(act).toContainText('isolate supply');
    await page.getByRole('button', { name: 'The plug is pulled and stays in my sight' }).click();
    await expect(act).toContainText('prove the meter on a known source');
    await page.keyboard.type('socket 4');
    await page.keyboard.press('Enter');
    for (const pair of [/L\s*N\s*AC volts/, /L\s*earth\s*AC volts/, /N\s*earth\s*AC volts/]) {
      await expect(act.locator('p').first()).toHaveText(pair);
      await page.keyboard.type('0.2 / 0');
      await page.keyboard.press('Enter');
    }
    await expect(act).toContainText('prove the meter again');
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('safe')).toContainText('proved dead');
    await page.getByRole('button', { name: 'Go live again' }).click();
    await page.getByRole('form', { name: 'Go live again' }).getByLabel('Why?').fill('to read it under load');
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('safe')).toContainText('live');

    await page.keyboard.press('F9');
    const probe = page.getByTestId('probe');
    await expect(probe).toContainText('B1-X1·1');
    await expect(probe).toContainText('-10/+20 %, usual for an unregulated supply');
    await expect(probe).toContainText('latch above');
    await measure(page, '12.6');
    await expect(page.getByTestId('last')).toContainText('within');
    await page.locator('tr', { hasText: 'out to the lamp' }).getByRole('button').click();
    await expect(probe).toContainText('at least 12.1 V: the supply reads 12.6 V');
    await measure(page, '10.4');
    await expect(page.getByTestId('last')).toContainText('low');
    await expect(page.getByTestId('path-words')).toContainText('B1-X1·1');

    await page.goto(`${ledger.url}/machines/WX-1`);
    await page.getByRole('button', { name: 'End the visit' }).click();
    await page.getByRole('radio', { name: 'repaired and signed' }).click();
    const before = page.getByRole('region', { name: 'Before you sign' });
    await expect(before).toContainText('B1-X2·1');
    await expect(before).toContainText('Not taken again');
    await expect(page.getByLabel('What was done')).toHaveValue(/readings? taken/);
    await page.getByLabel('What was done').focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: /^Start visit/ })).toBeVisible();
  } finally {
    await page.close();
    await ledger.kill();
  }
});
