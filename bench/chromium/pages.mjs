import { createServer } from 'node:http';
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { build as bundle } from 'vite';
import { writeDocx } from '@tea-pencil/core';
import { build, root } from '../../scripts/build.mjs';
import { chromium as executablePath } from '../../scripts/debian.mjs';
import { serve } from '../../scripts/serve.mjs';
import { authors } from '../book.mjs';

/** A bare editor and the app, each with the same text, in Debian's Chromium. */

const home = path.join(root, '.tea-pencil-bench');
const bareHome = path.join(home, 'bare');
const viewport = { width: 1280, height: 800 };

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

/** The app with the text and its threads in it, opened; the manuscript is a file that has just been brought in. */
async function openApp(browser, address, { doc, threads = [] }) {
  const page = await (await browser.newContext({ viewport })).newPage();
  await page.goto(`${address}/sign-in`);
  await page.getByRole('button', { name: /Ines/ }).click();
  await page.waitForURL((url) => url.pathname === '/');
  const people = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0].toUpperCase() }));
  const bytes = await writeDocx({ doc, people, threads, assets: [] });
  await page
    .getByLabel('File to bring in')
    .setInputFiles({ name: 'Book.docx', mimeType: 'application/octet-stream', buffer: Buffer.from(bytes) });
  await page.waitForURL(/\/m\//, { timeout: 120_000 });
  // Nobody is asked who the people of the file are.
  const at = `${address}/api/manuscripts/${page.url().split('/m/')[1]}`;
  const info = await (await page.request.get(at)).json();
  for (const { id, login } of info.people)
    if (!login) await page.request.patch(`${at}/outside/${id}`, { data: { matchedTo: null } });
  await page.reload();
  await page.locator('.ProseMirror').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(3000);
  return page;
}

/** Runs measurements on both, and puts everything away after. */
export async function withPages(doc, work) {
  mkdirSync(home, { recursive: true });
  build();
  const bare = await serveBare(doc);
  const served = await serve({ home, port: 4878 });
  const browser = await chromium.launch({
    executablePath,
    args: ['--no-sandbox', '--disable-gpu', '--js-flags=--expose-gc'],
  });
  try {
    const openBare = async () => {
      const page = await (await browser.newContext({ viewport })).newPage();
      await page.goto(bare.address);
      await page.locator('.ProseMirror').waitFor({ timeout: 60_000 });
      await page.waitForTimeout(3000);
      return page;
    };
    await work({ openBare, openApp: (other = { doc }) => openApp(browser, served.address, other) });
  } finally {
    await browser.close();
    await served.stop();
    bare.stop();
  }
}

/** The middle one of some figures. */
export const middle = (figures) => [...figures].sort((a, b) => a - b)[figures.length >> 1];
