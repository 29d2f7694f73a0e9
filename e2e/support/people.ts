import { readFile } from 'node:fs/promises';
import { expect, type Browser, type Download, type Locator, type Page } from '@playwright/test';
import {
  Document,
  InsertedTextRun,
  DeletedTextRun,
  Packer,
  Paragraph,
  TextRun,
  CommentRangeStart,
  CommentRangeEnd,
  CommentReference,
  HeadingLevel,
} from 'docx';
import type { Role } from '@tea-pencil/wire';

/** One of the demo people, signed in at a browser of their own; no page is open yet. */
export async function signedIn(browser: Browser, name: string): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  const { request } = context;
  const people = (await (await request.get('/api/demo-people')).json()) as { id: string; name: string }[];
  const person = people.find((one) => one.name.startsWith(name))!.id;
  expect((await request.post('/api/sign-in/demo', { data: { person } })).ok()).toBe(true);
  return context.newPage();
}

/** One of the demo people at a page: the desk, where no other is named. */
export async function comeIn(browser: Browser, name: string, to = '/'): Promise<Page> {
  const page = await signedIn(browser, name);
  await page.goto(to);
  return page;
}

/** Takes others among the people of a manuscript, each with a role. */
export async function share(page: Page, id: string, others: Record<string, Role>): Promise<void> {
  const people = (await (await page.request.get('/api/people')).json()) as { id: string; name: string }[];
  for (const [name, role] of Object.entries(others)) {
    const person = people.find((one) => one.name.startsWith(name))!.id;
    expect((await page.request.put(`/api/manuscripts/${id}/members/${person}`, { data: { role } })).ok()).toBe(true);
  }
}

/** Goes to a page of the manuscript. */
export const toPage = (
  page: Page,
  name: 'Text' | 'Ledger' | 'Talk' | 'Drafts' | 'Last look' | 'People',
): Promise<void> =>
  page.getByRole('navigation', { name: 'Of this manuscript' }).getByRole('link', { name, exact: true }).click();

/** Sets what somebody may do who is among the people of the manuscript, on their page. */
export async function letThem(page: Page, name: string, role: string): Promise<void> {
  await page.getByRole('button', { name: `What ${name} may do` }).click();
  await page.getByRole('menuitemradio', { name: role, exact: true }).click();
}

/** Invites somebody whom one knows, on the page of the people. */
export async function inviteThem(page: Page, name: string, role: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Name or mail address' }).fill(name);
  await page.getByRole('option', { name: new RegExp(`^${name}`) }).click();
  await page.getByRole('button', { name: 'What they may do' }).click();
  await page.getByRole('menuitemradio', { name: role, exact: true }).click();
  await page.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(page.getByRole('button', { name: `What ${name} may do` })).toBeVisible();
}

export const sheet = (page: Page): Locator => page.getByRole('textbox', { name: 'The manuscript' });
export const kept = (page: Page): Locator => page.getByRole('status').filter({ hasText: 'All kept' });

/**
 * Selects words in the sheet as a reader of the page would find them, within one text node. A sheet that has just got
 * the focus puts its own selection back for a moment, so the words are selected until they stay so.
 */
export async function selectWords(page: Page, words: string): Promise<void> {
  await sheet(page).focus();
  await expect
    .poll(
      () =>
        page.evaluate(async (wanted) => {
          const moment = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
          const walker = document.createTreeWalker(document.querySelector('.ProseMirror')!, NodeFilter.SHOW_TEXT);
          for (let node = walker.nextNode(); node; node = walker.nextNode()) {
            const at = node.textContent!.indexOf(wanted);
            if (at < 0) continue;
            node.parentElement!.scrollIntoView({ block: 'center' });
            const selection = getSelection()!;
            // The editor hears of a selection by an event of the document, and may put its own back a moment later.
            const heard = new Promise((done) => {
              document.addEventListener('selectionchange', done, { once: true });
              setTimeout(done, 50);
            });
            selection.setBaseAndExtent(node, at, node, at + wanted.length);
            await heard;
            await moment();
            await moment();
            return selection.toString();
          }
          return `“${wanted}” is not in the sheet`;
        }, words),
      { intervals: [20, 40, 80], timeout: 10_000 },
    )
    .toBe(words);
}

export async function bytesOf(download: Download): Promise<Buffer> {
  return readFile(await download.path());
}

/** A file by several people: two changes, a comment; written by a package that is not ours. */
export async function revisedFile(): Promise<Buffer> {
  const at = '2026-11-02T10:00:00Z';
  return Packer.toBuffer(
    new Document({
      comments: {
        children: [
          {
            id: 0,
            author: 'Odile Marsh',
            initials: 'OM',
            date: new Date(at),
            children: [new Paragraph('Which groyne is meant?')],
          },
        ],
      },
      sections: [
        {
          children: [
            new Paragraph({ text: 'The Second Groyne', heading: HeadingLevel.HEADING_1 }),
            new Paragraph({
              children: [
                new TextRun('The tide comes in '),
                new DeletedTextRun({ text: 'quick', id: 1, author: 'Piet Sandner', date: at }),
                new InsertedTextRun({ text: 'quickly', id: 2, author: 'Piet Sandner', date: at }),
                new TextRun(' behind '),
                new CommentRangeStart(0),
                new TextRun('the groyne'),
                new CommentRangeEnd(0),
                new TextRun({ children: [new CommentReference(0)] }),
                new InsertedTextRun({ text: ' in winter', id: 3, author: 'Odile Marsh', date: at }),
                new TextRun('. Walk on the high sand, and look back often.'),
              ],
            }),
            new Paragraph('Nobody has ever been lost here who knew the table by heart.'),
          ],
        },
      ],
    }),
  );
}
