import { test as base } from '@playwright/test';

/** A test as Playwright has it, after which the windows are closed that were opened in it: nobody stays in a text. */
export const test = base.extend<{ windows: void }>({
  windows: [
    async ({ browser }, use) => {
      const before = new Set(browser.contexts());
      await use();
      for (const context of browser.contexts()) if (!before.has(context)) await context.close();
    },
    { auto: true },
  ],
});
