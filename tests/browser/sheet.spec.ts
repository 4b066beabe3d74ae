import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { choose, expect, ledgerIsGone, open, test } from './fixtures';
import { Ledger } from './ledger';

const sheets = join(import.meta.dirname, '../sheets');
const ramp = readFileSync(join(sheets, 'ferry-ramp.tsv'), 'utf8');
const gate = readFileSync(join(sheets, 'slip-gate.tsv'), 'utf8');

/** Counts what a hand does: each key, each click or tap; a paste is one key. */
class Hand {
  presses = 0;
  constructor(private readonly page: Page) {}

  async click(at: Locator) {
    this.presses += 1;
    await at.click();
  }

  async type(text: string) {
    this.presses += text.length;
    await this.page.keyboard.type(text);
  }

  async press(key: string) {
    this.presses += 1;
    await this.page.keyboard.press(key);
  }

  async paste(at: Locator, text: string) {
    this.presses += 1;
    await at.fill(text);
  }
}

for (const size of [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]) {
  test(`from an empty ledger to a named stretch with a sheet of sixty lines, in sixty presses, ${size.width}`, async ({
    edda: page,
  }) => {
    const ledger = await Ledger.empty();
    try {
      await fetch(`${ledger.url}/api/people`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ id: 'edda', name: 'Edda' }),
      });
      await page.setViewportSize(size);
      const hand = new Hand(page);
      await page.goto(`${ledger.url}/machines/new`);
      await hand.click(page.getByLabel(/^Tag/));
      await hand.type('FR-2');
      await hand.click(page.getByRole('button', { name: 'Begin' }));
      await hand.click(page.getByRole('link', { name: 'Page of FR-2' }).first());
      await hand.click(page.getByRole('link', { name: 'From a sheet' }));
      await hand.paste(page.getByLabel('Paste the whole sheet, or type it'), ramp);
      await expect(page.getByText(/^60 rows new, 0 changed/)).toBeVisible();
      // Nothing is left to be asked.
      await expect(page.getByRole('region', { name: 'To be looked at' })).toHaveCount(0);
      await hand.click(page.getByRole('button', { name: /^Take it in/ }));
      await expect(page.getByRole('list', { name: 'Branches' })).toContainText(
        'TB1·+ › S1·1 › S1·2 › X20·1 › X21·1 › DRI-J1·1 › DRI-J2·1 › LOG-J10·1 › LOG-J11·1 › DIS-J40·1',
      );
      await hand.click(page.getByRole('link', { name: 'Page of FR-2' }).first());
      await hand.click(page.getByLabel('What is the complaint?'));
      await hand.type('dead');
      await hand.press('F9');
      await expect(page.getByTestId('outside')).toBeVisible();
      await hand.press('F9');
      // The order is the path's: the supply first.
      await expect(page.getByTestId('probe')).toContainText('TB1·+');
      for (const [pin, reading] of [
        ['TB1·+', '24.4'],
        ['S1·1', '24.4'],
        ['S1·2', '24.4'],
        ['X20·1', '24.4'],
        ['X21·1', '0.2'],
      ] as const) {
        const done = page.getByRole('button', { name: /^Done/ }).first();
        await done.or(page.getByTestId('probe')).first().waitFor();
        if (await done.isVisible()) {
          await hand.press('Enter');
        }
        await expect(page.getByTestId('probe')).toContainText(pin);
        await hand.type(reading);
        await hand.press('Enter');
      }
      await expect(page.getByTestId('path-words')).toContainText('between X20·1 and X21·1');
      expect(hand.presses).toBeLessThanOrEqual(60);
    } finally {
      await page.close();
      await ledger.kill();
    }
  });
}

test('a sheet is taken in by keyboard alone; what was pasted is there after a reload, and what was said of it', async ({
  edda: page,
  alone,
}) => {
  await page.goto(`${alone.url}/machines/LY-06/sheet`);
  const box = page.getByLabel('Paste the whole sheet, or type it');
  await expect(box).toBeFocused();
  // Typed, not pasted: a connector that nobody knows is asked about.
  await page.keyboard.insertText('Pin\tZork\tVolts\nJ77-1\tlamp\t24 V\nJ78-1\tlamp\tsee drawing\n');
  const asked = page.getByRole('region', { name: 'To be looked at' });
  await expect(asked.or(page.getByRole('list', { name: 'Connectors' })).first()).toBeVisible();
  const unknown = page.getByRole('button', { name: 'What is in Zork' });
  await unknown.focus();
  await page.keyboard.type('what');
  await expect(page.getByText('J77·1, lamp, 24 V')).toBeVisible();
  await expect(page.getByText('In doubt: "see drawing" is kept in its words, and not judged')).toBeVisible();
  await page.reload();
  await expect(box).toHaveValue(/J78-1/);
  await expect(page.getByText('J77·1, lamp, 24 V')).toBeVisible();
  await page.keyboard.press('F9');
  await page.waitForURL(/\/wiring$/);
  await page.goto(`${alone.url}/machines/LY-06/sheet`);
  await expect(box).toHaveValue('');
});

