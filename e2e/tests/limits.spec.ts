import { expect } from '@playwright/test';
import { strToU8, zipSync } from 'fflate';
import { plainText } from '@tea-pencil/core';
import type { Waiting } from '@tea-pencil/wire';
import { answerSubmits } from '../support/live';
import { kept, signedIn, sheet } from '../support/people';
import { held, heldText, press, startWith } from '../support/texts';
import { test } from '../support/test';

/** What is too much is said where it is met, and takes nothing with it. */

test('a paste that makes a paragraph too long is said and not made; writing goes on', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await startWith(page, 'Too long', 'Before.');
  await press(page, 'End');
  await page.evaluate(() => navigator.clipboard.writeText('tide '.repeat(10_001)));
  await press(page, 'Control+v');
  await expect(page.getByText('This is too much: a paragraph holds at most 50,000 letters; divide it.')).toBeVisible();
  await page.keyboard.type(' After.');
  await expect(sheet(page)).toHaveText('Before. After.');
  await expect.poll(async () => (await held(page)).fair).toBe('Before. After.');
});

/** A file that takes some seconds to read: fourteen thousand changes. */
function longFile(): Buffer {
  const names = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  const piece = (k: number) =>
    `<w:r><w:t xml:space="preserve">low water </w:t></w:r><w:ins w:author="Ann" w:date="2026-01-01T09:00:${String(k).padStart(2, '0')}Z"><w:r><w:t>mark </w:t></w:r></w:ins>`;
  const paragraph = `<w:p>${Array.from({ length: 20 }, (_, k) => piece(k)).join('')}</w:p>`;
  const document = `<w:document ${names}><w:body>${paragraph.repeat(700)}</w:body></w:document>`;
  return Buffer.from(zipSync({ 'word/document.xml': strToU8(document) }));
}

test('who brings a file in while others are read is told how many are before it', async ({ browser }) => {
  test.slow(); // two files that are really long
  const [page, ...others] = await Promise.all(['Alba', 'Tobias', 'Maren'].map((name) => signedIn(browser, name)));
  await page!.goto('/');
  const file = { name: 'Long.docx', mimeType: 'application/octet-stream', buffer: longFile() };
  const read = [...others, ...others].map((other) =>
    other.request.post('/api/manuscripts/import', { multipart: { file } }),
  );
  // Whose second file waits has the first one under way.
  for (const other of others)
    await expect(async () => {
      const { ahead } = (await (await other.request.get('/api/manuscripts/import/waiting')).json()) as Waiting;
      expect(ahead).not.toBeNull();
    }).toPass({ intervals: [100] });
  const chosen = { name: 'Tide tables.txt', mimeType: 'text/plain', buffer: Buffer.from('One line.') };
  await page!.getByLabel('File to bring in').setInputFiles(chosen);
  await expect(page!.getByText('“Tide tables.txt” waits: 2 files are read before it …')).toBeVisible();
  await page!.waitForURL(/\/m\//);
  await expect(sheet(page!)).toHaveText('One line.');
  for (const answer of await Promise.all(read)) expect(answer.status()).toBe(201);
});

test('what the server cannot keep just now waits in the window, which goes on saying why until it is kept', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const because = 'Very much has come from you in the last hour.';
  let [refusing, refused] = [false, 0];
  let [silent, unheard] = [false, 0];
  await answerSubmits(page, () => {
    if (!refusing) return null;
    if (silent) return void unheard++;
    refused++;
    return { later: because };
  });
  await startWith(page, 'Waits', 'The weed is dry.');
  refusing = true;
  await page.keyboard.type(' Two ships.');
  const state = page.getByRole('status').filter({ hasText: 'Not kept yet' });
  await expect(state).toBeVisible();
  await expect(page.getByText(because)).toBeVisible();
  const asked: string[] = [];
  page.on('request', (request) => asked.push(request.url()));
  const others = await page.evaluate(async () => {
    const seen = new Set<string>();
    for (const end = performance.now() + 4000; performance.now() < end;) {
      seen.add(document.querySelector('header [role=status]')?.textContent ?? 'nothing');
      await new Promise(requestAnimationFrame);
    }
    return [...seen];
  });
  expect(others).toEqual(['Not kept yet']);
  expect(refused).toBeGreaterThan(1);
  expect(asked).toEqual([]);
  // Where the connection goes while it is tried again, that is what is said, until it is back.
  silent = true;
  await expect.poll(() => unheard).toBeGreaterThan(0);
  await page.context().setOffline(true);
  await expect(page.getByText('The connection to the server is lost.')).toBeVisible();
  await page.waitForTimeout(500);
  await expect(page.getByRole('status').filter({ hasText: 'No connection' })).toBeVisible();
  refusing = false;
  await page.context().setOffline(false);
  await expect(kept(page)).toBeVisible();
  await expect(page.getByText(because)).toBeHidden();
  expect(plainText(await heldText(page))).toBe('The weed is dry. Two ships.');
});
