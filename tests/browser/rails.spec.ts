import type { Page } from '@playwright/test';
import { expectNothing } from './axe';
import { beginMachine, expect, open, test } from './fixtures';
import { Ledger } from './ledger';

test('a machine entered from nothing: a lamp drags its rail down, and the others come back without it', async ({
  page,
}) => {
  const ledger = await Ledger.empty();
  try {
    await run(page, ledger);
  } finally {
    await page.close();
    await ledger.kill();
  }
});

async function run(page: Page, ledger: Ledger): Promise<void> {
  await beginMachine(page, ledger, { tag: 'QR-07', name: 'Carousel', boards: '' });
  await open(page, `${ledger.url}/machines/QR-07/functions`);
  for (const part of ['supply', 'fuse F1', 'board', 'motor', 'lamp']) {
    await page.getByLabel('One more part').fill(part);
    await page.keyboard.press('Enter');
  }
  for (const what of ['wheel turns', 'organ plays', 'canopy shines']) {
    await page.getByLabel('One more function').fill(what);
    await page.keyboard.press('Enter');
  }
  for (const cell of [
    'wheel turns, motor',
    'organ plays, fuse F1',
    'organ plays, board',
    'canopy shines, fuse F1',
    'canopy shines, lamp',
  ]) {
    await page.getByRole('button', { name: `${cell}: not needed` }).click();
  }
  // A name by Enter, the fuse by its letter, and each part that hangs on it by one press.
  await page.getByLabel('One more rail').fill('12 V');
  await page.keyboard.press('Enter');
  // The same name again is said, and stays to be changed.
  await page.getByLabel('One more rail').fill('12 v');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('12 v is there already');
  await expect(page.getByLabel('One more rail')).toHaveValue('12 v');
  await page.getByLabel('One more rail').fill('');
  await page.getByRole('button', { name: 'What feeds 12 V' }).focus();
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'board hangs on no rail that anybody named' }).focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await expect(page.getByRole('region', { name: 'Rails' })).toContainText('to board, lamp');
  await expectNothing(page, 'functions with a rail');
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'lamp hangs on 12 V' })).toBeVisible();

  await open(page, `${ledger.url}/machines/QR-07`);
  const bar = page.getByRole('region', { name: 'Visit', exact: true });
  await bar.getByRole('textbox').fill('Organ plays does nothing; canopy shines does nothing; wheel turns works');
  await bar.getByRole('button', { name: /^Start visit/ }).click();
  await page.waitForURL(/rounds|visits/);
  await page.getByRole('link', { name: /^Reason/ }).click();
  const [known, suspects] = ['What is known', 'Who it can still be'].map((name) => page.getByRole('region', { name }));
  await expect(known!).toContainText('organ plays, running: does nothing');
  await page.keyboard.press('F4');
  await page.keyboard.type('F1 blows at once');
  await page.keyboard.press('Enter');
  await expect(known!).toContainText('fuse F1: blows at once');
  await page.keyboard.press('F4');
  await page.keyboard.type('organ plays works with lamp unplugged');
  await page.keyboard.press('Enter');
  await expect(known!).toContainText('organ plays with lamp pulled, running: works');
  await page.keyboard.press('F4');
  await page.keyboard.type('F1 holds with lamp unplugged');
  await page.keyboard.press('Enter');
  await expect(suspects!.getByRole('listitem').first()).toContainText('lamp pulls 12 V down');
}