test('a workbook is read, its wires are refused one by one, and what is not taken stays out', async ({
  edda: page,
  alone,
}) => {
  await page.goto(`${alone.url}/machines/LY-06/sheet`);
  await page.getByLabel('or a file: CSV, text, .xlsx, .xls').setInputFiles(join(sheets, 'old-workbook.xls'));
  await expect(page.getByText('xls workbook')).toBeVisible();
  await page.getByRole('button', { name: 'Leave old-workbook.xls' }).click();
  await page.getByLabel('Paste the whole sheet, or type it').fill(gate);
  // Two values for one pin are asked for their states where they stand.
  const rows = page.getByRole('region', { name: 'Rows of the sheet' });
  await expect(rows).toContainText('2 values for one pin: say in which state each is right');
  await choose(rows.getByLabel('State of 24 V in line 35'), 'running');
  await expect(rows).not.toContainText('2 values for one pin');
  await page.getByRole('tab', { name: 'Wires 14 of 14' }).click();
  await page.getByRole('checkbox', { name: /^TB1·\+ › S1·1/ }).click();
  await expect(page.getByRole('tab', { name: 'Wires 13 of 14' })).toBeVisible();
  await page.getByRole('button', { name: 'Refuse all' }).click();
  await expect(page.getByRole('tab', { name: 'Wires 0 of 14' })).toBeVisible();
  await page.getByRole('button', { name: /^Take it in/ }).click();
  await page.waitForURL(/\/wiring$/);
  const model = await alone.get<{ modelId: string }>('/api/machines/LY-06');
  const { wiring } = await alone.get<{ wiring: { parts: { designator: string }[]; wires: { number: string }[] } }>(
    `/api/models/${model.modelId}`,
  );
  expect(wiring.parts.map((p) => p.designator)).toEqual(expect.arrayContaining(['TB1', 'S1', 'P12', 'J12']));
  expect(wiring.wires.filter((w) => w.number !== '')).toHaveLength(0);
});

test('with the ledger gone the sheet stays in its box, and is read when it answers', async ({
  edda: page,
  mortal,
  allow,
}) => {
  allow(ledgerIsGone);
  await page.goto(`${mortal.url}/machines/LY-06/sheet`);
  const box = page.getByLabel('Paste the whole sheet, or type it');
  await expect(box).toBeFocused();
  await mortal.kill();
  await box.fill('Pin,Volts\nJ77-1,24 V\n');
  await expect(page.getByRole('alert')).toBeVisible();
  await mortal.run();
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText('J77·1, 24 V')).toBeVisible();
  await expect(box).toHaveValue(/J77-1/);
});

test('a paper sheet is typed row by row beside its photograph; a run of pins and a drawn plug make their rows', async ({
  edda: page,
  alone,
}) => {
  await open(page, `${alone.url}/machines/LY-08/sheet`);
  await page.getByRole('tab', { name: 'Row by row, from paper' }).click();
  await expect(page.getByTestId('paper')).toBeVisible();
  const grid = page.getByRole('grid', { name: 'Rows of the sheet' });
  await grid.getByRole('gridcell').first().click();
  await page.keyboard.type('J9 1-6');
  await page.keyboard.press('Enter');
  await expect(grid.getByRole('row')).toHaveCount(8);
  await expect(grid).toContainText('J9-6');
  await page.keyboard.press('Control+z');
  await expect(grid.getByRole('row')).toHaveCount(2);
  await page.keyboard.press('Control+y');
  await expect(grid.getByRole('row')).toHaveCount(8);

  // As it is drawn on the paper, from its mating face: the first cell is pin 2.
  await page.getByRole('button', { name: 'A plug drawn as a grid' }).click();
  const plug = page.getByRole('form', { name: 'A plug drawn as a grid' });
  await plug.getByLabel('Plug', { exact: true }).fill('J10');
  await plug.getByLabel('Pins').fill('4');
  await choose(plug.getByLabel('Drawn from'), 'its mating face');
  await plug
    .getByRole('textbox', { name: /should read/ })
    .first()
    .fill('24');
  await plug.getByLabel('Pin 3 should read').fill('5.1');
  await plug.getByRole('button', { name: '2 pins into the rows' }).click();
  const rows = grid.getByRole('row');
  await expect(rows.nth(7)).toContainText('J10-224');
  await expect(rows.nth(8)).toContainText('J10-35.1');
  // Over a reload, and as text that can be handed on.
  await page.reload();
  await expect(page.getByLabel('Paste the whole sheet, or type it')).toHaveValue(/^Pin\tColour.*\nJ9-1/);
  await expect(page.getByRole('tab', { name: 'Connectors 2' })).toBeVisible();
});
