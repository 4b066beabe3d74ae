import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, ledgerIsGone, test } from './fixtures';

/** A picture from the sample data, as a phone's camera would give it. */
function picture(name: string): { name: string; mimeType: string; buffer: Buffer } {
  const folder = join(import.meta.dirname, '../../demo/ly-08');
  const file = JSON.parse(readFileSync(join(folder, 'machine.json'), 'utf8')) as { photographs: { hash: string }[] };
  return {
    name,
    mimeType: 'image/jpeg',
    buffer: readFileSync(join(folder, 'pictures', `${file.photographs[1]?.hash ?? ''}.jpg`)),
  };
}

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, serviceWorkers: 'allow' });

  test('a machine is begun from photographs, a place tapped, read and made a pin', async ({ edda: page, alone }) => {
    await page.goto(`${alone.url}/machines/new`);
    await page.getByLabel('Plate', { exact: true }).setInputFiles([picture('plate.jpg')]);
    await page.getByLabel(/^Tag/).fill('LY-50');
    await page.getByLabel('Site').fill('Ice house');
    await page.getByRole('button', { name: 'Begin' }).tap();
    await expect(page.getByRole('heading', { name: 'Photographs of LY-50' })).toBeVisible();
    await expect(page.getByRole('link', { name: /^plate/ })).toBeVisible();
    // A burst of the boards.
    await page.getByLabel('Photographs', { exact: true }).setInputFiles([picture('a.jpg'), picture('b.jpg')]);
    await expect(page.getByRole('link', { name: /^board/ })).toHaveCount(2);
    await expect(page.getByText('on this device')).toHaveCount(0);
    await page
      .getByRole('link', { name: /^board/ })
      .first()
      .tap();
    await page.getByRole('button', { name: /^The picture/ }).tap({ position: { x: 60, y: 60 } });
    const leaf = page.getByRole('complementary', { name: 'The places' });
    await expect(leaf.getByRole('heading', { name: 'Place 1' })).toBeVisible();
    await leaf.getByLabel('Reads').fill('11.8 dropping');
    await leaf.getByRole('button', { name: 'Store the reading' }).tap();
    await expect(leaf.getByRole('list', { name: 'Readings here' })).toContainText('11.8 V dropping');
    await leaf.getByLabel('Name').fill('12 V in');
    await leaf.getByRole('button', { name: 'Keep', exact: true }).tap();
    await expect(leaf.getByRole('status')).toHaveText('kept');
    // Its board, and the place becomes a pin of it.
    await page.goto(`${alone.url}/machines/LY-50`);
    await page.getByRole('button', { name: 'Add or exchange a board' }).tap();
    await page.getByLabel('Part number').fill('VH-1');
    await page.getByRole('button', { name: 'Fit it' }).tap();
    await expect(page.getByRole('link', { name: 'B1 board 1' })).toBeVisible();
    await page.goBack();
    await page.getByRole('button', { name: /^1 12 V in/ }).tap();
    const pin = leaf.getByRole('form', { name: 'Make it a pin' });
    await pin.getByLabel('Connector').fill('CN1');
    await pin.getByLabel('Pin', { exact: true }).fill('1');
    await pin.getByRole('button', { name: 'Make it a pin' }).tap();
    await expect(leaf.getByRole('heading', { name: 'B1-CN1·1' })).toBeVisible();
    await expect(leaf.getByRole('list', { name: 'Readings here' })).toContainText('11.8 V');
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });

  test('photographs taken with the ledger out of reach wait on the device and arrive once', async ({
    page,
    mortal,
    allow,
  }) => {
    allow(ledgerIsGone);
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    await page.goto(`${mortal.url}/machines/LY-06/photographs`);
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => true));
    await expect(page.getByText('No photograph yet')).toBeVisible();
    await mortal.kill();
    await page
      .getByLabel('Photographs', { exact: true })
      .setInputFiles([picture('a.jpg'), picture('b.jpg'), picture('c.jpg')]);
    await expect(page.getByText('waits on this device')).toHaveCount(3);
    await page.reload();
    await expect(page.getByRole('status')).toContainText('3 things wait on this device');
    await mortal.run();
    await expect(page.getByText(/waits? on this device/)).toHaveCount(0, { timeout: 20_000 });
    expect(await mortal.get<unknown[]>('/api/machines/ly-06/photographs')).toHaveLength(3);
  });
});

