import { book } from './book.mjs';
import { middle, withPages } from './chromium/pages.mjs';
import { opening, scrolling } from './chromium/moving.mjs';
import { typing } from './chromium/typing.mjs';

/** What going through a large revised manuscript costs on the screen, beside a bare editor that shows the same text. */

/** The heap after the collector has been through it, in megabytes. */
const memory = (page) =>
  page.evaluate(() => {
    globalThis.gc();
    return performance.memory.usedJSHeapSize / 2 ** 20;
  });

/** Milliseconds from an act in the page until what it leads to is painted. */
const until = (page, act, done) =>
  page.evaluate(
    async ([does, test]) => {
      const wanted = new Function(`return ${test}`);
      const before = performance.now();
      await new Function(does)();
      while (!wanted()) await new Promise((resolve) => setTimeout(resolve, 1));
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
      return performance.now() - before;
    },
    [act, done],
  );

const click = (text) => `[...document.querySelectorAll('button')].find((b) => b.textContent === '${text}').click()`;
const key = (letter) =>
  `document.querySelector('.through').dispatchEvent(new KeyboardEvent('keydown', { key: '${letter}', bubbles: true }))`;
const number = (page) => page.getByTestId('number').innerText();

async function keys(page, letter, times) {
  const taken = [];
  for (let i = 0; i < times; i++) {
    const before = await number(page);
    taken.push(
      await until(page, key(letter), `document.querySelector('[data-testid=number]').textContent !== '${before}'`),
    );
    await page.waitForTimeout(250);
  }
  return taken;
}

export const run = () =>
  withPages(book(80_000, 5000), async ({ openBare, openApp }) => {
    const line = (what, value) => console.log(`${what.padEnd(58)} ${value}`);
    const ratio = (app, bare, unit) =>
      `${(app / bare).toFixed(2)} (${bare.toFixed(1)} ${unit}, ${app.toFixed(1)} ${unit})`;
    const spread = (times) => `${middle(times).toFixed(0)} ms, at most ${Math.max(...times).toFixed(0)} ms`;

    const bare = await openBare();
    const bareOpening = await opening(bare);
    const bareScrolling = await scrolling(bare);
    const bareMemory = await memory(bare);
    const bareTyping = await typing(bare);
    await bare.close();

    const page = await openApp();
    console.log('\n80,000 words, 5,000 pending changes by six people, in Chromium; ratios to a bare editor');
    line('opening', ratio(await opening(page), bareOpening, 'ms'));
    const appScrolling = await scrolling(page);
    line('scrolling: longest frame', ratio(appScrolling.longest, bareScrolling.longest, 'ms'));
    line('scrolling: frames over 50 ms, of 240', `${appScrolling.slow} (bare ${bareScrolling.slow})`);
    line('memory', ratio(await memory(page), bareMemory, 'MB'));
    line('typing with margins open, until drawn', ratio((await typing(page)).drawn, bareTyping.drawn, 'ms'));

    const fair = await until(page, click('Fair'), `!document.querySelector('.ProseMirror ins')`);
    await page.waitForTimeout(1000);
    const marked = await until(page, click('Marked'), `!!document.querySelector('.ProseMirror ins')`);
    line('to the Fair reading, of opening bare', ratio(fair, bareOpening, 'ms'));
    line('back to Marked, of opening bare', ratio(marked, bareOpening, 'ms'));
    await page.waitForTimeout(1000);

    await page.keyboard.press('F8');
    await page.locator('.through').waitFor();
    await page.waitForTimeout(1000);
    line('next change, painted', spread(await keys(page, 'j', 30)));
    line('one decision and on, painted', spread(await keys(page, 'y', 30)));
    await page.keyboard.press('F8');
    await page.getByRole('button', { name: 'End the read-through' }).click();
    await page.waitForTimeout(1000);

    const query = `by=${await page.locator('.foot-people .dot').first().getAttribute('data-author')}`;
    await page.goto(`${page.url().split('?')[0]}?${query}`);
    await page.locator('.ProseMirror .paragraph').first().waitFor({ timeout: 60_000 });
    await page.waitForTimeout(3000);
    const n = await page.getByTestId('pending').innerText();
    await page.getByRole('button', { name: 'Decide together' }).click();
    const all = `[...document.querySelectorAll('[role=dialog] button')].filter((b) => b.textContent.startsWith('Accept')).at(-1).click()`;
    const whole = await until(page, all, `document.querySelector('[data-testid=pending]').textContent === '0'`);
    line(`all ${n} in the lens of one author decided, painted`, `${whole.toFixed(0)} ms`);
  });
