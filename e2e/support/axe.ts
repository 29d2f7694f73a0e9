import { createRequire } from 'node:module';
import { expect, type Page } from '@playwright/test';
import type { default as Axe } from 'axe-core';

/** The rules about colours: all that can differ between two themes. */
const colours = ['color-contrast', 'link-in-text-block'];
const { source } = createRequire(import.meta.url)('axe-core') as typeof Axe;

/**
 * What axe finds on a page, each with the elements it is about; nothing where all is well. A tooltip belongs to the
 * control it explains (ARIA 1.2, tooltip), in whatever region that stands.
 * @param within a selector of what has opened over a page that was looked at before
 * @param only the rules about colours, for the second theme of a page; or those that bear a tag
 */
export async function axeFinds(
  page: Page,
  { within, only }: { within?: string | undefined; only?: 'colours' | { tag: string } } = {},
): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(source);
  const runOnly = only === 'colours' ? colours : only && { type: 'tag' as const, values: [only.tag] };
  return page.evaluate(
    async ({ include, options }) => {
      const { axe } = window as unknown as { axe: typeof Axe };
      const context = { ...(include && { include: [include] }), exclude: ['[role=tooltip]'] };
      const { violations } = await axe.run(include ? context : { include: ['html'], ...context }, options);
      return violations.map(
        ({ id, nodes }) => `${id}: ${nodes.map(({ html, failureSummary }) => `${html} ${failureSummary}`).join(', ')}`,
      );
    },
    // Only what is wrong is described: to describe what is right takes longer than to find it.
    { include: within, options: { ...(runOnly && { runOnly }), resultTypes: ['violations' as const], iframes: false } },
  );
}

/** What axe finds on a page in the light theme, and of colours in the dark one. The page is left light. */
export async function axeFindsInBothThemes(page: Page, within?: string): Promise<string[]> {
  const found: string[] = [];
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme });
    await expect(page.locator('html')).toHaveCSS('color-scheme', colorScheme);
    await page.evaluate(() =>
      Promise.allSettled(
        document
          .getAnimations()
          .filter((one) => one.effect?.getComputedTiming().endTime !== Infinity)
          .map((one) => one.finished),
      ),
    );
    const now = await axeFinds(page, { within, ...(colorScheme === 'dark' && { only: 'colours' }) });
    found.push(...now.map((one) => `${colorScheme}: ${one}`));
  }
  return found;
}
