import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Route } from 'playwright-core';
import type { PrintJob } from '@tea-pencil/wire';

/**
 * Prints pages as PDF by Debian’s Chromium, which gets its page, fonts and pictures from here and can reach nothing else.
 * Each job has a browser of its own, which ends with it.
 */

/** Where Debian’s packages put it: without windows, or with. */
const programs = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
const pagesFolder = path.resolve(import.meta.dirname, '../../../web/dist');
/** An address that leads nowhere (RFC 6761, 6.4). */
const home = 'http://pages.invalid';

/** Why there is no PDF, in a sentence. */
export class NotPrinted extends Error {}

/** A picture of the text. */
export interface Picture {
  type: string;
  bytes: Uint8Array;
}

const types: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.woff2': 'font/woff2',
  '.svg': 'image/svg+xml',
};

/** Where the page finds a picture. */
export const addressOfPicture = (asset: string): string => `${home}/pictures/${asset}`;

/** The Chromium there is; null for none. */
export const pressProgram = (): string | null => programs.find((program) => existsSync(program)) ?? null;

async function answer(route: Route, pictures: ReadonlyMap<string, Picture>): Promise<void> {
  const url = new URL(route.request().url());
  if (url.origin !== home) return route.abort();
  const picture = /^\/pictures\/([\w-]+)$/.exec(url.pathname)?.[1];
  if (picture !== undefined) {
    const found = pictures.get(picture);
    return found
      ? route.fulfill({ contentType: found.type, body: Buffer.from(found.bytes) })
      : route.fulfill({ status: 404, body: '' });
  }
  const file = path.join(pagesFolder, path.normalize(url.pathname));
  const type = types[path.extname(file)];
  if (!file.startsWith(pagesFolder + path.sep) || !type || !existsSync(file))
    return route.fulfill({ status: 404, body: '' });
  return route.fulfill({ contentType: type, body: await readFile(file) });
}

/**
 * Prints a job. Where the thread that does it is ended, its Chromium ends as well.
 * @returns a tagged PDF with an outline (ISO 32000-1, 14.8 and 12.3.3), and how many pages it has
 * @throws NotPrinted where there is no Chromium
 */
export async function printPages(
  job: PrintJob,
  pictures: ReadonlyMap<string, Picture>,
): Promise<{ pdf: Buffer; pages: number }> {
  const executablePath = pressProgram();
  if (!executablePath)
    throw new NotPrinted(
      'No PDF can be made here: the Debian package chromium-headless-shell is not installed. Your browser can print the pages.',
    );
  // Read when something is printed: it takes longer to read than all else a thread needs.
  const { chromium } = await import('playwright-core');
  const browser = await chromium.launch({
    executablePath,
    args: [
      // Chromium refuses to run as root with its sandbox; what it shows is ours and can reach nothing.
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ...['--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    ],
    ...{ handleSIGINT: false, handleSIGTERM: false, handleSIGHUP: false },
  });
  try {
    const page = await browser.newPage();
    page.setDefaultTimeout(0); // a book takes a while; whoever asks for it ends it
    await page.route('**/*', (route) => answer(route, pictures));
    await page.goto(`${home}/print.html`);
    const pages = await page.evaluate(
      (given) => (globalThis as unknown as { setJob(one: unknown): Promise<number> }).setJob(given),
      job,
    );
    const pdf = await page.pdf({ preferCSSPageSize: true, printBackground: true, tagged: true, outline: true });
    return { pdf, pages };
  } finally {
    await browser.close();
  }
}
