import type { Page } from '@playwright/test';
import { expectNothing } from './axe';
import { beginMachine, expect, open, test } from './fixtures';
import { Ledger } from './ledger';

test('a machine entered from nothing: a lamp drags its rail down, and the others come back without it', async ({
  page,
  allow,
}) => {
  allow(/status of 409/);
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
  // A name by Enter, the fuse by its letter, and each part that hangs on it by one press. The ledger takes it, its answer is
  // lost with the page: what it took is no clash with what was typed after it.
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  const edits = '**/api/models/*/functions';
  const isTaken = new Promise<void>((done) => void page.route(edits, (sent) => sent.fetch().then(() => done(), done)));
  await page.getByLabel('One more rail').fill('12 V ');
  await page.keyboard.press('Enter');
  await isTaken;
  await page.getByLabel('One more part').fill('bell');
  await page.keyboard.press('Enter');
  await page.unroute(edits);
  await page.reload();
  await expect(page.getByRole('button', { name: 'What feeds 12 V' })).toBeVisible();
  await expect(page.getByText('kept', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByLabel('Part bell').fill('');
  await page.keyboard.press('Enter');
  // The same name again is said, and stays to be changed.
  await page.getByLabel('One more rail').fill('12 v');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('12 v is there already');
  await expect(page.getByLabel('One more rail')).toHaveValue('12 v');
  await page.getByLabel('One more rail').fill('');
  // So is a name that is changed to one that is there, and stays over a reload; Escape takes it back.
  const lamp = page.getByLabel('Part lamp', { exact: true });
  await lamp.fill('Motor');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Motor is there already');
  await page.reload();
  await expect(lamp).toHaveValue('Motor');
  await lamp.press('Escape');
  await expect(lamp).toHaveValue('lamp');
  const canopy = page.getByLabel('Function canopy shines');
  await canopy.fill('Wheel turns');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Wheel turns is there already');
  await canopy.fill('canopy shines');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveCount(0);
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
