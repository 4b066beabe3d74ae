import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/**
 * Looks at what is on the page by every rule, and at its contrasts in the dark as well; there once, on the wide page, since a narrow
 * one has the same colours.
 */
export async function expectNothing(page: Page, where: string) {
  const isWide = (page.viewportSize()?.width ?? 0) > 600;
  for (const colorScheme of isWide ? (['light', 'dark'] as const) : (['light'] as const)) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
    // There are no frames here; without the page that axe opens for them it takes half the time.
    const axe = new AxeBuilder({ page }).setLegacyMode(true);
    const found = await (colorScheme === 'light' ? axe : axe.withRules('color-contrast')).analyze();
    expect(
      found.violations.map(
        (v) => `${where}, ${colorScheme}: ${v.id} ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`,
      ),
    ).toEqual([]);
  }
}
