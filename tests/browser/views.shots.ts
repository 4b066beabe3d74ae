import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, measure, open, settled, test } from './fixtures';

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
  { name: 'machines', path: '/machines', shows: words('11 machines') },
  {
    name: 'machine',
    path: '/machines/LY-01',
    shows: words(/Room stops and beeps/),
  },
  {
    name: 'measure',
    path: '/rounds/r3',
    shows: (page) => [page.getByTestId('probe'), page.getByTestId('path-words'), page.getByTestId('board-map')],
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
    name: 'terminals',
    path: '/machines/LY-04/boards/z1/terminals',
    act: (page) =>
      page
        .getByLabel('or paste the rows here')
        .fill(
          'Connector\tPin\tColour\tWhat it does\tShould read\nJ7\t1\tred\tdoor eye supply\t24 V ±5 %\n"\t2-3\tgrey\treturn\t\n"\t4\tbl\tdoor eye signal\t< 1 V\n"\t5\tyellow/black\tspare\t1,200\n',
        ),
    shows: words(/1 in doubt/),
  },
  { name: 'wiring', path: '/machines/LY-04/wiring', shows: (page) => [page.getByRole('table', { name: 'Wires' })] },
  { name: 'settings', path: '/machines/LY-03/settings', shows: (page) => [page.getByRole('table').first()] },
  { name: 'builds', path: '/models/merrowby-gala?from=LY-10', shows: words(/No gap between the builds/) },
  { name: 'fault', path: '/faults/ly01-f1', shows: words('Readings it rests on') },
  { name: 'call-card', path: '/visits/ly01-v3/call', shows: words('Last readings, those out of limit first') },
  {
    // The last, because it writes into the ledger that all pictures share.
    name: 'phone',
    path: '/rounds/r3',
    phone: true,
    act: (page) => measure(page, '24.3'),
    shows: (page) => [page.getByTestId('probe'), page.getByRole('group', { name: 'Number pad' })],
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
