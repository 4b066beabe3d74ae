import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { expectNothing } from './axe';
import { choose, expect, newVisit, test } from './fixtures';
import { Ledger } from './ledger';

/** Clicks a drawing at a place given in its own unit. */
async function tapAt(page: Page, drawing: Locator, x: number, y: number): Promise<void> {
  await drawing.scrollIntoViewIfNeeded();
  const at = await drawing.evaluate(
    (svg, place) => {
      const matrix = (svg as SVGSVGElement).getScreenCTM();
      const point = new DOMPoint(place.x, place.y).matrixTransform(matrix ?? undefined);
      return { x: point.x, y: point.y };
    },
    { x, y },
  );
  await page.mouse.click(at.x, at.y);
}

interface Overlay {
  hash: string;
  map: { pins: { id: string; printed: string }[] };
  pins: { pinId: string; x: number; y: number }[];
}

const placeOf = (overlay: Overlay, printed: string) => {
  const id = overlay.map.pins.find((p) => p.printed === printed)?.id;
  const place = overlay.pins.find((p) => p.pinId === id);
  if (!place) {
    throw new Error(`${printed} is not on the photograph`);
  }
  return place;
};

test('four points lay the layout on a photograph; a tap on it names the pin', async ({ edda: page, alone }) => {
  // The picture of the sample once more, as if it had just been taken; where its pins lie is known.
  const overlay = await alone.get<Overlay>('/api/photographs/ly08-p3/overlay');
  const picture = Buffer.from(await (await fetch(`${alone.url}/api/pictures/${overlay.hash}`)).arrayBuffer());
  await page.goto(`${alone.url}/machines/LY-08/boards/cb?on=photograph`);
  await expect(page.getByTestId('photo-says')).toHaveText('7 points agree to 0.1 mm.');
  await page
    .getByLabel('Photograph of the board', { exact: true })
    .setInputFiles({ name: 'board.jpg', mimeType: 'image/jpeg', buffer: picture });
  await page.getByRole('button', { name: 'Mark points' }).click();
  const says = page.getByTestId('photo-says');
  await expect(says).toHaveText('4 more points, and the layout lies on the picture.', { timeout: 20_000 });
  const photo = page.getByTestId('photo-map');
  const points = page.getByRole('list', { name: 'Points' }).getByRole('listitem');
  for (const [i, printed] of ['CB-J1·1', 'CB-J2·2', 'CB-J3·1', 'CB-R20·2', 'CB-F1·2', 'CB-J4·1', 'CB-J5·1'].entries()) {
    const { x, y } = placeOf(overlay, printed);
    await page
      .getByTestId('board-map')
      .getByRole('button', { name: new RegExp(`^${printed},`) })
      .click();
    await expect(says).toHaveText(`Now tap ${printed} on the photograph.`);
    // The last one is tapped beside, as when the neighbouring plug is taken for it.
    await tapAt(page, photo, i === 6 ? x + 60 : x, y);
    await expect(points).toHaveCount(i + 1);
  }
  await expect(says).toContainText('J5·1 disagrees with the other 6 by');
  await page.getByRole('button', { name: 'Take J5·1 away' }).click();
  await expect(says).toHaveText(/^6 points agree to 0\.\d mm\.$/);
  await page.getByRole('button', { name: 'Tap to know' }).click();
  const resistor = placeOf(overlay, 'CB-R1·2');
  await tapAt(page, photo, resistor.x, resistor.y);
  await expect(page.getByRole('heading', { name: 'CB-R1·2', exact: true })).toBeVisible();
  // Beside a pin, on the bare board.
  await tapAt(page, photo, resistor.x + 20, resistor.y + 60);
  await expect(says).toHaveText('bare board');

  // And the other way: what is missing in the layout is drawn by tapping it.
  await page.getByRole('button', { name: 'Draw on it' }).click();
  await page.getByLabel('Designator').fill('J9');
  await page.getByLabel('Pins', { exact: true }).fill('3');
  const [first, last] = [placeOf(overlay, 'CB-J3·1'), placeOf(overlay, 'CB-J3·3')];
  await tapAt(page, photo, first.x, first.y + 40);
  await expect(says).toHaveText('Now tap its last pin.');
  await tapAt(page, photo, last.x, last.y + 40);
  await expect(page.getByText('J9 drawn.')).toBeVisible();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByText('J9 drawn.')).toBeHidden();
  const tables = await alone.get<{ rows: { cells: { designator?: string } }[] }>(
    '/api/board-types/stenwath-sw204-c/tables',
  );
  expect(tables.rows.some((r) => r.cells.designator === 'J9')).toBe(false);
});

