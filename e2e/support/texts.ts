import { gunzipSync } from 'node:zlib';
import { expect, type Browser, type Page } from '@playwright/test';
import { Node } from 'prosemirror-model';
import { io } from 'socket.io-client';
import { beforeReading, describeChange, fairReading, listChanges, plainText, schema } from '@tea-pencil/core';
import type { Role } from '@tea-pencil/wire';
import { comeIn, kept, selectWords, share, sheet, signedIn } from './people';

/** A manuscript of one's own for each thing tried: what stands in it before is written in ink. */

/** Goes to an address as a link does where the app is open already, else as the address bar does. */
async function goTo(page: Page, address: string): Promise<void> {
  if (!page.url().startsWith('http')) return void (await page.goto(address));
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, address);
}

/** Begins a manuscript with these paragraphs, each as it stands; the pencil is in hand, the caret at the end. */
export async function startWith(page: Page, title: string, ...lines: string[]): Promise<string> {
  const { request } = page;
  const buffer = Buffer.from(lines.join('\n'));
  const answer = buffer.length
    ? await request.post('/api/manuscripts/import', {
        multipart: { file: { name: `${title}.txt`, mimeType: 'text/plain', buffer } },
      })
    : await request.post('/api/manuscripts', { data: { title } });
  expect(answer.ok()).toBe(true);
  const { id } = (await answer.json()) as { id: string };
  await goTo(page, `/m/${id}`);
  await expect(kept(page)).toBeVisible();
  // What is new and nobody else’s begins in ink.
  if (!lines.length) await page.getByRole('button', { name: 'Write in pencil' }).click();
  await sheet(page).click();
  await page.keyboard.press('Control+End');
  await expect(page.getByRole('button', { name: 'Pencil', exact: true })).toHaveAttribute('aria-pressed', 'true');
  return id;
}

/** A manuscript of Tobias's, open before him and before each of the others, in the order they are named in. */
export async function together(browser: Browser, title: string, lines: string[], others: Record<string, Role>) {
  const tobias = await signedIn(browser, 'Tobias');
  const id = await startWith(tobias, title, ...lines);
  await share(tobias, id, others);
  const pages: Page[] = [];
  for (const name of Object.keys(others)) {
    const page = await comeIn(browser, name, `/m/${id}`);
    await expect(kept(page)).toBeVisible();
    pages.push(page);
  }
  return { tobias, others: pages };
}

/** A copy of a chapter of the demo, on one’s own desk under another name: what was there stays as it was. */
export async function copyOf(page: Page, title: string, name: string): Promise<string> {
  const list = (await (await page.request.get('/api/manuscripts')).json()) as { id: string; title: string }[];
  const { id } = list.find((one) => one.title === title)!;
  const copy = (await (await page.request.post(`/api/manuscripts/${id}/copy`)).json()) as { id: string };
  await page.request.patch(`/api/manuscripts/${copy.id}`, { data: { title: name } });
  await page.goto(`/m/${copy.id}`);
  await expect(sheet(page)).toBeVisible();
  return copy.id;
}

/** The text as the server holds it, asked for on a connection of its own. */
export async function heldText(page: Page): Promise<Node> {
  await expect(kept(page)).toBeVisible();
  const { origin, pathname } = new URL(page.url());
  const cookies = await page.context().cookies();
  const socket = io(origin, {
    path: '/api/live',
    transports: ['websocket'],
    forceNew: true,
    extraHeaders: { cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; '), origin },
  });
  try {
    const joined = (await socket.timeout(10_000).emitWithAck('join', { manuscript: pathname.split('/')[2] })) as {
      packed: Uint8Array;
    };
    return Node.fromJSON(schema, JSON.parse(gunzipSync(joined.packed).toString('utf8')));
  } finally {
    socket.disconnect();
  }
}

/** What the server holds: both readings, and each change by kind and by what a slip says of it. */
export async function held(page: Page) {
  const doc = await heldText(page);
  const changes = listChanges(doc);
  return {
    doc,
    before: plainText(beforeReading(doc)),
    fair: plainText(fairReading(doc)),
    kinds: changes.map(({ kind }) => kind),
    words: changes.map(describeChange),
  };
}

/** Puts the caret before (or behind) some words. */
export async function caret(page: Page, where: 'before' | 'behind', words: string): Promise<void> {
  await selectWords(page, words);
  await page.keyboard.press(where === 'before' ? 'ArrowLeft' : 'ArrowRight');
}

export async function press(page: Page, key: string, times = 1): Promise<void> {
  for (let i = 0; i < times; i++) await page.keyboard.press(key);
}

/** Chooses a command of a menu above the sheet. */
export async function choose(page: Page, menu: string, item: string): Promise<void> {
  await page.getByRole('button', { name: menu, exact: true }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
  await expect(sheet(page)).toBeFocused();
}

/** Chooses a look of the selected words. */
export async function look(page: Page, choice: string): Promise<void> {
  await page.getByRole('button', { name: 'Colour and size' }).click();
  await page.getByRole('button', { name: choice, exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(sheet(page)).toBeFocused();
}

/** Puts a table where the caret is. */
export async function putInTable(page: Page, rows: number, columns: number): Promise<void> {
  await page.getByRole('button', { name: 'Insert', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Table…', exact: true }).click();
  await page.getByLabel('Rows').fill(String(rows));
  await page.getByLabel('Columns').fill(String(columns));
  await page.keyboard.press('Enter');
  await expect(sheet(page)).toBeFocused();
}
