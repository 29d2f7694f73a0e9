import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { expect } from '@playwright/test';
import { handout } from '../../core/test/support/handout';
import { odtHandout } from '../../core/test/support/odt-handout';
import { sheet, signedIn } from '../support/people';
import { caret, press } from '../support/texts';
import { test } from '../support/test';

/** A file of somebody else's comes in whole, is revised, and goes out with what was changed and nothing else. */

test('table, picture, note, formula, text box and field of a file are seen, moved about, commented and taken away again', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Ines');
  await page.goto('/');
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'Handout 7b.docx', mimeType: 'application/octet-stream', buffer: Buffer.from(handout) });
  await expect(page.getByText('The file came in whole with its text, changes and comments.')).toBeVisible();
  await page.getByRole('button', { name: 'That is who they are' }).click();
  await page.getByText(/^Carried as it came/).click();
  await expect(page.getByText(/formula \(text\), once/)).toBeVisible();
  const text = sheet(page);
  await expect(text.getByRole('img', { name: 'formula: h=2At2' })).toBeVisible();
  await expect(text.getByRole('img', { name: 'text box: Bring boots.' })).toBeVisible();
  await expect(text.getByRole('img', { name: 'a sand hopper' })).toBeVisible();
  await expect(text.getByRole('cell', { name: 'Harrow Point' })).toHaveAttribute('rowspan', '2');

  // A formula is struck out like a letter, and the change says what it is about.
  await caret(page, 'behind', 'High water is ');
  await press(page, 'Delete');
  const formula = text.locator('del .carried-formula');
  await expect(formula).toBeVisible();
  await expect(page.getByTestId('pending')).toHaveText('10');

  // What each copy holds is said before it is made.
  await page.getByRole('button', { name: 'Take away' }).click();
  await expect(page.getByRole('menuitem', { name: /^Marked copy, DOCX/ })).toContainText('10 changes pending inside');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /^Marked copy, DOCX/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('The Wrack Line (marked).docx');
  const [before, after] = [handout, readFileSync(await download.path())].map((file) => unzipSync(new Uint8Array(file)));
  const main = (parts: Record<string, Uint8Array>) => new TextDecoder().decode(parts['word/document.xml']);
  expect(main(after!)).toMatch(/<w:del [^>]*w:author="Ines Vega"[^>]*>(?:(?!<\/w:del>).)*<m:oMath>/);
  for (const [name, bytes] of Object.entries(before!))
    if (name !== 'word/document.xml') expect([name, after![name]]).toEqual([name, bytes]);

  // What another manuscript carries stays there.
  await press(page, 'Escape');
  await text.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Control+c');
  const other = await page.request.post('/api/manuscripts', { data: { title: 'Elsewhere' } });
  await page.goto(`/m/${((await other.json()) as { id: string }).id}`);
  await sheet(page).click();
  await page.keyboard.press('Control+v');
  await expect(page.getByText(/of another file (was|were) left there: .*formula/)).toBeVisible();
  await expect(sheet(page)).toContainText('Take a stick, never a spade.');
  await expect(sheet(page).locator('.carried-thing')).toHaveCount(0);
});

test('an ODT comes in with what it carries, and is taken away as it came, and as a page that reads well by itself', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.goto('/');
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'Shore.odt', mimeType: 'application/octet-stream', buffer: Buffer.from(odtHandout) });
  await page.waitForURL(/\/m\//);
  await page.getByRole('button', { name: 'That is who they are' }).click();
  await page.getByText(/^Carried as it came, and there again in copies as ODT/).click();
  await expect(sheet(page).getByRole('img', { name: 'text box: Bring boots.' })).toBeVisible();
  await expect(page.getByTestId('pending')).toHaveText('5');
  const take = async (format: string, name: RegExp) => {
    await page.getByRole('button', { name: 'Take away' }).click();
    await page.getByRole('menuitemradio', { name: format, exact: true }).click();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name }).click()]);
    return { name: download.suggestedFilename(), path: await download.path() };
  };
  const odt = await take('ODT', /^Marked copy, ODT/);
  expect(odt.name).toBe('The Wrack Line (marked).odt');
  expect(readFileSync(odt.path).equals(Buffer.from(odtHandout))).toBe(true);

  // The keyboard reaches every format and every copy.
  await page.getByRole('button', { name: 'Take away' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitemradio', { name: 'ODT', exact: true })).toBeFocused();
  await press(page, 'ArrowDown', 3);
  await press(page, 'Enter');
  await expect(page.getByRole('menuitemradio', { name: 'Markdown' })).toHaveAttribute('aria-checked', 'true');
  await press(page, 'ArrowDown', 2);
  await expect(page.getByRole('menuitem', { name: /^Fair copy, Markdown/ })).toBeFocused();
  await press(page, 'Escape');

  // The page by itself, without a connection and without a script.
  const html = await take('HTML', /^Marked copy, HTML/);
  expect(html.name).toBe('The Wrack Line (marked).html');
  for (const colorScheme of ['light', 'dark'] as const) {
    const context = await browser.newContext({
      javaScriptEnabled: false,
      offline: true,
      colorScheme,
      viewport: { width: 390, height: 800 },
    });
    const alone = await context.newPage();
    await alone.setContent(readFileSync(html.path, 'utf8'));
    await expect(alone.locator('main ins', { hasText: 'wrack' })).toHaveAttribute('data-author', /Ines Vega/);
    await expect(alone.getByRole('heading', { name: 'Changes to decide' })).toBeVisible();
    await expect(alone.locator('aside', { hasText: 'Which stick?' })).toContainText('“with a stick”');
    await expect(alone.locator('main img')).toHaveAttribute('alt', 'a sand hopper');
    await context.close();
  }
});

test('several files come in one after the other; what one cannot be is said, and the others are on the desk', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.goto('/');
  const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([
      file('Tides of May.md', '# Tides of May\n\nHigh water at **noon**.\n'),
      file('Broken.odt', 'nothing'),
      file('Signs.html', '<p>Mind the <del>gap</del><ins>tide</ins>.</p>'),
    ]);
  await expect(page.getByRole('alert')).toContainText('“Broken.odt” is not what its name says');
  await expect(page.getByRole('link', { name: 'Tides of May' })).toBeVisible();
  await page.getByRole('link', { name: 'Signs' }).click();
  await page.getByRole('button', { name: 'That is who they are' }).click();
  await expect(sheet(page).locator('ins.insertion')).toHaveText('tide');
});
