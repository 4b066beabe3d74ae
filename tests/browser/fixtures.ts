import { expect, type Locator, type Page, test as base } from '@playwright/test';
import { Ledger } from './ledger';

interface Fixtures {
  /** Console messages that a test expects, such as a refused reading's status. */
  allow: (message: RegExp) => void;
  /** The page of Edda, who chose her name before. */
  edda: Page;
  /** A ledger of the test's own, for a test that changes what others look at. */
  alone: Ledger;
  /** Likewise, for a test that kills it. */
  mortal: Ledger;
}

/** With a ledger that all tests of a worker share, and no page. */
export const served = base.extend<object, { ledger: Ledger }>({
  ledger: [
    async ({}, use) => {
      const ledger = await Ledger.start();
      await use(ledger);
      await ledger.kill();
    },
    { scope: 'worker' },
  ],
});

export const test = served.extend<Fixtures>({
  alone: async ({ page }, use) => {
    const ledger = await Ledger.start();
    await use(ledger);
    // The page goes first, so that nothing it still asks for finds the ledger gone.
    await page.close();
    await ledger.kill();
  },
  mortal: async ({ page }, use) => {
    const ledger = await Ledger.mortal();
    await use(ledger);
    await page.close();
    await ledger.kill();
  },
  allow: [
    async ({ page }, use) => {
      const allowed: RegExp[] = [];
      const errors: string[] = [];
      page.on('console', (message) => {
        if (message.type() === 'error' || message.text().includes('Content Security Policy')) {
          errors.push(`${message.text()} ${message.location().url}`);
        }
      });
      page.on('pageerror', (error) => errors.push(error.message));
      await use((message) => allowed.push(message));
      const wrong = errors.filter((e) => !allowed.some((a) => a.test(e)));
      if (wrong.length > 0) {
        throw new Error(`The page complained: ${wrong.join('\n')}`);
      }
    },
    { auto: true },
  ],
  edda: async ({ page }, use) => {
    await page.addInitScript(() => {
      localStorage.setItem('person-id', 'edda');
      localStorage.setItem('person-name', 'Edda');
    });
    await use(page);
  },
});

export { expect } from '@playwright/test';

/** What the browser says while the ledger is gone: it depends on how far a request had come. */
export const ledgerIsGone =
  /net::ERR_(CONNECTION_|EMPTY_RESPONSE|SOCKET_NOT_CONNECTED|INCOMPLETE_CHUNKED_ENCODING|CONTENT_LENGTH_MISMATCH|FAILED)|Failed to fetch/;

/** Goes there and waits until the page has all it asked for, pictures and letters included. */
export async function open(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await settled(page);
}

/** Waits until the page shows all it has: nothing asked for, nothing opening, twice in a row. */
export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const isWhole =
      document.querySelector('h1') !== null &&
      !document.documentElement.hasAttribute('data-asking') &&
      !/^[A-Z][a-z]+ing\b.*…$/m.test(document.body.innerText) &&
      [...document.images].every((i) => i.complete) &&
      document.fonts.status === 'loaded';
    const seen = window as { wholeBefore?: boolean };
    const wasWhole = seen.wholeBefore === true;
    seen.wholeBefore = isWhole;
    return isWhole && wasWhole;
  });
}

const made = () => `t${Date.now()}-${Math.floor(Math.random() * 1e9)}`;

const send = (ledger: Ledger, path: string, body: unknown) =>
  fetch(ledger.url + path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });

/** A visit of its own, so that tests do not see each other's readings; gives its id and its round's. */
/** On an empty ledger somebody says who they are, and begins a machine. */
export async function beginMachine(
  page: Page,
  ledger: Ledger,
  { tag, name, boards }: { tag: string; name: string; boards: string },
): Promise<void> {
  await page.goto(ledger.url);
  await page.getByLabel('Another name').fill('Ruth');
  await page.getByRole('button', { name: 'That is me' }).click();
  await expect(page.getByRole('link', { name: 'Ruth' })).toBeVisible();
  await page.goto(`${ledger.url}/machines/new`);
  await page.getByLabel(/^Tag/).fill(tag);
  await page.getByLabel(/^What it is/).fill(name);
  await page.getByLabel(/^Boards/).fill(boards);
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: `Photographs of ${tag}` })).toBeVisible();
}

export async function newVisit(
  ledger: Ledger,
  machineId: string,
  complaint = 'zone 4 stops',
): Promise<{ visit: string; round: string }> {
  const [visit, round] = [made(), made()];
  await send(ledger, '/api/visits', {
    id: visit,
    roundId: round,
    machineId,
    complaint,
    personId: 'edda',
  });
  return { visit, round };
}

/** A round of its own, proved dead, so that what is measured dead may be measured; gives its id. */
export async function newRound(ledger: Ledger, machineId = 'ly-04'): Promise<string> {
  const { visit, round } = await newVisit(ledger, machineId);
  const start = await ledger.get<{ safety: { state: { steps: { kind: string; subject: string }[] } } }>(
    `/api/visits/${visit}/start`,
  );
  for (const [i, { kind, subject }] of start.safety.state.steps.entries()) {
    const answer = await send(ledger, `/api/visits/${visit}/safety-events`, {
      id: made(),
      order: Date.now() * 100 + i,
      kind,
      subject,
      typed: kind === 'read' ? '0.1' : '',
      words: 'socket X9',
      target: null,
      deviceTime: new Date().toISOString(),
      personId: 'edda',
    });
    if (!answer.ok) {
      throw new Error(await answer.text());
    }
  }
  return round;
}

/** Opens a chooser and takes what it says by these words. */
export async function choose(field: Locator, words: string): Promise<void> {
  await field.click();
  await field.page().getByRole('option', { name: words, exact: true }).click();
}

/** Types a reading; where the next probe asks for a change first, says it is done. Waits until it was taken or refused. */
export async function measure(page: Page, text: string): Promise<void> {
  const done = page.getByRole('button', { name: /^Done/ }).first();
  const reading = page.getByLabel(/^Reading at/);
  const category = page.getByRole('button', { name: /^It is, go on/ });
  // Before the first check of few ohms the leads are asked for.
  const leads = page.getByRole('button', { name: 'Not now' });
  await done.or(reading).or(category).or(leads).first().waitFor();
  if (await done.isVisible()) {
    await page.keyboard.press('Enter');
  }
  await reading.or(category).or(leads).first().waitFor();
  if (await category.isVisible()) {
    // At line voltage it is asked once a round whether the meter is made for it.
    await category.press('Enter');
  } else if (await leads.isVisible()) {
    await leads.click();
  }
  await reading.waitFor();
  const at = await page.locator('tr[aria-current]').getAttribute('data-check');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    (before) =>
      document.querySelector('tr[aria-current]')?.getAttribute('data-check') !== before ||
      document.querySelector('[aria-invalid="true"]') !== null,
    at,
  );
}
