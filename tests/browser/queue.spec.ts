import { expect, ledgerIsGone, measure, newRound, newVisit, settled, test } from './fixtures';

test('a log-in page that answers everything with 200 takes nothing off the device', async ({ edda: page, alone }) => {
  const { visit } = await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/visits/${visit}/safe`);
  const act = page.getByTestId('next-act');
  await expect(act).toContainText('switch off the mains');
  await settled(page);
  await page.route('**/api/**', (route) =>
    route.fulfill({ status: 200, contentType: 'text/html', body: '<html><h1>Guest network: log in</h1></html>' }),
  );
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('Something else answers in the ledger’s place');
  await expect(page.getByRole('status').first()).toContainText('1 thing waits');
  // The log-in is done: what waited goes, once.
  await page.unroute('**/api/**');
  await expect(act).toContainText('isolate the mains');
  await expect(page.getByText('1 thing waits')).toBeHidden();
  const events = await alone.get<{ safety: { state: { steps: { doneAt: string | null }[] } } }>(
    `/api/visits/${visit}/start`,
  );
  expect(events.safety.state.steps.filter((s) => s.doneAt !== null)).toHaveLength(1);
});

test('another ledger at the same address gets nothing that was made for this one', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of 421/);
  const { visit } = await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/visits/${visit}/safe`);
  await expect(page.getByTestId('next-act')).toContainText('switch off the mains');
  await settled(page);
  await page.evaluate(() => localStorage.setItem('ledger-id', 'some-other-ledger'));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('Another ledger answers here');
  const start = await alone.get<{ safety: { state: { steps: { doneAt: string | null }[] } } }>(
    `/api/visits/${visit}/start`,
  );
  expect(start.safety.state.steps.filter((s) => s.doneAt !== null)).toHaveLength(0);
});

