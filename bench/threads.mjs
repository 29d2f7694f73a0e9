import { remarkOf, schema } from '@tea-pencil/core';
import { Transform } from 'prosemirror-transform';
import { authors, book } from './book.mjs';
import { opening, scrolling } from './chromium/moving.mjs';
import { withPages } from './chromium/pages.mjs';
import { typing } from './chromium/typing.mjs';

/** What 2,000 threads cost on the screen, beside the same text without any. */

const howMany = 2000;

/** Threads on words spread evenly over a text: some with answers, some that ask. */
function commented(plain) {
  const tr = new Transform(plain);
  const threads = [];
  const { size } = plain.content;
  for (let i = 0; i < howMany; i++) {
    const from = Math.min(size - 20, 2 + Math.round((i / howMany) * size));
    const id = `t${i}`;
    tr.addMark(from, from + 12, schema.marks.anchor.create({ thread: id }));
    const said = (k) => ({
      id: `k${i}x${k}`,
      author: authors[(i + k) % 6],
      date: '2026-11-01T09:00:00Z',
      body: remarkOf('Is this the same tide as in the chapter before? The table says another hour.'),
      ...(k === 0 && i % 5 === 0 && { query: { to: authors[(i + 1) % 6] } }),
    });
    const comments = Array.from({ length: 1 + (i % 3) }, (_, k) => said(k));
    const { author, date } = comments[0];
    threads.push({ id, author, date, quote: '', resolved: i % 7 === 6, comments });
  }
  return { doc: tr.doc, threads };
}

export const run = () => {
  const doc = book(80_000, 0);
  return withPages(doc, async ({ openApp }) => {
    const figures = async (page) => ({
      typing: await typing(page),
      scrolling: await scrolling(page),
      opening: await opening(page),
    });
    const first = await openApp();
    const without = await figures(first);
    await first.close();
    const second = await openApp(commented(doc));
    const shown = await second.locator('.thread-card').count();
    const within = await figures(second);
    const ratio = (a, b) => `${(b / a).toFixed(2)} (${a.toFixed(1)} ms, ${b.toFixed(1)} ms)`;
    const line = (what, value) => console.log(`${what.padEnd(58)} ${value}`);
    console.log(`\n80,000 words with ${howMany} threads, of the same without; ${shown} threads are drawn at a time`);
    line('typing, until drawn', ratio(without.typing.drawn, within.typing.drawn));
    line('typing, with all that follows', ratio(without.typing.all, within.typing.all));
    line('scrolling: longest frame', ratio(without.scrolling.longest, within.scrolling.longest));
    line('scrolling: frames over 50 ms, of 240', `${within.scrolling.slow} (without ${without.scrolling.slow})`);
    line('opening', ratio(without.opening, within.opening));
  });
};
