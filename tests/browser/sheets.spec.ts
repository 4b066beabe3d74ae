import { choose, expect, test } from './fixtures';
import type { Ledger } from './ledger';

/** Somebody else changes a sheet in between. */
async function elsewhere<Sheet extends { version: number }>(
  ledger: Ledger,
  path: string,
  change: (sheet: Sheet) => unknown,
): Promise<void> {
  const answer = await fetch(ledger.url + path, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'X-Person': 'bram' },
    body: JSON.stringify(change(await ledger.get<Sheet>(path))),
  });
  expect(answer.status).toBe(200);
}

interface Codes {
  version: number;
  codes: { id: string; meaning: string; shown: string }[];
}
const codesOf = '/api/board-types/oskerra-vg-b/codes';

test('a code is written down by its kind, refused while it makes no sense, and found on the machine', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 400/);
  await page.goto(`${ledger.url}/board-types/oskerra-vg-b`);
  const codes = page.getByRole('region', { name: 'Codes' });
  await codes.getByRole('button', { name: 'Add a code' }).click();
  const line = codes.getByRole('group', { name: /^Code/ });
  // A display has signs and no lamp.
  await expect(line.getByLabel('Colour')).toHaveCount(0);
  await choose(line.getByLabel('Kind'), 'beeps');
  await expect(line.getByLabel('Shown, # a digit')).toHaveCount(0);
  await expect(codes.getByRole('alert')).toContainText('comes in groups; write how many in each');
  await line.getByLabel('Groups, such as 2 1').fill('7');
  await page.keyboard.press('Tab');
  await expect(codes.getByRole('status')).toHaveText('kept');
  await line.getByLabel('Means').fill('Door not shut');
  await page.keyboard.press('Tab');
  await line.getByLabel('Points to').fill('door switch');
  await page.keyboard.press('Tab');
  await expect(codes.getByRole('status')).toHaveText('kept');
  await expect(codes.getByRole('button', { name: /7 beeps/ })).toContainText('Door not shut');
  await page.reload();
  await expect(codes.getByRole('button', { name: /7 beeps/ })).toContainText('door switch');

  await page.goto(`${ledger.url}/machines/LY-02/boards/main/codes`);
  await page.getByRole('tab', { name: 'Beeps' }).click();
  await page.getByLabel(/How many beeps/).fill('7');
  await expect(page.getByRole('article', { name: '7 beeps' })).toContainText('Door not shut');
});

test('two people write one list of codes: the second sees what differs and chooses', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  await page.goto(`${ledger.url}/board-types/oskerra-vg-b`);
  const codes = page.getByRole('region', { name: 'Codes' });
  const first = codes.getByRole('list', { name: 'Codes' }).getByRole('button').first();
  await first.click();
  await elsewhere<Codes>(ledger, codesOf, (sheet) => ({
    ...sheet,
    codes: sheet.codes.map((c, i) => (i === 0 ? { ...c, meaning: 'Said by Bram' } : c)),
  }));
  await codes.getByLabel('Means').fill('Said by Edda');
  await page.keyboard.press('Tab');
  const clash = codes.getByRole('alert');
  await expect(clash).toContainText('meaning Said by Edda');
  await expect(clash).toContainText('meaning Said by Bram');
  await clash.getByRole('button', { name: 'Take theirs' }).click();
  await expect(first).toContainText('Said by Bram');
  await expect(codes.getByLabel('Means')).toHaveValue('Said by Bram');
  // From there it is written on, and kept.
  await codes.getByLabel('Points to').fill('the valve');
  await page.keyboard.press('Tab');
  await expect(codes.getByRole('status')).toHaveText('kept');
  const kept = await ledger.get<{ codes: { meaning: string; pointsTo: string }[] }>(codesOf);
  expect(kept.codes[0]).toMatchObject({ meaning: 'Said by Bram', pointsTo: 'the valve' });

  // Who writes the marks of the same board is not in the way.
  const marks = page.getByRole('region', { name: 'Known by' });
  await marks.getByLabel('It shows').first().fill('seen anew');
  await page.keyboard.press('Tab');
  await expect(marks.getByRole('status')).toHaveText('kept');
  await expect(marks.getByRole('alert')).toHaveCount(0);
});

