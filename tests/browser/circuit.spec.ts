import type { Page } from '@playwright/test';
import { expectNothing } from './axe';
import { choose, expect, open, test } from './fixtures';

/** Types a row of the circuit, cell after cell, without the mouse once one stands in the first. */
async function row(page: Page, ...cells: string[]): Promise<void> {
  const rows = page.getByRole('grid', { name: 'Circuit' }).getByRole('row');
  const before = await rows.count();
  await rows.last().getByRole('gridcell').first().click();
  await page.keyboard.type(cells[0] ?? '');
  await page.keyboard.press('Tab');
  await expect(rows).toHaveCount(before + 1);
  for (const cell of cells.slice(1)) {
    if (cell) {
      await page.keyboard.type(cell);
    }
    await page.keyboard.press('Tab');
  }
  await expect(rows.nth(before - 1)).toContainText(cells[1] ?? '');
}

test('a circuit is entered from nothing, and says what every pin reads, why, and under every fault', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/machines/LY-11/circuit`);
  const leaf = page.getByRole('complementary');
  await expect(leaf).toContainText('No source is known yet');
  await expect(leaf.getByRole('listitem').filter({ hasText: 'TB1' })).toContainText('its volts');

  await row(page, 'TB1', 'supply 24.6 V');
  await expect(leaf).toContainText('checks worked out');
  await row(page, 'DRI-F1', 'fuse 5 A');
  await row(page, 'Logic', 'board 24 V 150 mA', 'LOG-J5·1 to LOG-J5·2');
  await row(page, 'Gate motor', 'gadget 24 V');
  await expect(page.getByRole('list', { name: 'Rows that do not count' })).toContainText('no kind of part');
  // What is not understood stays as it was written, over a reload as well.
  await page.reload();
  const grid = page.getByRole('grid', { name: 'Circuit' });
  await page.getByRole('tab', { name: 'What it is made of' }).click();
  await expect(grid).toContainText('gadget 24 V');
  await grid.getByText('gadget 24 V').click();
  await page.keyboard.type('lamp 24 V 5 W');
  await page.keyboard.press('Tab');
  await page.keyboard.type('DRI-J4·1 to DRI-J4·2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('list', { name: 'Rows that do not count' })).toHaveCount(0);
  // Nothing feeds the logic yet: by what is entered it is never on, and the ledger says so.
  await expect(page.getByRole('list', { name: 'What cannot be right as entered' })).toContainText(
    'Logic would get nothing in any state',
  );

  await page.getByRole('tab', { name: 'What it reads' }).click();
  const table = page.getByRole('table', { name: 'What LY-11 reads' });
  await expect(table.getByRole('row', { name: /^LOG-J5·1/ })).toContainText('24.');
  await expectNothing(page, 'circuit');
  await page.getByLabel('Red probe at').fill('LOG-J5.1');
  await page.getByLabel('Black probe at').fill('TB1.-');
  await expect(page.getByRole('region', { name: /^Any two pins/ }).getByRole('status')).toContainText('24.');
  await page.keyboard.press('F9');
  await page.keyboard.type('s1 not close');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toContainText('Shows best at');
  await expect(table.getByRole('row', { name: /^LOG-J5·1/ })).toContainText('plainly');
  await table.getByRole('button', { name: /^LOG-J5·1/ }).click();
  await expect(leaf.getByRole('region', { name: 'From the source' })).toContainText('stops: S1');
  await leaf.getByRole('tab', { name: 'Why?' }).click();
  await expect(leaf).toContainText('What moves it most');
  await expect(leaf.getByRole('listitem').first()).toContainText('TB1 volts 24.6 V');
});

test('what is on when is ticked state by state, with what the board wants to see first', async ({
  edda: page,
  alone,
  allow,
}) => {
  // A page that goes leaves its fields, and may have sent the last of them: the next one hears that it is there already.
  allow(/409 \(Conflict\)/);
  await open(page, `${alone.url}/machines/LY-11/circuit`);
  const leaf = page.getByRole('complementary');
  await row(page, 'TB1', 'supply 24.6 V');
  await row(page, 'Warning output', 'output', 'LOG-J5·1 to LOG-J6·1', 'always');
  const table = page.getByRole('region', { name: 'What is on when' }).getByRole('table');
  const line = table.getByRole('row', { name: /^Warning output/ });
  const cells = line.getByRole('button');
  await expect(cells.first()).toHaveAttribute('aria-pressed', 'true');
  // By the keyboard alone: one is reached by Tab, the others by the arrows. Two presses in a row both count.
  const all = await cells.count();
  await cells.first().focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await expect(cells.nth(0)).toHaveAttribute('aria-pressed', 'false');
  await expect(cells.nth(1)).toHaveAttribute('aria-pressed', 'false');
  await expect(leaf.getByRole('listitem').filter({ hasText: 'Warning output' })).toContainText('closed in');
  await line.getByLabel('Warning output only if').fill('LOG-J5·1 to LOG-J5·2 over 18 V');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('list', { name: 'Rows that do not count' })).toContainText('this is no condition');
  await line.getByLabel('Warning output only if').fill('LOG-J5·1 to LOG-J5·2 > 18 V');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('list', { name: 'Rows that do not count' })).toHaveCount(0);
  // What is typed and not left yet is there again after a reload.
  await line.getByLabel('Warning output after').fill('2 s');
  await page.reload();
  await page.getByRole('tab', { name: 'What it is made of' }).click();
  await expect(line.getByLabel('Warning output after')).toHaveValue('2 s');
  await line.getByLabel('Warning output after').press('Enter');
  const grid = page.getByRole('grid', { name: 'Circuit' });
  await expect(grid).toContainText('if LOG-J5·1 to LOG-J5·2 > 18 V after 2 s');
  await page.reload();
  await page.getByRole('tab', { name: 'What it is made of' }).click();
  await expect(line.getByLabel('Warning output only if')).toHaveValue('LOG-J5·1 to LOG-J5·2 > 18 V');
  await expect(line.getByRole('button', { pressed: true })).toHaveCount(all - 2);
  await expectNothing(page, 'what is on when');
});

test('where the sheet and the circuit cannot both be right, one key settles it', async ({ edda: page, alone }) => {
  await open(page, `${alone.url}/machines/LY-04/circuit?view=parts`);
  const grid = page.getByRole('grid', { name: 'Circuit' });
  await grid.getByText('supply 25 V, at most 20 A').click();
  await page.keyboard.type('supply 21 V, at most 20 A');
  await page.keyboard.press('Enter');
  await expect(grid).toContainText('supply 21 V');
  await page.getByRole('tab', { name: 'What it reads' }).click();
  await expect(page.getByRole('main')).toContainText('otherwise than the circuit');
  const table = page.getByRole('table', { name: 'What LY-04 reads' });
  await table.getByRole('button', { name: /^E1·12/ }).click();
  const leaf = page.getByRole('complementary');
  await expect(leaf).toContainText('Both cannot be right: the sheet says 24.5 V ±6 %');
  await page.keyboard.press('F8');
  await expect(leaf).toContainText('LY-04 only: by the circuit');
  await expect(leaf).not.toContainText('Both cannot be right');
});

test('a fault is put in on the board, and the two pins that were asked about stay', async ({ edda: page, ledger }) => {
  await open(page, `${ledger.url}/machines/LY-04/circuit`);
  const leaf = page.getByRole('complementary');
  await leaf.getByRole('tab', { name: 'The board' }).click();
  await leaf.getByRole('button', { name: /^F1, belt motor/ }).click();
  const faults = leaf.getByRole('region', { name: 'Faults at Z1-F1' });
  await faults.getByRole('button', { name: /^Z1-F1 blown/ }).click();
  await expect(page.getByRole('main')).toContainText('Shows best at Z1-F1');
  await expect(faults.getByRole('button', { name: /^Z1-F1 blown/ })).toHaveAttribute('aria-pressed', 'true');
  await faults.getByRole('button', { name: /^Z1-F1 blown/ }).click();
  await expect(page.getByRole('main')).not.toContainText('Shows best at');

  const main = page.getByRole('main');
  await choose(page.getByLabel('State'), 'off');
  await page.getByLabel('Red probe at').fill('Z1-J3·M+');
  await page.getByLabel('Black probe at').fill('Z1-J3·M-');
  await choose(page.getByLabel('Mode'), 'insulation, 500 V');
  await expect(main).toContainText('500 V destroys them');
  await page.reload();
  await expect(page.getByLabel('Red probe at')).toHaveValue('Z1-J3·M+');
  await expect(main).toContainText('500 V destroys them');
});

test('two faults stand side by side with the reading that tells them apart, on a phone as well', async ({
  edda: page,
  ledger,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await open(page, `${ledger.url}/machines/LY-04/circuit`);
  await page.getByLabel('What would it read if').fill('m3 shorted');
  // The dead short comes first, then those over some ohms.
  await page
    .getByRole('option', { name: /M3 shorted/ })
    .first()
    .click();
  await page.getByLabel('beside').fill('z3-f1 blown');
  await page.getByRole('option', { name: /Z3-F1 blown/ }).click();
  const main = page.getByRole('main');
  await expect(main).toContainText('Told apart best at Z3-J3·M+ to Z3-J3·M-, off: 70 mΩ against 3.46 Ω');
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test('a lamp says what it proves and what may be dead all the same', async ({ edda: page, ledger }) => {
  await open(page, `${ledger.url}/machines/LY-04/circuit?view=proves`);
  const lamp = page.getByRole('region', { name: 'Z3-DS1' });
  await expect(lamp).toContainText('Lit, it proves: PS, S1, E1');
  await expect(lamp).toContainText('M3: Z3-F1 blown');
  await expect(page.getByRole('row', { name: /^Z3-F2/ })).toContainText('Z3 eye A, Z3 eye B');
  await expectNothing(page, 'circuit');
});
