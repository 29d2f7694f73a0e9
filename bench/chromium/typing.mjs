import { middle } from './pages.mjs';

const letters = 60;

/**
 * Types letter after letter into the third paragraph.
 * @returns how long the main thread worked for each until it was drawn, and in all, in milliseconds
 */
export async function typing(page) {
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable');
  const worked = async () => {
    const { metrics } = await session.send('Performance.getMetrics');
    return metrics.find(({ name }) => name === 'TaskDuration').value * 1000;
  };
  await page.locator('.ProseMirror .paragraph').nth(2).click();
  /** One letter, until the frame that shows it has been handed on. */
  const type = (letter) =>
    page.evaluate(async (text) => {
      document.execCommand('insertText', false, text);
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
    }, letter);
  const drawn = [];
  const all = [];
  for (let i = -10; i < letters; i++) {
    const before = await worked();
    await type('tide '[(i + 10) % 5]);
    const now = await worked();
    await page.waitForTimeout(150);
    if (i < 0) continue;
    drawn.push(now - before);
    all.push((await worked()) - before);
  }
  return { drawn: middle(drawn), all: middle(all) };
}
