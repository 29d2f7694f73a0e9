import { createServer } from 'node:http';
import { mkdirSync, readFileSync, existsSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { build as bundle } from 'vite';
import { writeDocx } from '@tea-pencil/core';
import { build, root } from '../scripts/build.mjs';
import { serve } from '../scripts/serve.mjs';
import { authors, book } from './book.mjs';

/** What a keystroke costs on the screen: the time that the page's main thread works for it, beside a bare editor. */

const home = path.join(root, '.tea-pencil-bench');
const bareHome = path.join(home, 'bare');
const letters = 60;

/** The bare editor's page, and the text it shows, on a port of loopback. */
async function serveBare(doc) {
  await bundle({
    root: path.join(root, 'bench/bare'),
    logLevel: 'error',
    build: { outDir: bareHome, emptyOutDir: true, target: 'esnext' },
  });
  const types = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css', '.json': 'application/json' };
  const json = JSON.stringify(doc.toJSON());
  const server = createServer((request, response) => {
    const name = request.url === '/' ? '/index.html' : request.url;
    const file = path.join(bareHome, path.normalize(name));
    if (name !== '/book.json' && !existsSync(file)) return response.writeHead(404).end();
    response.setHeader('content-type', types[path.extname(name)] ?? 'application/octet-stream');
    response.end(name === '/book.json' ? json : readFileSync(file));
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { address: `http://127.0.0.1:${server.address().port}`, stop: () => server.close() };
}

/**
 * Types letter after letter into the third paragraph.
 * @returns how long the main thread worked for each until it was drawn, and in all, in milliseconds
 */
async function typing(page) {
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
  const middle = (times) => times.sort((a, b) => a - b)[times.length >> 1];
  return { drawn: middle(drawn), all: middle(all) };
}

async function openApp(browser, address, doc) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${address}/sign-in`);
  await page.getByRole('button', { name: /Ines/ }).click();
  await page.waitForURL((url) => url.pathname === '/');
  const people = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0].toUpperCase() }));
  const bytes = await writeDocx({ doc, people, threads: [], assets: [] });
  await page
    .getByLabel('File to bring in')
    .setInputFiles({ name: 'Book.docx', mimeType: 'application/octet-stream', buffer: Buffer.from(bytes) });
  await page.waitForURL(/\/m\//, { timeout: 120_000 });
  await page.locator('.ProseMirror').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(3000);
  return page;
}

export async function run() {
  mkdirSync(home, { recursive: true });
  build();
  const doc = book(80_000, 5000);
  const bare = await serveBare(doc);
  const served = await serve({ home, port: 4878 });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const plain = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await plain.goto(bare.address);
    await plain.locator('.ProseMirror').waitFor({ timeout: 60_000 });
    await plain.waitForTimeout(3000);
    const alone = await typing(plain);
    await plain.close();
    const page = await openApp(browser, served.address, doc);
    const whole = await typing(page);
    console.log('\n80,000 words, 5,000 pending changes, in Chromium: main thread at work for one letter in pencil');
    for (const [name, what] of [
      ['drawn', 'until it is drawn, of the same in a bare editor'],
      ['all', 'with all that follows (margins, counts, keeping it)'],
    ]) {
      const [a, b] = [alone[name], whole[name]];
      console.log(`${what.padEnd(58)} ${(b / a).toFixed(2)} (${a.toFixed(1)} ms, ${b.toFixed(1)} ms)`);
    }
  } finally {
    await browser.close();
    await served.stop();
    bare.stop();
  }
}