test('words, map and photograph follow how the board is faced, and the visit remembers', async ({
  edda: page,
  alone,
}) => {
  await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/machines/LY-08/boards/cb`);
  const leaf = page.getByRole('complementary');
  await page.getByRole('button', { name: 'CB-J3·1', exact: true }).click();
  await expect(leaf).toContainText('first from the left, as you face it');
  await page.keyboard.press('Alt+m');
  await expect(page.getByRole('heading', { name: 'brake board, from the solder side' })).toBeVisible();
  await expect(leaf).toContainText('third from the left, as you face it');
  await page.getByTestId('board-map').getByRole('button', { name: 'R12, zero of the coil current' }).click();
  await expect(leaf).toContainText('raised by turninganticlockwise');
  await page.keyboard.press('Alt+r');
  await page.keyboard.press('Alt+r');
  const facing = 'brake board, from the solder side, upside down';
  await expect(page.getByRole('heading', { name: facing })).toBeVisible();
  await page.getByTestId('board-map').getByRole('button', { name: 'JP1, torque range' }).click();
  await expect(leaf).toContainText('1-2, the left pairup to 250 W');
  await page.reload();
  await expect(page.getByRole('heading', { name: facing })).toBeVisible();
  await page.getByRole('tab', { name: 'Photograph' }).click();
  await expect(page.getByTestId('photo-map')).toHaveAttribute('aria-label', /from the solder side, upside down$/);
  // The other board of the machine hangs as it hung.
  await page.goto(`${alone.url}/machines/LY-08/boards/dp`);
  await expect(page.getByRole('heading', { name: 'display, from the component side' })).toBeVisible();
});

test('a code is found by its lit bars, by its beeps and by tapping along', async ({ edda: page, alone }) => {
  const { visit } = await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/machines/LY-08/boards/dp/codes`);
  const bars = ['top', 'upper left', 'middle', 'lower left', 'bottom'];
  for (const bar of bars) {
    await page.getByRole('button', { name: `${bar} bar of digit 1`, exact: true }).click();
  }
  for (const bar of ['top', 'upper left', 'middle', 'lower right', 'bottom']) {
    await page.getByRole('button', { name: `${bar} bar of digit 2`, exact: true }).press('Enter');
  }
  const found = page.getByRole('region', { name: 'What it is' });
  await expect(found.getByRole('heading', { name: 'It is this one' })).toBeVisible();
  await expect(found.getByRole('article', { name: 'E5' })).toContainText('sign 2 may be 5 or S');

  await page.getByLabel('or type what it shows').fill('U183');
  await page.getByRole('button', { name: 'Keep it, and software version 1.83' }).click();
  await expect(found.getByRole('list', { name: 'Kept' })).toContainText('display: firmware 1.83');

  await page.getByRole('tab', { name: 'Beeps' }).click();
  await page.getByLabel('How many beeps').fill('5');
  await expect(found.getByRole('article', { name: '5 beeps' })).toContainText('Coil getting hot');
  await page.getByLabel('How many beeps').fill('9');
  await page.getByRole('button', { name: 'Keep it as not known: 9 beeps' }).click();
  await expect(found.getByRole('list', { name: 'Kept' })).toContainText('9 beeps, not known');
  const start = await alone.get<{ observations: { text: string }[] }>(`/api/visits/${visit}/start`);
  expect(start.observations.map((o) => o.text)).toEqual([
    'display: U183, Software version 1.83',
    'display: 9 beeps, not known',
  ]);

  await page.goto(`${alone.url}/machines/LY-08/boards/cb/codes`);
  await page.getByRole('button', { name: 'red', exact: true }).click();
  // By a clock that stands between the taps, so that a busy machine keeps the beat.
  await page.getByRole('button', { name: /^Tap here/ }).evaluate(async (pad) => {
    let now = performance.now();
    performance.now = () => now;
    for (let i = 0; i < 9; i++) {
      pad.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
      await new Promise((wait) => setTimeout(wait, 0));
      now += i % 3 === 2 ? 1800 : 400;
    }
  });
  await expect(page.getByTestId('heard')).toContainText('groups of 3');
  await expect(found.getByRole('article', { name: /3 blinks, pause/ })).toContainText('Coil current stays below');
});

