import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/**
 * Looks at what is on the page by every rule, and at its contrasts in the dark as well. Contrasts are looked at on the wide page only,
 * since a narrow one has the same colours.
 */
export async function expectNothing(page: Page, where: string) {
  const isWide = (page.viewportSize()?.width ?? 0) > 600;
  for (const colorScheme of isWide ? (['light', 'dark'] as const) : (['light'] as const)) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
    const found = await new AxeBuilder({ page })
      // There are no frames here; without the page that axe opens for them it takes half the time.
      .setLegacyMode(true)
      .options({
        // What passes is not listed node by node.
        resultTypes: ['violations'],
        ...(colorScheme === 'dark' && { runOnly: { type: 'rule', values: ['color-contrast'] } }),
        rules: { 'color-contrast': { enabled: isWide } },
      })
      .analyze();
    expect(
      found.violations.map(
        (v) => `${where}, ${colorScheme}: ${v.id} ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`,
      ),
    ).toEqual([]);
  }
}
