import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/** What axe finds amiss, a line each. Colours are all that the dark mode changes: only they are looked at there again. */
export async function barriers(page: Page, theme: 'light' | 'dark'): Promise<string[]> {
  // Our pages hold no frames: axe sums up where it looked, not in a window of its own, and names nothing that is well.
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const found = await (
    theme === 'dark'
      ? axe.withRules(['color-contrast', 'link-in-text-block'])
      : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
  ).analyze();
  return found.violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map((n) => `${n.target.join(' ')} ${n.failureSummary ?? ''}`).join('; ')}`,
  );
}