test('a block goes from a spreadsheet into the table, fills down, is refused at its cell, undone and redone', async ({
  edda: page,
  alone,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`${alone.url}/board-types/quillpike-hall-a`);
  const grid = page.getByRole('grid', { name: 'Terminals' });
  const signal = (row: number) => grid.getByRole('row').nth(row).getByRole('gridcell').nth(4);
  await grid.getByRole('gridcell', { name: 'BN' }).first().click();
  await page.evaluate(() => navigator.clipboard.writeText('RD\tfeed, front\r\nBK\t"return, ""front"""\r\n'));
  await page.keyboard.press('Control+v');
  await expect(signal(7)).toHaveText('feed, front');
  await expect(signal(8)).toHaveText('return, "front"');
  await expect(page.getByRole('status').last()).toHaveText('kept');
  // Out again as it came in.
  await page.keyboard.press('Control+c');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('RD\tfeed, front\r\nBK\t"return, ""front"""');
  // Type to replace, then fill down over three rows.
  await signal(9).click();
  await page.keyboard.type('count');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await expect(signal(10)).toHaveText('count');
  // A colour that may be two is refused, in its cell, and mended there.
  await grid.getByRole('row').nth(7).getByRole('gridcell').nth(3).click();
  await page.keyboard.type('BL');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('may be black (BK) or blue (BU)');
  await expect(page.getByText('not kept: mend the marked cells')).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.type('BU');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveCount(0);
  const texts = () =>
    grid.getByRole('row').evaluateAll((rows) => rows.map((r) => (r as HTMLElement).innerText).join('\n'));
  const after = await texts();
  // Four steps back is where it began; four forward where it was.
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('Control+z');
  }
  await expect(signal(7)).toHaveText('supply');
  await expect(signal(10)).toHaveText('count 2');
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('Control+y');
  }
  await expect.poll(texts).toBe(after);
});

test('two people at one plate: the second sees both texts and chooses; what was written is put back', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 409/);
  await page.goto(`${alone.url}/machines/LY-10`);
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const plate = page.getByRole('form', { name: 'Plate' });
  const machine = await alone.get<Record<string, unknown>>('/api/machines/LY-10');
  await fetch(`${alone.url}/api/machines/ly-10`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'X-Person': 'bram' },
    body: JSON.stringify({
      ...Object.fromEntries(
        ['version', 'tag', 'name', 'maker', 'model', 'serial', 'built', 'supply', 'site', 'customer', 'finish'].map(
          (n) => [n, machine[n]],
        ),
      ),
      supply: '230 V 1~, 32 V AC lamps',
    }),
  });
  await plate.getByLabel('Supply').fill('115 V 1~');
  await plate.getByLabel('Site').focus();
  const clash = plate.getByRole('alert');
  await expect(clash).toContainText('yours: 115 V 1~');
  await expect(clash).toContainText('theirs: 230 V 1~, 32 V AC lamps');
  await clash.getByRole('button', { name: 'Keep mine' }).click();
  await expect(plate.getByRole('status')).toHaveText('kept');
  await expect(plate.getByText('supply: 230 V 1~, 32 V AC lamps → 115 V 1~')).toBeVisible();
  await plate.getByRole('button', { name: 'Put back' }).first().click();
  await expect(plate).toHaveCount(0);
  await expect(page.getByText('230 V 1~, 32 V AC lamps', { exact: true })).toBeVisible();
});

