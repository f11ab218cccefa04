import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/** What axe finds amiss, a line each. Colours are all that the dark mode changes: only they are looked at there again. */
export async function barriers(page: Page, theme: 'light' | 'dark' = 'light'): Promise<string[]> {
  // Our pages hold no frames: axe sums up where it looked, not in a window of its own, and names nothing that is well.
  // What a finger can hit is a rule that it leaves out unless it is asked for.
  const axe = new AxeBuilder({ page })
    .setLegacyMode()
    .options({ resultTypes: ['violations'], rules: { 'target-size': { enabled: true } } });
  if (theme === 'dark') axe.withRules(['color-contrast', 'link-in-text-block']);
  return (await axe.analyze()).violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map((n) => `${n.target.join(' ')} ${n.failureSummary ?? ''}`).join('; ')}`,
  );
}
