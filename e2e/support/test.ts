import { expect, test as base, type BrowserContext, type Page } from '@playwright/test';

/** What a window showed when a test failed in it, in a few lines: where the keyboard was, what was said, and the text. */
const shown = (page: Page): Promise<string> =>
  Promise.race([
    page.evaluate(() => {
      const short = (words: string | null | undefined, most: number) =>
        (words ?? '').replace(/\s+/g, ' ').trim().slice(0, most);
      const texts = (selector: string) =>
        [...document.querySelectorAll<HTMLElement>(selector)].map(({ innerText }) => short(innerText, 120));
      const { activeElement: at } = document;
      const name = at?.getAttribute('aria-label') ?? short(at?.textContent, 40);
      return [
        `${location.pathname}, keyboard at ${at?.tagName.toLowerCase()} “${name}”`,
        `said: ${texts('[role=status], [role=alert]').filter(Boolean).join(' | ')}`,
        `over the page: ${texts('.MuiPopover-root, .MuiDialog-root, .MuiDrawer-root').join(' | ')}`,
        `text: ${short(document.querySelector<HTMLElement>('.sheet .ProseMirror')?.innerText, 300)}`,
      ].join('\n  ');
    }),
    new Promise<string>((done) => setTimeout(done, 3000, 'a window that did not answer')),
  ]).catch((problem) => `a window of which nothing is known: ${problem}`);

/** Writes down what goes wrong in the windows of a context: what is thrown, and what is caught and told the console. */
function listen(context: BrowserContext, wrongs: string[]): void {
  context.on('weberror', (wrong) => wrongs.push(String(wrong.error().stack)));
  context.on('console', (message) => {
    if (message.type() === 'error' && /^\w*Error: /.test(message.text())) wrongs.push(message.text().slice(0, 500));
  });
}

/**
 * A test as Playwright has it, after which the windows are closed that were opened in it: nobody stays in a text. It fails
 * where one has stumbled, unless that was to be tried (`stumbles`). Of one that failed, what its windows showed is kept in
 * the report, for a failure that comes once in many runs.
 */
export const test = base.extend<{ windows: void; stumbles: boolean }>({
  stumbles: [false, { option: true }],
  windows: [
    async ({ browser, stumbles }, use, info) => {
      const before = new Set(browser.contexts());
      const wrongs: string[] = [];
      const { newContext } = browser;
      browser.newContext = async (options) => {
        const context = await newContext.call(browser, options);
        listen(context, wrongs);
        return context;
      };
      await use();
      browser.newContext = newContext;
      const opened = browser.contexts().filter((context) => !before.has(context));
      if (info.errors.length)
        for (const page of opened.flatMap((context) => context.pages()))
          info.annotations.push({ type: 'window', description: await shown(page) });
      for (const context of opened) await context.close();
      if (!stumbles) expect(wrongs, 'what a window has stumbled over').toEqual([]);
    },
    { auto: true },
  ],
});