test('the time line shows every kind, is filtered, and leads to where it came from', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/machines/LY-01`);
  await expect(page.getByRole('region', { name: 'From the last visit' })).toContainText(
    'Bring: Sensor board QP-2214 rev A',
  );
  const line = page.getByRole('region', { name: 'Time line' });
  await expect(line).toContainText('Board into controller');
  await expect(line).toContainText('Settings as left');
  await line.getByRole('tab', { name: 'Faults' }).click();
  await expect(line.getByRole('listitem')).toHaveCount(3);
  await line.getByRole('link', { name: 'Front end stops halfway, room stands crooked' }).click();
  await page.getByRole('link', { name: 'the later fault' }).click();
  await expect(page.getByLabel(/^Noticed/)).toHaveValue('Room stops and beeps, front end again');
});

test('the call card has plate, boards, codes and readings on one screen', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/visits/ly01-v3`);
  await page.getByRole('link', { name: 'Call card' }).click();
  await expect(page.getByText('QP-S2-10773')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Boards' })).toContainText('QP-2214 rev A');
  await expect(page.getByRole('region', { name: 'Last readings' })).toContainText('1.9 V');
  expect(await page.evaluate(() => document.documentElement.scrollHeight)).toBeLessThanOrEqual(830);
});

test('settings are typed from a display with Enter alone, and compared', async ({ edda: page, alone }) => {
  await page.goto(`${alone.url}/machines/LY-03/settings`);
  await page.getByRole('button', { name: 'New snapshot, as found' }).click();
  await expect(page.getByRole('form', { name: 'Type a setting' }).getByLabel('Code')).toBeFocused();
  for (const [code, value] of [
    ['n1', '0.2'],
    ['', '28'],
    ['', '3'],
    ['', '900'],
  ]) {
    if (code) {
      await page.keyboard.type(code);
      await page.keyboard.press('Enter');
    }
    await page.keyboard.type(value ?? '');
    await page.keyboard.press('Enter');
    await expect(
      page
        .getByRole('row')
        .filter({ hasText: value ?? '' })
        .first(),
    ).toBeVisible();
  }
  await expect(page.getByRole('row', { name: /^n4 brake delay 900 ms/ })).toContainText('above 400 ms, kept');
  await expect(page.getByRole('region', { name: 'Compared' })).toContainText('n4 brake delay');
  await page.getByText('Paste a list, or take in a CSV file').click();
  await page.getByLabel(/^One setting a line/).fill('n5 10\nn6\n');
  await page.getByRole('button', { name: 'Take the list in' }).click();
  await expect(page.getByRole('alert')).toContainText('Line 2: n6 has no value');
});

test('a machine file is taken in with its progress shown, and the register finds it as one types', async ({
  edda: page,
  alone,
}) => {
  await page.goto(`${alone.url}/machines`);
  await expect(page.getByRole('status').filter({ hasText: 'machines' })).toHaveText('11 machines');
  const file = JSON.parse(readFileSync(join(import.meta.dirname, '../../demo/ly-06/machine.json'), 'utf8')) as {
    machine: { id: string; tag: string; site: string };
  };
  Object.assign(file.machine, { id: 'ly-55', tag: 'LY-55', site: 'Old forge' });
  // What happened to the other machine stays with it.
  Object.assign(file, { visits: [], faults: [], snapshots: [], photographs: [], notes: [] });
  await page
    .getByLabel('Machine file or bundle')
    .setInputFiles({ name: 'ly-55.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(file)) });
  await expect(page).toHaveURL(/machines\/LY-55$/);
  await page.goto(`${alone.url}/machines`);
  await page.getByRole('textbox').last().fill('old f0rge');
  await expect(page.getByRole('status').filter({ hasText: 'machine' })).toHaveText('1 machine');
  await expect(page.getByRole('link', { name: 'LY-55' })).toBeVisible();
});
