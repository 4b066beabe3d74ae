import { expect, measure, newVisit, open, test } from './fixtures';

test('the meter in the hand is said by a key, and what it can know is counted in the verdict', async ({
  edda: page,
  alone,
}) => {
  const { round } = await newVisit(alone, 'ly-04');
  await open(page, `${alone.url}/rounds/${round}`);
  // 24.5 V ±4 % from 23.52 V: by the rule 23.7 V is inside and not near the edge.
  await page
    .getByRole('button', { name: /^Z1-J1·1, / })
    .first()
    .click();
  await measure(page, '23.3');
  await expect(page.getByTestId('last')).toContainText('within');
  await page.keyboard.press('Alt+t');
  await page.keyboard.type('two');
  await page.keyboard.press('Enter');
  await expect(page.getByText('category IV 1000 V')).toBeVisible();
  await expect(
    page
      .getByLabel(/^Reading at/)
      .or(page.getByRole('button', { name: /^Done/ }).first())
      .first(),
  ).toBeVisible();
  await page
    .getByRole('button', { name: /^Z1-J1·1, / })
    .first()
    .click();
  await measure(page, '24');
  await expect(page.getByTestId('last')).toContainText('not judged');
  await expect(page.getByTestId('last')).toContainText('too near to tell');
  await page.keyboard.press('?');
  await expect(page.getByRole('region', { name: 'Why' })).toContainText('Two-pole tester: 3 % of 24 V + 3 × 1 V');
});

test('a shop writes its own meter, and a wrong line is named', async ({ edda: page, alone, allow }) => {
  allow(/status of 400/);
  await open(page, `${alone.url}/shop`);
  const text = page.getByRole('textbox', { name: 'Meters of the shop' });
  await text.fill('Van meter\ncategory III 300 V\nDC volts plenty');
  await text.blur();
  await expect(page.getByRole('alert')).toContainText('Line 3, "DC volts plenty"');
  // It waits as it was typed.
  await page.reload();
  await expect(text).toHaveValue(/plenty/);
  await text.fill('Van meter\ncategory III 300 V\nDC volts 1 % + 2: 60 V by 0.1 V');
  await text.blur();
  await expect(page.getByText('kept', { exact: true })).toBeVisible();

  const { round } = await newVisit(alone, 'ly-05');
  await open(page, `${alone.url}/rounds/${round}`);
  await page.keyboard.press('Alt+t');
  await page.keyboard.type('van');
  await page.keyboard.press('Enter');
  await page
    .getByRole('button', { name: /^PW-X1·L1, / })
    .first()
    .click();
  const card = page.getByTestId('category');
  await expect(card).toContainText('the Van meter is not made for it');
  await page.keyboard.press('Alt+t');
  await page.keyboard.type('hand');
  await page.keyboard.press('Enter');
  await expect(card).toHaveCount(0);
  await measure(page, '401');
  await expect(page.getByTestId('last')).toContainText('within');
});

test('without a meter the category is asked for once a round', async ({ edda: page, alone }) => {
  const { round } = await newVisit(alone, 'ly-05');
  await open(page, `${alone.url}/rounds/${round}`);
  await page
    .getByRole('button', { name: /^PW-X1·L1, / })
    .first()
    .click();
  await expect(page.getByTestId('category')).toContainText('Line voltage, 400 V');
  await expect(page.getByRole('button', { name: /^It is, go on/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('category')).toHaveCount(0);
  await measure(page, '401');
  await page
    .getByRole('button', { name: /^PW-X1·L2, / })
    .first()
    .click();
  await expect(page.getByTestId('category')).toHaveCount(0);
});
