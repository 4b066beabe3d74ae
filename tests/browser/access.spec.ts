import { expectNothing } from './axe';
import { expect, measure, newRound, open, test } from './fixtures';

const views = [
  '/',
  '/machines',
  '/machines?find=nothing',
  '/person',
  '/waiting',
  '/machines/new',
  '/machines/LY-01',
  '/machines/LY-04',
  '/machines/LY-08/door',
  '/machines/LY-03/settings',
  '/machines/LY-04/wiring',
  '/machines/LY-04/sheet',
  '/machines/LY-03/circuit?fault=DR-F1%2F1&other=DR-F2%2F1',
  '/machines/LY-01/circuit?view=parts',
  '/machines/LY-08/photographs',
  '/machines/LY-04/boards/z1',
  '/machines/LY-04/boards/z1/terminals',
  '/photographs/ly08-p2',
  '/board-types/quillpike-hall-a',
  '/visits/ly01-v3',
  '/visits/ly01-v3/call',
  '/visits/ly07-v1/arrive',
  '/visits/ly07-v1/safe',
  '/visits/ly07-v1/boards/tb',
  '/models/merrowby-gala?from=LY-10',
  '/models/oskerra-veil',
  '/shop',
  '/sums/set',
  '/visits/ly07-v1/sums/fuse',
  '/machines/LY-08/boards/cb',
  '/machines/LY-08/boards/cb?on=photograph',
  '/machines/LY-08/boards/dp/codes',
  '/machines/LY-05/boards/rg/codes',
  '/board-types/hobrace-hb61-4/layout',
  '/labels?machines=LY-08',
  '/scan',
  '/visits/ly07-v1/look',
  '/rounds/ly07-r1',
  '/rounds/r3',
  '/rounds/r3/paper',
  '/visits/v3/stopwatch',
  '/visits/v3/reason',
  '/visits/ly11-v1/reason',
  '/machines/LY-11/functions',
  '/faults/ly01-f1',
  '/nowhere',
];

for (const size of [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]) {
  test(`axe finds nothing on any view in either theme, ${size.width}`, async ({ edda: page, ledger }) => {
    test.setTimeout(400_000);
    await page.setViewportSize(size);
    for (const view of views) {
      await open(page, ledger.url + view);
      await expectNothing(page, view);
    }
  });

  // A chosen pin, why, an interruption, the extra reading, the ending, a preview.
  test(`axe finds nothing in what opens within a view, ${size.width}`, async ({ edda: page, ledger }) => {
    test.setTimeout(400_000);
    await page.setViewportSize(size);
    await page.goto(`${ledger.url}/machines/LY-04/boards/z1`);
    await page.getByRole('button', { name: 'Z1-J1·1', exact: true }).click();
    await expectNothing(page, 'a chosen pin');
    await page.goto(`${ledger.url}/rounds/${await newRound(ledger)}`);
    await measure(page, '3.1');
    await page.keyboard.press('?');
    await expect(page.getByRole('region', { name: 'Why' })).toBeVisible();
    await expectNothing(page, 'why and an interruption');
    await page.keyboard.press('F4');
    await expect(page.getByRole('form', { name: 'Extra reading' })).toBeVisible();
    await expectNothing(page, 'extra reading');
    await page.goto(`${ledger.url}/visits/ly07-v1/safe`);
    await page.getByRole('button', { name: 'Place one' }).click();
    await expectNothing(page, 'a temporary link');
    await page.goto(`${ledger.url}/visits/ly07-v1/arrive`);
    await page.getByRole('button', { name: /^All 11/ }).click();
    await page.getByTestId('outside').getByRole('button', { name: /^No/ }).click();
    await expectNothing(page, 'an outside check');
    await page.goto(`${ledger.url}/models/merrowby-gala`);
    await page
      .getByText(/^What follows/)
      .nth(1)
      .click();
    await expectNothing(page, 'what follows from a build');
    await page.goto(`${ledger.url}/board-types/oskerra-vg-b`);
    await page.getByRole('list', { name: 'Codes' }).getByRole('button').first().click();
    await expectNothing(page, 'a code that is written');
    await page.goto(`${ledger.url}/machines/LY-04`);
    await page.getByRole('button', { name: 'End the visit' }).click();
    await expectNothing(page, 'the ending');
    await page.goto(`${ledger.url}/machines/LY-04/boards/z1/terminals`);
    await page.getByLabel('or paste the rows here').fill('connector,pin,colour\nJ1,1,BL\n');
    await expect(page.getByText('1 in doubt')).toBeVisible();
    await expectNothing(page, 'a preview');
    await page.goto(`${ledger.url}/machines/LY-04/sheet`);
    await page.getByLabel('Paste the whole sheet, or type it').fill('Pin,Zork,Volts\nJ77-1,x,24 V\nJ78-1,y,pulses\n');
    await expect(page.getByRole('region', { name: 'To be looked at' })).toBeVisible();
    await expectNothing(page, 'a sheet that asks');
    await page.getByLabel('Paste the whole sheet, or type it').fill('');
    await page.getByRole('tab', { name: 'Row by row, from paper' }).click();
    await page.getByRole('button', { name: 'A plug drawn as a grid' }).click();
    await expectNothing(page, 'a sheet row by row');
    await open(page, `${ledger.url}/machines/LY-04/wiring`);
    await page.getByRole('tab', { name: 'On a picture' }).click();
    await expect(page.getByTestId('board-map')).toBeVisible();
    await expectNothing(page, 'the ends of a wire on a map');
  });
}