test('what the ledger fails on steps aside, can be mended, handed over or thrown away, and the rest goes on', async ({
  edda: page,
  alone,
  allow,
}) => {
  allow(/status of (500|409)/);
  const { visit } = await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/visits/${visit}/arrive`);
  await settled(page);
  const caught = page.getByRole('region', { name: 'Catch what goes when it is off' });
  let broken = '';
  await page.route('**/observations', async (route) => {
    const parcel = route.request().headers()['x-parcel'] ?? '';
    broken ||= parcel;
    if (parcel !== broken) {
      await route.continue();
      return;
    }
    const ledger = await page.evaluate(() => localStorage.getItem('ledger-id') ?? '');
    await route.fulfill({
      status: 500,
      headers: { 'X-Parcel': parcel, 'X-Ledger': ledger },
      contentType: 'application/problem+json',
      body: JSON.stringify({ title: 'It broke' }),
    });
  });
  await caught.getByRole('textbox').fill('E 07');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('1 refused', { timeout: 20_000 });
  await caught.getByRole('textbox').fill('E 08');
  await page.keyboard.press('Enter');
  await expect(caught.getByRole('listitem').filter({ hasText: 'E 08' })).toBeVisible();

  await page.getByRole('link', { name: 'See what waits' }).click();
  const waiting = page.getByRole('listitem').filter({ hasText: 'The ledger failed on it 3 times' });
  await expect(waiting).toBeVisible();
  const handed = page.waitForEvent('download');
  await waiting.getByRole('button', { name: 'Hand over as text' }).click();
  expect((await handed).suggestedFilename()).toMatch(/\.txt$/);
  await page.unroute('**/observations');
  await waiting.getByRole('button', { name: 'Mend' }).click();
  const mend = page.getByRole('form', { name: /^Mend/ });
  await mend.getByLabel('Text').fill('E 07, blinking');
  await mend.getByRole('button', { name: 'Send it so' }).click();
  await expect(page.getByText('Nothing waits')).toBeVisible();
  await page.goto(`${alone.url}/visits/${visit}/arrive`);
  await expect(caught).toContainText('E 07, blinking');
});

test('readings and acts wait in one order, over a reload, and arrive once', async ({ edda: page, mortal, allow }) => {
  allow(ledgerIsGone);
  const round = await newRound(mortal);
  await page.goto(`${mortal.url}/rounds/${round}`);
  await settled(page);
  await mortal.kill();
  await measure(page, '3.1');
  await expect(page.getByRole('status').first()).toContainText('1 thing waits');
  await mortal.run();
  await page.reload();
  await expect(page.getByTestId('last')).toContainText('3.1 Ω');
  await expect(page.getByText('1 thing waits')).toBeHidden();
});

test('what was typed and not sent is there again after a reload', async ({ edda: page, alone }) => {
  const { visit, round } = await newVisit(alone, 'ly-08');
  await page.goto(`${alone.url}/visits/${visit}/safe`);
  const act = page.getByTestId('next-act');
  await expect(act).toContainText('switch off the mains');
  await act.getByRole('textbox').fill('by the harbour hand');
  await page.reload();
  await expect(act.getByRole('textbox')).toHaveValue('by the harbour hand');
  await page.keyboard.press('Enter');
  await expect(act).toContainText('isolate the mains');
  await expect(act.getByRole('textbox')).toHaveValue('');

  await page.goto(`${alone.url}/visits/${visit}/arrive`);
  const caught = page.getByRole('region', { name: 'Catch what goes when it is off' });
  await caught.getByRole('textbox').fill('E 19');
  await page.goto(`${alone.url}/rounds/${round}`);
  await expect(page.getByTestId('probe')).toBeVisible();
  await page.goto(`${alone.url}/visits/${visit}/arrive`);
  await expect(caught.getByRole('textbox')).toHaveValue('E 19');

  await page.goto(`${alone.url}/machines/LY-08`);
  await page.getByRole('button', { name: 'End the visit' }).click();
  await page.getByLabel('What was done').fill('Looked at, no more');
  await page.reload();
  await page.getByRole('button', { name: 'End the visit' }).click();
  await expect(page.getByLabel('What was done')).toHaveValue('Looked at, no more');
});

test('forms written while the ledger is gone are there again after a reload, and each arrives once', async ({
  edda,
  mortal,
  allow,
}) => {
  allow(ledgerIsGone);
  allow(/status of 409/);
  const { visit } = await newVisit(mortal, 'ly-08');
  const machine = await mortal.get<{ modelId: string; boards: { boardTypeId: string }[] }>('/api/machines/LY-08');
  const at = async (path: string) => {
    const page = await edda.context().newPage();
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    await page.goto(mortal.url + path);
    await settled(page);
    return page;
  };
  const plate = await at('/machines/LY-08');
  await plate.getByRole('button', { name: 'Change', exact: true }).click();
  const card = await at(`/visits/${visit}`);
  const model = await at(`/models/${machine.modelId}?tag=LY-08`);
  const begun = await at('/machines/new');
  const safe = await at(`/visits/${visit}/safe`);
  await safe.getByRole('button', { name: 'Place one' }).first().click();
  const tables = await at(`/board-types/${machine.boards[0]?.boardTypeId ?? ''}`);

  await mortal.kill();
  await plate.getByLabel('Customer').fill('Harbour gym club');
  await plate.keyboard.press('Tab');
  await card.getByLabel(/^Left/).fill('a spare fuse in the lid');
  await card.keyboard.press('Tab');
  await card.getByLabel('What support said').fill('send the old board');
  await model.getByLabel('it stands in a wet place').click();
  await begun.getByLabel(/^Tag/).fill('LY-77');
  await begun.getByLabel(/^What it is/).fill('bench lift');
  await safe.getByLabel('Where, in words').fill('round the seat switch');
  await tables.getByRole('gridcell').nth(3).dblclick();
  await tables.keyboard.press('Control+a');
  await tables.keyboard.type('as measured on the bench');
  await tables.keyboard.press('Enter');
  await expect(tables.getByRole('grid')).toContainText('as measured on the bench');
  await expect(plate.getByRole('alert')).toContainText('cannot be reached');

  await mortal.run();
  for (const page of [plate, card, model, begun, safe, tables]) {
    await page.reload();
  }
  await expect(begun.getByLabel(/^Tag/)).toHaveValue('LY-77');
  await expect(begun.getByLabel(/^What it is/)).toHaveValue('bench lift');
  await expect(card.getByLabel('What support said')).toHaveValue('send the old board');
  await expect(safe.getByLabel('Where, in words')).toHaveValue('round the seat switch');
  await expect(tables.getByRole('grid')).toContainText('as measured on the bench');
  await expect
    .poll(async () => {
      const now = await mortal.get<{ customer: string }>('/api/machines/LY-08');
      const left = await mortal.get<{ left: string[] }>(`/api/visits/${visit}`);
      const sheet = await mortal.get<{ safety: { wetPlace: boolean } }>(`/api/models/${machine.modelId}`);
      return [now.customer, left.left, sheet.safety.wetPlace];
    })
    .toEqual(['Harbour gym club', ['a spare fuse in the lid'], true]);
});

test('a form that was left with the ledger gone goes without its page, in its order, and is told among what waits', async ({
  edda: page,
  mortal,
  allow,
}) => {
  allow(ledgerIsGone);
  const { visit } = await newVisit(mortal, 'ly-08');
  await page.goto(`${mortal.url}/waiting`);
  await settled(page);
  await page.goto(`${mortal.url}/visits/${visit}`);
  await settled(page);
  await mortal.kill();
  await page.getByLabel(/^Left/).fill('a spare fuse in the lid');
  await page.keyboard.press('Tab');
  await expect(page.getByText('1 thing waits on this device')).toBeVisible();
  await page.getByRole('link', { name: 'See what waits' }).click();
  const waiting = page.getByRole('listitem').filter({ hasText: 'What is written of a visit' });
  await expect(waiting).toHaveCount(1);
  await expect(waiting).toContainText('waits for the ledger');
  await mortal.run();
  await expect(page.getByText('Nothing waits')).toBeVisible();
  expect((await mortal.get<{ left: string[] }>(`/api/visits/${visit}`)).left).toEqual(['a spare fuse in the lid']);
});

test('what was begun and left is told on the page of what waits, and can be gone on with or let go', async ({
  edda: page,
  ledger,
}) => {
  await page.goto(`${ledger.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill('LY-78');
  await page.goto(`${ledger.url}/waiting`);
  await expect(page.getByText('Nothing waits')).toBeHidden();
  const begun = page.getByRole('region', { name: 'Begun here, not in the ledger yet' });
  await begun.getByRole('link', { name: 'Go on with it' }).click();
  await expect(page.getByLabel(/^Tag/)).toHaveValue('LY-78');
  await page.goto(`${ledger.url}/waiting`);
  await begun.getByRole('button', { name: 'Let go: A new machine' }).click();
  await expect(page.getByText('Nothing waits')).toBeVisible();
});

test('a note, a call, a setting, a cell, a check made with the ledger gone go with their pages closed, once each', async ({
  edda,
  mortal,
  allow,
}) => {
  allow(ledgerIsGone);
  const { visit } = await newVisit(mortal, 'ly-03');
  const machine = await mortal.get<{ modelId: string; boards: { boardTypeId: string }[] }>('/api/machines/LY-03');
  const model = await mortal.get<{ pins: { printed: string }[] }>(`/api/models/${machine.modelId}`);
  const red = model.pins[0]?.printed ?? '';
  const boardTypeId = machine.boards[0]?.boardTypeId ?? '';
  const at = async (path: string) => {
    const page = await edda.context().newPage();
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    await page.goto(mortal.url + path);
    await settled(page);
    return page;
  };
  const notes = await at('/machines/LY-03');
  const card = await at(`/visits/${visit}`);
  const settings = await at('/machines/LY-03/settings');
  const tables = await at(`/board-types/${boardTypeId}`);
  const wiring = await at('/machines/LY-03/wiring');

  await mortal.kill();
  await notes.getByPlaceholder('A note on this machine').fill('the hook squeaks');
  await notes.keyboard.press('Enter');
  await expect(notes.getByPlaceholder('A note on this machine')).toHaveValue('');
  await card.getByLabel('What support said').fill('send the old board');
  await card.getByRole('button', { name: 'Note the call' }).click();
  await expect(card.getByLabel('What support said')).toHaveValue('');
  await settings.getByRole('combobox', { name: 'Code' }).fill('n4');
  await settings.keyboard.press('Enter');
  await settings.keyboard.type('137');
  await settings.keyboard.press('Enter');
  await tables.getByRole('gridcell').nth(4).click();
  for (const words of ['as measured', 'as measured twice']) {
    await tables.keyboard.type(words);
    await tables.keyboard.press('Enter');
    await tables.keyboard.press('ArrowUp');
  }
  await expect(tables.getByRole('grid')).toContainText('as measured twice');
  const own = wiring.getByRole('grid', { name: 'Checks of LY-03 alone' });
  const cell = (column: number) => own.getByRole('row').nth(1).getByRole('gridcell').nth(column);
  await cell(0).click();
  await wiring.keyboard.type(red);
  await wiring.keyboard.press('Enter');
  await cell(5).click();
  await wiring.keyboard.type('24');
  await wiring.keyboard.press('Enter');
  await expect(own).toContainText(red);
  for (const page of [notes, card, settings, tables, wiring]) {
    await page.close();
  }

  // All of it is on the device, whichever page it was made on, and goes from any other.
  await mortal.run();
  const waiting = await at('/waiting');
  await expect
    .poll(async () => {
      const own = await mortal.get<{ checks: { limit: string }[] }>('/api/machines/ly-03/checks');
      return own.checks.map((c) => c.limit);
    })
    .toEqual(['24 V']);
  await expect(waiting.getByText('Nothing waits')).toBeVisible();
  const line = await mortal.get<{ entries: { title: string }[] }>('/api/machines/ly-03/timeline?take=100');
  expect(line.entries.filter((e) => e.title === 'the hook squeaks')).toHaveLength(1);
  const calls = (await mortal.get<{ calls: { said: string }[] }>(`/api/visits/${visit}`)).calls;
  expect(calls.map((c) => c.said)).toEqual(['send the old board']);
  const boards = await mortal.get<{ boards: { snapshots: { values: { code: string; value: string }[] }[] }[] }>(
    '/api/machines/ly-03/settings',
  );
  const values = boards.boards.flatMap((b) => b.snapshots.flatMap((s) => s.values));
  expect(values.filter((v) => v.code === 'n4' && v.value === '137')).toHaveLength(1);
  const rows = await mortal.get<{ rows: { cells: { signal?: string } }[] }>(`/api/board-types/${boardTypeId}/tables`);
  expect(rows.rows.filter((r) => r.cells.signal === 'as measured twice')).toHaveLength(1);
  const checks = await mortal.get<{ checks: { red: string; limit: string }[] }>('/api/machines/ly-03/checks');
  expect(checks.checks.map((c) => [c.red, c.limit])).toEqual([[red, '24 V']]);
});
