import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, open, settled, test } from './fixtures';

const folder = join(import.meta.dirname, '../../docs/screenshots');

interface Shot {
  /** The file, and what the README says it shows. */
  name: string;
  path: string;
  /** What is pressed or typed before the picture. */
  act?: (page: Page) => Promise<unknown>;
  /** What must be in the picture, whole. */
  shows: (page: Page) => Locator[];
  dark?: boolean;
  phone?: boolean;
}

const words = (text: string | RegExp) => (page: Page) => [page.getByText(text).first()];

const shots: Shot[] = [
  { name: 'home', path: '/', shows: (page) => [page.getByRole('region', { name: 'Visits open' })] },
  {
    name: 'circuit',
    path: `/machines/LY-04/circuit?state=running&fault=${encodeURIComponent('Chain 2 +/1')}`,
    shows: words(/^stops:/),
  },
  {
    name: 'machine',
    path: '/machines/LY-01',
    shows: words(/rear motor runs/),
  },
  {
    name: 'measure',
    path: '/rounds/r3',
    shows: (page) => [page.getByTestId('probe'), page.getByTestId('path-words'), page.getByTestId('board-map')],
  },
  {
    name: 'phone',
    path: '/rounds/r3',
    phone: true,
    shows: (page) => [page.getByTestId('probe'), page.getByTestId('path-words')],
  },
  { name: 'arrive', path: '/visits/v3/arrive', shows: (page) => [page.getByTestId('outside')] },
  { name: 'safe', path: '/visits/v3/safe', shows: (page) => [page.getByTestId('next-act')] },
  {
    name: 'look',
    path: '/visits/v3/look',
    act: (page) => page.getByTestId('board-map').getByRole('button', { name: /F1/ }).first().click(),
    shows: (page) => [page.getByTestId('board-map')],
  },
  { name: 'photograph', path: '/photographs/ly08-p2', shows: (page) => [page.locator('main img').first()] },
  {
    name: 'laid',
    path: '/machines/LY-08/boards/cb?on=photograph',
    shows: words(/points agree to/),
  },
  {
    name: 'codes',
    path: '/machines/LY-08/boards/dp/codes',
    act: (page) => page.getByLabel('or type what it shows').fill('E5'),
    shows: (page) => [page.getByRole('region', { name: 'What it is' }).getByRole('article').first()],
  },
  {
    name: 'board',
    path: '/machines/LY-04/boards/z1',
    act: (page) => page.getByRole('button', { name: 'Z1-J1·1', exact: true }).click(),
    shows: (page) => [page.getByTestId('board-map'), page.getByText(/^What the eye finds at/)],
  },
  { name: 'tables', path: '/board-types/cawdale-zone-c', shows: (page) => [page.getByRole('grid').first()] },
  {
    name: 'sheet',
    path: '/machines/LY-11/sheet',
    act: (page) =>
      page
        .getByLabel('Paste the whole sheet, or type it')
        .fill(
          'Light curtain, added in June\ncommon: drive J1-2\n\nPin\tWire colour\tWhat is it for\tShould be\tGoes to\tSleeve\n' +
            'CURTAIN BOARD\nPlug J21\n1\torange\t24 V in\t24.2 ±3 %\t\t205\n2\tgry\treturn\t0 ±0.2\tlogic J5-2\t\n' +
            '3\tpink with white stripe\tcurtain, clear\t>= 18 V\tlogic J7-1\t211\n4\tbl\tcurtain test\tpulses\t\t\n5-6\t\tn/c\t\t\t\n' +
            'LAMP H4\n1\tviolet\tlamp feed\t24 or 0\t\t204\n2\tblk\tlamp return\t\tdrive J4-2\t\nTotal\t8\n',
        ),
    shows: words(/Take it in/),
  },
  { name: 'wiring', path: '/machines/LY-11/wiring', shows: (page) => [page.getByRole('grid', { name: 'Wires' })] },
  { name: 'settings', path: '/machines/LY-03/settings', shows: (page) => [page.getByRole('table').first()] },
  {
    name: 'reason',
    path: '/visits/v3/reason',
    shows: (page) => [
      page.getByRole('region', { name: 'Do this next' }),
      page.getByRole('region', { name: 'Who it can still be' }).getByRole('listitem').first(),
    ],
  },
];

for (const shot of shots) {
  test(shot.name, async ({ edda: page, ledger }) => {
    await page.setViewportSize(shot.phone ? { width: 390, height: 844 } : { width: 1280, height: 800 });
    await page.emulateMedia({ colorScheme: shot.dark ? 'dark' : 'light', reducedMotion: 'reduce' });
    await open(page, ledger.url + shot.path);
    await shot.act?.(page);
    await settled(page);
    for (const part of shot.shows(page)) {
      await expect(part).toBeInViewport();
    }
    // The caret blinks; the same page gives the same picture.
    await page.screenshot({ path: join(folder, `${shot.name}.png`), caret: 'hide' });
    // Whatever came while it was taken makes it a picture of a page that was still opening.
    await settled(page);
    await expect(page.locator('body')).not.toContainText(/\b[A-Z][a-z]+ing\b[^.]*…/);
  });
}
