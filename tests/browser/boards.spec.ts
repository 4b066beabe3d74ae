import { expect, test } from './fixtures';

test('a spreadsheet is previewed, its doubts shown, and written only when accepted', async ({ edda: page, alone }) => {
  await page.goto(`${alone.url}/machines/LY-04/boards/z1/terminals`);
  await page.getByLabel('A file: CSV').setInputFiles({
    name: 'eyes.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'connector;pin;colour;signal;should read\nJ7;1;BL;door eye;24 V \xb15%\n;2-3;GY;return;\n;4;;spare;1,200\n',
      'latin1',
    ),
  });
  await expect(page.getByText('3 new, 0 changed, 0 refused, 2 in doubt.')).toBeVisible();
  await expect(page.getByText('Windows-1252, semicolons.')).toBeVisible();
  await expect(page.getByText(/"BL" may be black \(BK\) or blue \(BU\)/)).toBeVisible();
  await expect(page.getByText('J7·2 to 3, 2 pins, grey, return')).toBeVisible();
  expect(await (await fetch(`${alone.url}/api/board-types/cawdale-zone-c/terminals.csv`)).text()).not.toContain('J7');
  await page.getByRole('button', { name: 'Accept these rows' }).click();
  await expect(page.getByRole('button', { name: 'Z1-J7·3', exact: true })).toBeVisible();
  await expect(page.getByTestId('board-map').getByText('J7')).toBeVisible();
});

test('two people change one pin: the second sees both texts and chooses', async ({ edda: page, alone, allow }) => {
  allow(/status of 409/);
  await page.goto(`${alone.url}/machines/LY-04/boards/z3`);
  await page.getByRole('button', { name: 'Z3-J3·BR', exact: true }).click();
  await expect(page.getByLabel('What it does')).toHaveValue('brake release');
  const pin = `${alone.url}/api/board-types/cawdale-zone-c/pins/j3/j3-3`;
  await fetch(pin, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ version: 1, label: 'BR', colours: 'PK', signal: 'brake coil' }),
  });
  await page.getByLabel('What it does').fill('brake, 24 V to release');
  await page.keyboard.press('Enter');
  const clash = page.getByRole('alert');
  await expect(clash).toContainText('yours: brake, 24 V to release');
  await expect(clash).toContainText('theirs: brake coil');
  await clash.getByRole('button', { name: 'Keep mine' }).click();
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  await expect(page.getByRole('row', { name: /Z3-J3·BR/ })).toContainText('brake, 24 V to release');
});

test('a new machine from its plate, and the ending of a visit', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-31');
  await page.getByLabel(/^What it is/).fill('net winch');
  await page.getByLabel(/^Boards/).fill('ST-8');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: 'Photographs of LY-31' })).toBeVisible();
  await page.goto(`${ledger.url}/machines/LY-31`);
  await page
    .getByRole('navigation')
    .getByRole('link', { name: /^board/ })
    .click();
  await page.getByRole('link', { name: 'From a spreadsheet' }).click();
  await page
    .getByLabel('or paste the rows here')
    .fill('connector,pin,colour,common,expected\nX1,L+,RD,M,12 V\nX1,M,BK,,\n');
  await page.getByRole('button', { name: 'Accept these rows' }).click();
  await expect(page.getByRole('button', { name: 'B1-X1·L+', exact: true })).toBeVisible();
  await page.goto(`${ledger.url}/machines/LY-31`);
  await page.getByLabel('What is the complaint?').fill('does not hold');
  await page.keyboard.press('F9');
  await expect(page.getByTestId('outside')).toBeVisible();
  await page.keyboard.press('F9');
  await expect(page.getByTestId('probe')).toContainText('B1-X1·L+');
  await page.goto(`${ledger.url}/machines/LY-31`);
  await page.getByRole('button', { name: 'End the visit' }).click();
  await page.getByRole('radio', { name: 'waiting for a part' }).click();
  await page.getByLabel(/^Left unplugged/).fill('X1 unplugged');
  await page.getByLabel(/^To bring/).fill('a relay');
  await page.getByLabel('Labour, minutes').fill('40');
  await page.getByRole('dialog').getByRole('button', { name: 'End the visit' }).click();
  const brief = page.getByRole('region', { name: 'From the last visit' });
  await expect(brief).toContainText('waiting for a part');
  await expect(brief).toContainText('Left: X1 unplugged');
  await expect(brief).toContainText('Bring: a relay');
  await expect(page.getByRole('button', { name: /^Start visit/ })).toBeVisible();
});
