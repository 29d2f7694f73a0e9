import { middle } from './pages.mjs';

/** Milliseconds from the start of loading a page until its text has been painted. */
export async function opening(page) {
  const times = [];
  for (let i = 0; i < 3; i++) {
    await page.reload();
    await page.locator('.ProseMirror .paragraph').first().waitFor({ timeout: 60_000 });
    times.push(
      await page.evaluate(async () => {
        await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
        return performance.now();
      }),
    );
    await page.waitForTimeout(2500);
  }
  return middle(times);
}

/** Frames while the text is scrolled from end to end: the longest, and how many took over 50 ms. */
export const scrolling = (page) =>
  page.evaluate(async () => {
    const main = document.querySelector('main') ?? document.scrollingElement;
    main.scrollTop = 0;
    await new Promise((resolve) => setTimeout(resolve, 500));
    const frames = [];
    let last = performance.now();
    for (let i = 0; i < 240; i++) {
      main.scrollTop += 120;
      await new Promise((resolve) => requestAnimationFrame(resolve));
      const now = performance.now();
      frames.push(now - last);
      last = now;
    }
    return { longest: Math.max(...frames), slow: frames.filter((ms) => ms > 50).length, scrolled: main.scrollTop };
  });
