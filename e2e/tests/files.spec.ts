import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { expect, test } from '@playwright/test';
import { handout } from '../../core/test/support/handout';
import { sheet, signedIn } from '../support/people';
import { caret, press } from '../support/texts';

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
  expect(download.suggestedFilename()).toBe('Handout 7b (marked).docx');
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
  await page.context().close();
});