test('labels are laid out, printed and read again by the scanner', async ({ edda: page }) => {
  const ledger = await Ledger.start('--Ledger:PublicAddress', 'https://ledger.example');
  try {
    await page.goto(`${ledger.url}/labels?machines=LY-03`);
    await expect(page.getByRole('status')).toContainText('1 label');
    await page.getByRole('button', { name: 'Place 5', exact: true }).click();
    await expect(page.getByRole('status')).toContainText('from place 5');
    const [pdf] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Labels as PDF' }).click(),
    ]);
    expect(pdf.suggestedFilename()).toBe('labels.pdf');

    // The label as it lies on the sheet, photographed: 64 by 34 mm, the fifth place of three in a row.
    const label = await page.getByTestId('sheet').evaluate(async (sheet) => {
      const picture = sheet as HTMLImageElement;
      await picture.decode();
      const dots = 10;
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [64 * dots, 34 * dots];
      const ink = canvas.getContext('2d');
      if (ink) {
        ink.fillStyle = '#fff';
        ink.fillRect(0, 0, canvas.width, canvas.height);
        ink.drawImage(picture, -(7 + 66) * dots, -(7 + 35.6) * dots, 210 * dots, 297 * dots);
      }
      return canvas.toDataURL('image/png').split(',')[1] ?? '';
    });
    await page.getByRole('link', { name: 'Scan a label' }).click();
    await page
      .getByLabel('From a picture')
      .setInputFiles({ name: 'label.png', mimeType: 'image/png', buffer: Buffer.from(label, 'base64') });
    // What one wants at the door stands first.
    await page.waitForURL(`${ledger.url}/machines/LY-03/door`);
    await expect(page.getByRole('heading', { name: 'At the door of LY-03' })).toBeVisible();
    await page.goto(`${ledger.url}/scan`);
    await page
      .getByLabel('From a picture')
      .setInputFiles({ name: 'label.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
    await expect(page.getByRole('alert')).toContainText('no picture that can be read');

    await page.goto(`${ledger.url}/labels?machines=LY-08&kind=plug&columns=12&rows=13&gap=9`);
    await expect(page.getByRole('alert')).toContainText('too small to read');
    await page.getByRole('button', { name: '5 × 13' }).click();
    await page.getByLabel('Gap, mm').fill('2');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('status')).toContainText('14 labels');
  } finally {
    await page.close();
    await ledger.kill();
  }
});

test('elements are placed by arrow keys, by dragging and by number, and each step is taken back', async ({
  edda: page,
  alone,
}) => {
  await page.goto(`${alone.url}/board-types/hobrace-hb61-4/layout`);
  const x = page.getByLabel('x, mm');
  await page.getByRole('button', { name: /^TP1, test point/ }).focus();
  await expect(x).toHaveValue('76');
  await page.keyboard.press('ArrowRight');
  await expect(x).toHaveValue('76.5');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(x).toHaveValue('81.5');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(x).toHaveValue('76.5');

  // Seen from the solder side, right is left; and what is dragged near another's edge lies on it.
  await page.keyboard.press('Alt+m');
  await expect(page.getByRole('heading', { name: 'from the solder side' })).toBeVisible();
  const lamp = page.getByRole('button', { name: /^DS1, indicator/ });
  const from = await lamp.locator('circle').first().boundingBox();
  const trimmer = await page
    .getByRole('button', { name: /^R31, trimmer/ })
    .locator('rect')
    .first()
    .boundingBox();
  if (!from || !trimmer) {
    throw new Error('not drawn');
  }
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x, from.y + 40, { steps: 4 });
  await page.mouse.move(trimmer.x + trimmer.width / 2 + 1, from.y + 60, { steps: 4 });
  await page.mouse.up();
  await expect(x).toHaveValue('18');

  await x.fill('20,5');
  await x.press('Enter');
  await expect(x).toHaveValue('20.5');
  await page.getByLabel('It does not prove').fill('that the regulator is well');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('status')).toHaveText('kept');
  await page
    .getByTestId('layout')
    .locator('rect')
    .first()
    .click({ position: { x: 10, y: 10 } });
  await choose(page.getByLabel('Kind'), 'jumper');
  await page.getByLabel('Pins', { exact: true }).fill('3');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('heading', { name: 'JP1' })).toBeVisible();
  await page.getByLabel(/^Positions/).fill('1-2 slow');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('alert').first()).toContainText('"1-2 slow" does not say what it means');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: 'Take it off the board' }).click();
  await expect(page.getByRole('button', { name: /^JP1, jumper/ })).toHaveCount(0);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('button', { name: /^JP1, jumper/ })).toBeVisible();
});

