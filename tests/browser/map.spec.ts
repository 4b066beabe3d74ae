import { expect, test } from './fixtures';

const ordinals = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];

/** Counts along the drawn pixels of one element's pins, as a finger would. */
function counted(pins: { printed: string; x: number; y: number }[], printed: string): string {
  const near = (values: number[]) =>
    [...values].sort((a, b) => a - b).filter((v, i, all) => i === 0 || v - (all[i - 1] ?? 0) > 2);
  const [columns, lines] = [near(pins.map((p) => p.x)), near(pins.map((p) => p.y))];
  const pin = pins.find((p) => p.printed === printed) ?? { x: 0, y: 0 };
  const at = (all: number[], value: number) => all.findIndex((v) => Math.abs(v - value) <= 2);
  const [column, line] = [at(columns, pin.x), at(lines, pin.y)];
  if (lines.length === 1) {
    return `${ordinals[column]} from the left`;
  }
  if (columns.length === 1) {
    return `${ordinals[line]} from the top`;
  }
  return columns.length >= lines.length
    ? `${ordinals[column]} from the left, ${line === 0 ? 'upper' : 'lower'} row`
    : `${ordinals[line]} from the top, ${column === 0 ? 'left' : 'right'} column`;
}

test('the map turns and mirrors, and its words count to the pixels drawn', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/machines/LY-04/boards/z2`);
  const map = page.getByTestId('board-map');
  await expect(map).toBeVisible();
  const facings = new Set<string>();
  for (let i = 0; i < 8; i++) {
    const facing = (await map.getAttribute('aria-label')) ?? '';
    facings.add(facing);
    const pins = await map.locator('[data-pin]').evaluateAll((drawn) =>
      drawn.map((g) => {
        const box = g.getBoundingClientRect();
        return {
          printed: g.getAttribute('data-pin') ?? '',
          words: g.getAttribute('data-words') ?? '',
          x: box.x + box.width / 2,
          y: box.y + box.height / 2,
        };
      }),
    );
    expect(pins).toHaveLength(26);
    for (const pin of pins) {
      const element = pins.filter((p) => p.printed.split('·')[0] === pin.printed.split('·')[0]);
      expect(counted(element, pin.printed), `${pin.printed} ${facing}`).toBe(pin.words);
    }
    await page.keyboard.press(i === 3 ? 'Alt+m' : 'Alt+r');
    await expect(map).not.toHaveAttribute('aria-label', facing);
  }
  expect(facings.size).toBe(8);
});

test('a pin shows its lines, a line shows its pin', async ({ edda: page, ledger }) => {
  await page.goto(`${ledger.url}/machines/LY-04/boards/z2`);
  await page
    .getByTestId('board-map')
    .getByRole('button', { name: /^Z2-J1·1,/ })
    .click();
  const leaf = page.getByRole('complementary', { name: 'The board' });
  await expect(leaf.getByRole('region', { name: 'Fed by' })).toContainText('Z1-J2·4');
  await expect(leaf.getByRole('region', { name: 'Feeds', exact: true })).toContainText('Z2-F1·1');
  await expect(leaf.getByRole('region', { name: 'Should read' })).toContainText(
    '24.5 V ±6 %, DC volts, to Z2-J1·2, belt running, plugged in',
  );
  await page.getByRole('button', { name: 'Z2-J4·3', exact: true }).click();
  await expect(page.getByTestId('board-map').getByRole('button', { name: /^Z2-J4·3,.*red probe/ })).toBeVisible();
});
