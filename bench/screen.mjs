import { book } from './book.mjs';
import { withPages } from './chromium/pages.mjs';
import { typing } from './chromium/typing.mjs';

/** What a keystroke costs on the screen: the time that the page's main thread works for it, beside a bare editor. */
export const run = () =>
  withPages(book(80_000, 5000), async ({ openBare, openApp }) => {
    const plain = await openBare();
    const alone = await typing(plain);
    await plain.close();
    const whole = await typing(await openApp());
    console.log('\n80,000 words, 5,000 pending changes, in Chromium: main thread at work for one letter in pencil');
    for (const [name, what] of [
      ['drawn', 'until it is drawn, of the same in a bare editor'],
      ['all', 'with all that follows (margins, counts, keeping it)'],
    ]) {
      const [a, b] = [alone[name], whole[name]];
      console.log(`${what.padEnd(58)} ${(b / a).toFixed(2)} (${a.toFixed(1)} ms, ${b.toFixed(1)} ms)`);
    }
  });