test('two people write what can hurt at one model: the second keeps the own text', async ({
  edda: page,
  alone: ledger,
  allow,
}) => {
  allow(/status of 409/);
  await page.goto(`${ledger.url}/models/oskerra-veil?from=LY-02`);
  const safety = page.getByRole('region', { name: 'What can hurt' });
  const sources = safety.getByRole('group', { name: 'Sources' });
  // What the page knows is from before the other wrote.
  await expect(sources.getByLabel('Isolated at').first()).toBeVisible();
  interface Page {
    versionOfSafety: number;
    safety: { sources: { isolation: string }[] };
  }
  const model = await ledger.get<Page>('/api/models/oskerra-veil');
  const theirs = {
    version: model.versionOfSafety,
    sheet: {
      ...model.safety,
      sources: model.safety.sources.map((s, i) => (i === 0 ? { ...s, isolation: 'isolator Q9' } : s)),
    },
  };
  const put = await fetch(`${ledger.url}/api/models/oskerra-veil/safety`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'X-Person': 'bram' },
    body: JSON.stringify(theirs),
  });
  expect(put.status).toBe(200);
  await sources.getByLabel('Isolated at').first().fill('isolator Q1, in the cellar');
  await page.keyboard.press('Tab');
  const clash = safety.getByRole('alert');
  await expect(clash).toContainText('isolation isolator Q1, in the cellar');
  await expect(clash).toContainText('isolation isolator Q9');
  await clash.getByRole('button', { name: 'Keep mine' }).click();
  await expect(safety.getByRole('status')).toHaveText('kept');
  const after = await ledger.get<Page>('/api/models/oskerra-veil');
  expect(after.safety.sources[0]?.isolation).toBe('isolator Q1, in the cellar');
});

test('stored charge and a question of its own are written at the model, and asked at the machine', async ({
  edda: page,
  alone: ledger,
}) => {
  await page.goto(`${ledger.url}/models/cawdale-trundle?from=LY-04`);
  const safety = page.getByRole('region', { name: 'What can hurt' });
  await safety.getByRole('button', { name: 'Add to stored charge' }).click();
  const charge = safety.getByRole('group', { name: 'Stored charge' });
  await charge.getByLabel('Capacitor').last().fill('C12 at the drive');
  await page.keyboard.press('Tab');
  await charge.getByLabel('µF').last().fill('470');
  await page.keyboard.press('Tab');
  await expect(safety.getByRole('status')).toHaveText('kept');
  const outside = page.getByRole('region', { name: 'Outside checks' });
  await outside.getByRole('button', { name: 'Add to its own' }).click();
  await outside.getByLabel('A question that yes answers when all is well').last().fill('Is the belt on its rollers?');
  await page.keyboard.press('Tab');
  await expect(outside.getByRole('status')).toHaveText('kept');

  await page.goto(`${ledger.url}/machines/LY-04`);
  const visit = 'sheets-visit';
  await fetch(`${ledger.url}/api/visits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      id: visit,
      roundId: 'sheets-round',
      machineId: 'ly-04',
      complaint: 'stops',
      personId: 'edda',
    }),
  });
  await page.goto(`${ledger.url}/visits/${visit}/safe`);
  await expect(page.getByText('C12 at the drive').first()).toBeVisible();
  await page.goto(`${ledger.url}/visits/${visit}/arrive`);
  // Asked one after the other, all well until it is asked.
  const asked = page.getByTestId('outside').locator('p').first();
  await page.getByTestId('outside').focus();
  const before = new Set<string>();
  while (!(await asked.innerText()).includes('Is the belt on its rollers?')) {
    const question = await asked.innerText();
    expect(before.has(question), `asked again: ${question}`).toBe(false);
    before.add(question);
    await page.keyboard.press('y');
    await expect(asked).not.toHaveText(question);
  }
});