test('a bundle goes out, is looked through, and the same again changes nothing', async ({ edda: page, alone }) => {
  await page.goto(`${alone.url}/machines/LY-08`);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'As a bundle' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('LY-08.zip');
  const bundle = readFileSync(await download.path());
  await page.goto(`${alone.url}/machines`);
  const files = page.getByLabel('Machine file or bundle');
  await files.setInputFiles({ name: 'LY-08.zip', mimeType: 'application/zip', buffer: bundle });
  const looked = page.getByRole('region', { name: 'The bundle' });
  await expect(looked).toContainText('Bundle of machine LY-08, Eddy-brake cycle ergometer');
  await expect(looked).toContainText('It changes nothing');
  await looked.getByRole('button', { name: 'Open it' }).click();
  await page.waitForURL(/machines\/LY-08$/);
});

/** Gives the pin another colour, as somebody at that ledger would. */
async function paint(ledger: Ledger, pin: string, colours: string): Promise<void> {
  const map = await ledger.get<{ pins: { id: string; version: number; label: string; signal: string }[] }>(
    '/api/machines/LY-08/boards/cb/map',
  );
  const { version, label, signal } = map.pins.find((p) => p.id === pin) ?? { version: 0, label: '', signal: '' };
  const answer = await fetch(`${ledger.url}/api/board-types/stenwath-sw204-c/pins/j1/${pin}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ version, label, colours, signal }),
  });
  expect(answer.status).toBe(200);
}

test('two ledgers wrote on the same board: what one of them wrote comes in, what both wrote is chosen', async ({
  edda: page,
  alone,
}) => {
  const away = await Ledger.start();
  await paint(away, 'j1-1', 'GN');
  await paint(away, 'j1-2', 'VT');
  await paint(alone, 'j1-2', 'YE');
  const bundle = Buffer.from(await (await fetch(`${away.url}/api/machines/LY-08/bundle`)).arrayBuffer());
  await away.kill();
  await page.goto(`${alone.url}/machines`);
  const file = { name: 'LY-08.zip', mimeType: 'application/zip', buffer: bundle };
  await page.getByLabel('Machine file or bundle').setInputFiles(file);
  const looked = page.getByRole('region', { name: 'The bundle' });
  await expect(looked.getByRole('region', { name: 'Changed there' })).toContainText('pin J1·1');
  const take = looked.getByRole('button', { name: 'Take it in' });
  await expect(take).toBeDisabled();
  await expect(looked).toContainText('One choice is open.');
  const clash = looked.getByRole('radiogroup', { name: /pin J1·2/ });
  await expect(clash).toContainText('colours: yellow');
  await expectNothing(page, 'a bundle with a clash');
  await clash.getByRole('radio', { name: /As in the bundle/ }).focus();
  await page.keyboard.press('Space');
  await take.click();
  await page.waitForURL(/machines\/LY-08$/);
  const map = await alone.get<{ pins: { id: string; colourWords: string }[] }>('/api/machines/LY-08/boards/cb/map');
  expect(map.pins.filter((p) => ['j1-1', 'j1-2'].includes(p.id)).map((p) => p.colourWords)).toEqual([
    'green',
    'violet',
  ]);
  await page.goto(`${alone.url}/machines`);
  await page.getByLabel('Machine file or bundle').setInputFiles(file);
  await expect(looked).toContainText('It changes nothing');
});

test('a model and a board type go out alone', async ({ edda: page, alone }) => {
  for (const [path, name, words] of [
    ['models/stenwath-cadence', /Cadence.*\.zip$/, 'Bundle of model'],
    ['board-types/stenwath-sw204-c', /SW-204.*\.zip$/, 'Bundle of board type SW-204 rev C'],
  ] as const) {
    await page.goto(`${alone.url}/${path}`);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'As a bundle' }).click(),
    ]);
    expect(download.suggestedFilename()).toMatch(name);
    const buffer = readFileSync(await download.path());
    await page.goto(`${alone.url}/machines`);
    await page
      .getByLabel('Machine file or bundle')
      .setInputFiles({ name: 'b.zip', mimeType: 'application/zip', buffer });
    const looked = page.getByRole('region', { name: 'The bundle' });
    await expect(looked).toContainText(words);
    await looked.getByRole('button', { name: 'Open it' }).click();
    await page.waitForURL(`${alone.url}/${path}`);
  }
});

test('a damaged bundle is refused with the reason', async ({ edda: page, ledger, allow }) => {
  allow(/status of 400/);
  const bundle = Buffer.from(await (await fetch(`${ledger.url}/api/machines/LY-06/bundle`)).arrayBuffer());
  await page.goto(`${ledger.url}/machines`);
  await page
    .getByLabel('Machine file or bundle')
    .setInputFiles({ name: 'cut.zip', mimeType: 'application/zip', buffer: bundle.subarray(0, bundle.length - 40) });
  const looked = page.getByRole('region', { name: 'The bundle' });
  await expect(looked.getByRole('alert')).toContainText('The file is no bundle, or damaged');
  await expect(looked.getByRole('button', { name: 'Take it in' })).toHaveCount(0);
  await looked.getByRole('button', { name: 'Leave it' }).click();
  await expect(looked).toHaveCount(0);
});

test.describe('under a thumb', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

  test('the boards are looked over, and what the eye finds is near when it is measured', async ({
    edda: page,
    alone,
  }) => {
    const { visit, round } = await newVisit(alone, 'ly-08');
    await page.goto(`${alone.url}/visits/${visit}/look`);
    await page.getByTestId('board-map').getByRole('button', { name: 'F1', exact: true }).click();
    await page.getByRole('button', { name: 'Corroded' }).tap();
    await expect(page.getByText('Corroded at F1, noted.')).toBeVisible();
    await page.getByRole('button', { name: 'Lint' }).tap();
    await expect(page.getByText('Lint at F1, noted.')).toBeVisible();
    await page.getByRole('button', { name: 'Take it back' }).tap();
    await expect(page.getByText('Lint at F1, noted.')).toBeHidden();
    await page.getByRole('button', { name: 'Odd but normal' }).tap();
    await page.getByLabel('What it is').fill('holder is loose');
    await page.getByLabel('Why that is normal').fill('its clip turns');
    await page.getByRole('button', { name: 'Pin it here' }).tap();
    await expect(page.getByRole('region', { name: 'Pinned here' })).toContainText('because its clip turns');
    await page.getByRole('button', { name: 'Looked over: 1 thing found' }).tap();
    await expect(page.getByText('Looked over: 1 thing found')).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

    await page.goto(`${alone.url}/rounds/${round}`);
    await page
      .getByRole('button', { name: /CB-F1·2/ })
      .first()
      .click();
    const near = page.getByRole('list', { name: 'Pinned near here' });
    await expect(near).toContainText('odd but normal at F1: holder is loose, because its clip turns');
    await expect(near).toContainText('corroded at F1');
    await page.getByRole('button', { name: 'Photograph', exact: true }).click();
    await expect(page.getByTestId('photo-map').getByRole('button', { name: /^CB-F1·2.*red probe/ })).toBeVisible();
  });
});
