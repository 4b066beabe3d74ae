import type { Page } from '@playwright/test';
import { expect, open, test } from './fixtures';

/** What of a proposed act the true machine is asked for. */
interface Asked {
  kind: string;
  words: string;
  mode: string;
  state: string;
  red: { printed: string } | null;
  black: { printed: string } | null;
}

interface Answer {
  next: Asked[];
  ending: string;
}

/**
 * Does what is proposed, by keyboard alone, until it is proved: each reading is what the circuit has with the fault, what is neither read
 * there nor can be is said not to be possible.
 */
async function follow(
  page: Page,
  url: string,
  tag: string,
  visit: string,
  faultAt: (act: Asked) => string,
): Promise<string> {
  let latest: Answer | undefined;
  page.on('response', (response) => {
    if (
      response.url().includes(`/api/visits/${visit}/reason`) &&
      !response.url().includes('further') &&
      response.ok()
    ) {
      void response.json().then((view: Answer) => (latest = view));
    }
  });
  await open(page, `${url}/visits/${visit}/reason`);
  const next = page.getByRole('region', { name: 'Do this next' });
  const known = page.getByRole('region', { name: 'What is known' });
  const proved = page.getByText(/^Proved: /);
  for (let acts = 0; acts < 16; acts++) {
    await expect(next.or(proved).first()).toBeVisible({ timeout: 40_000 });
    await expect.poll(() => latest !== undefined).toBe(true);
    if (latest?.ending.startsWith('Proved')) {
      break;
    }
    const act = latest?.next[0];
    if (!act) {
      break;
    }
    latest = undefined;
    const isClamp = /Amps$/.test(act.mode);
    if (act.kind === 'read' && act.red && (act.black || isClamp)) {
      const query = new URLSearchParams({
        red: act.red.printed,
        black: act.black?.printed ?? '',
        mode: act.mode,
        state: act.state,
        fault: faultAt(act),
      });
      const shown = (await (
        await page.request.get(`${url}/api/machines/${tag}/circuit/between?${query.toString()}`)
      ).json()) as {
        words: string;
      };
      const field = next.getByLabel(`Reading at ${act.red.printed}`);
      await field.focus();
      await page.keyboard.type(/^\D*$/.test(shown.words) ? 'OL' : shown.words);
      await page.keyboard.press('Enter');
      const allTheSame = page.getByLabel('Measured all the same, because');
      const line = known.getByRole('listitem').filter({ hasText: act.red.printed }).first();
      await expect(allTheSame.or(line)).toBeVisible();
      if (await allTheSame.isVisible()) {
        await page.keyboard.type('battery taken off');
        await page.keyboard.press('Enter');
      }
      await expect(line).toBeVisible();
    } else {
      await next.getByRole('button', { name: 'Cannot be done here' }).focus();
      await page.keyboard.press('Enter');
    }
  }
  return (await proved.innerText()).split(', because')[0] ?? '';
}

const visits = [
  { visit: 'ly01-v4', tag: 'LY-01', fault: () => 'contact CT-J2·1/1', ends: /contact CT-J2·1/ },
  { visit: 'ly03-v4', tag: 'LY-03', fault: () => 'Upper limit/6', ends: /Upper limit/ },
  {
    visit: 'ly10-v1',
    tag: 'LY-10',
    fault: (act: Asked) =>
      /Lamps 6·|TB2·F/.test(`${act.red?.printed} ${act.black?.printed}`) ? 'Lamps 6/1' : 'Lamps 3/1',
    ends: /Lamps [36] and Lamps [36]/,
  },
];

for (const { visit, tag, fault, ends } of visits) {
  test(`${tag} from its complaint to what is proved, by keyboard alone`, async ({ edda: page, alone }) => {
    test.setTimeout(180_000);
    expect(await follow(page, alone.url, tag, visit, fault)).toMatch(ends);
    // The fault takes it over.
    await page.keyboard.press('F8');
    await expect(page.getByLabel(/[Nn]oticed/).first()).toHaveValue(/\S/);
  });
}

const typed = [
  {
    visit: 'ly07-v1',
    lines: [
      'swapped right wing drive with left wing drive: the fault followed',
      'replaced right wing drive: the fault went',
    ],
    ends: /^Proved: right wing drive, because/,
  },
  { visit: 'ly11-v1', lines: ['replaced board DIS: the fault went'], ends: /^Proved: board DIS, because/ },
];

test('machines known by what they do: what was swapped and fitted proves, by keyboard alone', async ({
  edda: page,
  alone,
}) => {
  for (const { visit, lines, ends } of typed) {
    await open(page, `${alone.url}/visits/${visit}/reason`);
    await expect(page.getByText(/^Proved: /)).toHaveCount(0);
    for (const line of lines) {
      await page.keyboard.press('F4');
      await page.keyboard.type(line);
      await page.keyboard.press('Enter');
      await expect(page.getByRole('region', { name: 'What is known' })).toContainText(line);
    }
    await expect(page.getByText(ends)).toBeVisible();
    await page.keyboard.press('F8');
    await expect(page.getByLabel(/[Nn]oticed/).first()).toHaveValue(/\S/);
  }
});
