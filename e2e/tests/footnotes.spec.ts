import { expect, type Page } from '@playwright/test';
import { comeIn, kept, share, sheet, signedIn } from '../support/people';
import { say, thread } from '../support/talk';
import { caret, choose, press, startWith } from '../support/texts';
import { test } from '../support/test';

/** What is pending in a footnote, which stands in the text as a number. */

const text = 'The causeway is covered twice a day and nobody crosses it after dark.';

/** A text with a footnote before a word, in which Maren has changed one. */
async function withNote(page: Page, words: string): Promise<string> {
  const id = await startWith(page, 'Notes of the causeway', 'Above it stands a lamp.', text);
  await caret(page, 'before', words);
  await press(page, 'F2');
  await choose(page, 'Insert', 'Footnote');
  await page.keyboard.type('See the tables. They are not kept any more.');
  await press(page, 'Escape');
  await press(page, 'F2');
  await expect(kept(page)).toBeVisible();
  return id;
}

const middle = async (page: Page, of: string) => {
  const { y, height } = (await page.locator(of).first().boundingBox())!;
  return y + height / 2;
};

test('a change within a footnote is seen beside the closed number, opens with the read-through, and says what it is about', async ({
  browser,
}) => {
  const tobias = await signedIn(browser, 'Tobias');
  const id = await withNote(tobias, ' and nobody');
  await share(tobias, id, { Maren: 'proposer' });
  const maren = await comeIn(browser, 'Maren', `/m/${id}`);
  await expect(kept(maren)).toBeVisible();
  await maren.getByRole('button', { name: 'Footnote' }).click();
  await caret(maren, 'before', 'tables');
  await maren.keyboard.insertText('new ');
  await press(maren, 'Escape');

  const card = sheet(tobias).locator('.footnote-text');
  await expect(tobias.locator('.tick')).toHaveCount(1);
  await expect(card).toBeHidden();
  expect(Math.abs((await middle(tobias, '.tick')) - (await middle(tobias, '.footnote-number')))).toBeLessThan(12);
  await press(tobias, 'F8');
  const bar = tobias.locator('.through');
  await expect(bar).toContainText('¶ 2, footnote');
  await expect(bar.locator('.through-sentence')).toHaveText(['See the tables.', 'See the new tables.']);
  await expect(card).toBeVisible();
  await expect(card.locator('.lit')).toHaveText('new ');
  await tobias.goto(`/m/${id}/ledger`);
  await expect(tobias.getByRole('row', { name: /¶ 2, footnote/ })).toContainText('See the new tables.');
  await tobias.goto(`/m/${id}`);
  await press(tobias, 'F8');
  await press(tobias, 'y');
  await expect(tobias.locator('.tick')).toHaveCount(0);
  await expect(card).toHaveText('See the new tables. They are not kept any more.');
});

test('a comment on words of a footnote stands beside its number, and opens it', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await withNote(page, ' and nobody');
  await page.getByRole('button', { name: 'Footnote' }).click();
  await caret(page, 'before', 'tables');
  await press(page, 'Control+Shift+ArrowRight');
  await press(page, 'F4');
  await say(page, 'Which year?');
  const about = thread(page, 'Which year?');
  await expect(about).toBeVisible();
  await sheet(page).locator('p').first().click();
  const card = sheet(page).locator('.footnote-text');
  await expect(card).toBeHidden();
  const { y } = (await about.boundingBox())!;
  expect(Math.abs(y - (await middle(page, '.footnote-number')))).toBeLessThan(40);
  await about.click();
  await expect(card).toBeVisible();
});

for (const width of [390, 1280])
  test(`at ${width} what a footnote says stays within the sheet, wherever its number stands`, async ({ browser }) => {
    const page = await signedIn(browser, 'Tobias');
    await withNote(page, ' crosses');
    await page.setViewportSize({ width, height: 800 });
    const card = sheet(page).locator('.footnote-text');
    const within = (await sheet(page).boundingBox())!;
    for (let words = 0; words < 4; words++) {
      await page.getByRole('button', { name: 'Footnote' }).click();
      await expect(card).toBeVisible();
      await expect
        .poll(async () => {
          const { x, width } = (await card.boundingBox())!;
          return [x >= within.x, x + width <= within.x + within.width + 1];
        })
        .toEqual([true, true]);
      // Further to the right, or into the next line.
      await caret(page, 'before', 'The causeway');
      await page.keyboard.insertText('Twice ');
    }
  });
