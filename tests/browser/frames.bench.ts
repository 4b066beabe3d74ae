import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Page, test } from '@playwright/test';
import { Ledger } from './ledger';

interface Named {
  id: string;
}
interface MachineFile {
  boardTypes: { id: string; elements: unknown[]; links: unknown[]; checks: unknown[]; codes: unknown[] }[];
  model: { id: string; positions: Named[]; parts: unknown[]; links: unknown[]; checks: unknown[] };
  machine: { id: string; tag: string; modelId: string; boards: unknown[] };
  visits: unknown[];
  notes: unknown[];
  boardNotes: unknown[];
  photographs: { id: string; visitId?: string; points: { corner?: string; x: number; y: number }[] }[];
}

/** LY-08 with 60 connectors of 25 pins on its brake board, under ids of its own. */
function large(): MachineFile {
  const file = JSON.parse(
    readFileSync(join(import.meta.dirname, '../../demo/ly-08/machine.json'), 'utf8'),
  ) as MachineFile;
  const board = file.boardTypes[0];
  if (!board) {
    throw new Error('LY-08 has no board');
  }
  Object.assign(board, { id: 'large', links: [], checks: [], codes: [] });
  board.elements = Array.from({ length: 60 }, (_, e) => ({
    id: `x${e}`,
    kind: 'connector',
    designator: `X${e}`,
    purpose: '',
    x: 3 + (e % 3) * 49,
    y: 3 + Math.floor(e / 3) * 4.9,
    rows: 1,
    pitchMm: 1.9,
    direction: 'across',
    pin1: 'topLeft',
    numbering: 'rowByRow',
    rating: '',
    pins: Array.from({ length: 25 }, (__, i) => ({
      id: `x${e}-${i}`,
      index: i + 1,
      label: `${i + 1}`,
      colours: 'BU',
      signal: 'line',
      isSource: false,
    })),
  }));
  file.boardTypes = [board];
  Object.assign(file.model, { id: 'large', parts: [], links: [], checks: [] });
  file.model.positions = file.model.positions.slice(0, 1);
  Object.assign(file.model.positions[0] ?? {}, { boardTypeId: 'large' });
  Object.assign(file.machine, { id: 'large', tag: 'LY-90', modelId: 'large', boards: [] });
  Object.assign(file, { visits: [], notes: [], boardNotes: [] });
  file.photographs = file.photographs.filter((p) => p.id === 'ly08-p3');
  for (const photograph of file.photographs) {
    photograph.id = 'large-p';
    delete photograph.visitId;
    // Three corners are marked; the fourth completes them, where they would lie on a slightly slanted board.
    photograph.points = photograph.points.filter((p) => p.corner);
    photograph.points.push({ corner: 'bottomLeft', x: 0.081, y: 0.7 });
  }
  return file;
}

/** Milliseconds between frames while the drawing is zoomed and dragged about. */
async function frames(page: Page, testId: string): Promise<number[]> {
  const box = await page.getByTestId(testId).boundingBox();
  if (!box) {
    throw new Error('nothing drawn');
  }
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.evaluate(() => {
    const times: number[] = [];
    let last = performance.now();
    const tick = (now: number) => {
      times.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    (window as unknown as { frames: number[] }).frames = times;
  });
  await page.mouse.move(x, y);
  for (let i = 0; i < 12; i++) {
    await page.mouse.wheel(0, -60);
  }
  await page.mouse.down();
  for (let i = 0; i < 40; i++) {
    await page.mouse.move(x + Math.sin(i / 4) * 120, y + Math.cos(i / 4) * 80);
  }
  await page.mouse.up();
  return page.evaluate(() => (window as unknown as { frames: number[] }).frames.slice(2));
}

test('frame times of 1,500 pins', async ({ page }) => {
  const ledger = await Ledger.start();
  try {
    const taken = await fetch(`${ledger.url}/api/machine-files`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(large()),
    });
    if (!taken.ok) {
      throw new Error(await taken.text());
    }
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    for (const [testId, query] of [
      ['board-map', ''],
      ['photo-map', '?on=photograph'],
    ] as const) {
      await page.goto(`${ledger.url}/machines/LY-90/boards/cb${query}`);
      await page.getByTestId(testId).locator('[data-pin]').nth(1499).waitFor();
      const times = (await frames(page, testId)).sort((a, b) => a - b);
      const at = (share: number) => (times[Math.floor((times.length - 1) * share)] ?? 0).toFixed(1);
      console.log(
        `${testId}, 1,500 pins, panned and zoomed: ${at(0.5)} ms median, ${at(0.95)} ms p95, ${times.length} frames`,
      );
    }
  } finally {
    await page.close();
    await ledger.kill();
  }
});
