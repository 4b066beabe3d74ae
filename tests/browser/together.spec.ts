import { expect, newVisit, test } from './fixtures';
import type { Ledger } from './ledger';

/** What Bram writes at the same time. */
async function bram(ledger: Ledger, method: 'POST' | 'PUT', path: string, body: unknown): Promise<void> {
  const answer = await fetch(ledger.url + path, {
    method,
    headers: { 'content-type': 'application/json', 'X-Person': 'bram' },
    body: JSON.stringify(body),
  });
  expect(answer.ok, await answer.text()).toBe(true);
}

interface Start {
  safety: {
    links: { id: string; version: number; kind: string; where: string; why: string; attended: boolean }[];
    notices: { id: string; version: number; told: string; watching: string }[];
  };
}

test('two people at one note on a board: both texts are shown, and the own one is kept', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  const { visit } = await newVisit(ledger, 'ly-08');
  await page.goto(`${ledger.url}/visits/${visit}/look`);
  await page.getByRole('button', { name: 'Water mark' }).click();
  await expect(page.getByText('Water mark at the whole board, noted.')).toBeVisible();
  const note = page
    .getByRole('region', { name: 'Pinned here' })
    .getByRole('listitem')
    .filter({ hasText: 'water mark' })
    .first();
  await note.getByRole('button', { name: 'Say more' }).click();
  await note.getByLabel('What it is').fill('from above, dry');
  const map = await ledger.get<{ notes: { id: string; version: number; kind: string; text: string }[] }>(
    '/api/machines/LY-08/boards/cb/map',
  );
  const kept = map.notes.find((n) => n.kind === 'waterMark');
  await bram(ledger, 'PUT', `/api/board-notes/${kept?.id}`, {
    version: kept?.version,
    kind: 'waterMark',
    text: 'from the roof',
    reason: '',
    photographId: null,
  });
  await note.getByRole('button', { name: 'Keep', exact: true }).click();
  const clash = note.getByRole('alert');
  await expect(clash).toContainText('yours: from above, dry');
  await expect(clash).toContainText('theirs: from the roof');
  await clash.getByRole('button', { name: 'Keep mine' }).click();
  await expect(clash).toHaveCount(0);
  await expect(note).toContainText('from above, dry');
});

test('a temporary link that somebody changed in between is shown as it stands, and is taken out then', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  const { visit } = await newVisit(ledger, 'ly-02');
  await bram(ledger, 'POST', `/api/visits/${visit}/temporary-links`, {
    id: 'link-of-two',
    kind: 'jumper',
    from: { position: 'main', pin: 'x1-1' },
    to: { position: 'main', pin: 'f1-1' },
    where: 'round the fuse holder',
    across: null,
    why: 'to see',
    attended: true,
    until: null,
    personId: 'bram',
  });
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  const out = page.getByRole('button', { name: 'It is out: round the fuse holder' });
  await expect(out).toBeVisible();
  const start = await ledger.get<Start>(`/api/visits/${visit}/start`);
  const link = start.safety.links.find((l) => l.id === 'link-of-two');
  await bram(ledger, 'PUT', '/api/temporary-links/link-of-two', {
    version: link?.version,
    kind: 'jumper',
    from: { position: 'main', pin: 'x1-1' },
    to: { position: 'main', pin: 'f1-1' },
    where: 'round the fuse holder',
    across: null,
    why: 'to see whether it fills',
    attended: true,
    until: null,
    isRemoved: false,
  });
  await out.click();
  await expect(page.getByText('to see whether it fills').first()).toBeVisible();
  // Where the page had not read it anew before, it is pressed once more; where it had, the button goes by itself.
  await expect(async () => {
    if ((await out.count()) > 0) {
      await out.click({ timeout: 2000 });
    }
    await expect(out).toHaveCount(0, { timeout: 2000 });
  }).toPass();
  const after = await ledger.get<{ safety: { links: { id: string; removedAt: string | null }[] } }>(
    `/api/visits/${visit}/start`,
  );
  expect(after.safety.links.find((l) => l.id === 'link-of-two')?.removedAt).not.toBeNull();
});
