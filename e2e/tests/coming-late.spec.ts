import { expect, type Page } from '@playwright/test';
import { beforeReading, fairReading } from '@tea-pencil/core';
import { answerSubmits } from '../support/live';
import { selectWords, sheet, signedIn } from '../support/people';
import { picture } from '../support/picture';
import { caret, held, heldText, press, startWith } from '../support/texts';
import { test } from '../support/test';

/** What comes later than it was asked for, and a text that has become another meanwhile: all stays in its place. */

const flats = { name: 'flats.png', mimeType: 'image/png', buffer: picture(200, 100, [60, 90, 120]) };
const wall = { name: 'wall.png', mimeType: 'image/png', buffer: picture(120, 80, [120, 90, 60]) };

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
});

/** Pictures are kept from coming until the returned function is called. */
async function delayed(page: Page): Promise<() => void> {
  let come = () => {};
  const coming = new Promise<void>((done) => (come = done));
  await page.route(/\/pictures(\/copy)?$/, async (route) => {
    await coming;
    await route.continue();
  });
  return come;
}

test('what is long in coming is put in where it was meant to be; whoever has gone on stays where they are', async () => {
  await startWith(page, 'Of elsewhere', 'A picture: .');
  await press(page, 'F2');
  await caret(page, 'before', '.');
  await page.getByLabel('Picture file', { exact: true }).setInputFiles(flats);
  await expect(sheet(page).locator('.picture img')).toBeVisible();
  await caret(page, 'before', 'A picture');
  await press(page, 'Shift+End');
  await press(page, 'Control+c');

  await startWith(page, 'Later', 'Here: .', 'Another line.');
  await press(page, 'F2');
  const come = await delayed(page);
  await caret(page, 'before', '.');
  await page.getByLabel('Picture file', { exact: true }).setInputFiles(flats);
  await press(page, 'Control+End');
  await press(page, 'Control+v');
  await page.keyboard.type(' It goes on.');
  // What is selected meanwhile is not written over, and what is typed elsewhere goes on there.
  await selectWords(page, 'Another');
  await press(page, 'F4');
  const comment = page.getByRole('textbox', { name: 'Your comment' });
  await expect(comment).toBeFocused();
  await page.keyboard.type('What of');
  come();
  await expect(sheet(page).locator('.picture img')).toHaveCount(2);
  await page.keyboard.type(' it?');
  await expect(comment).toHaveText('What of it?');
  await page.unrouteAll({ behavior: 'wait' });
  const { doc } = await held(page);
  expect(doc.textBetween(0, doc.content.size, '\n', '#')).toBe('Here: #.\nAnother line.A picture: #. It goes on.');
});

test('what was asked for in pencil is recorded, though ink is in hand when it comes', async () => {
  await startWith(page, 'In pencil', 'Here: .', 'There: .', 'Another line.');
  await press(page, 'F2');
  await caret(page, 'before', '.');
  await page.getByLabel('Picture file', { exact: true }).setInputFiles(flats);
  await expect(sheet(page).locator('.picture img')).toBeVisible();
  await press(page, 'F2');

  const come = await delayed(page);
  await caret(page, 'behind', 'There: ');
  await page.getByLabel('Picture file', { exact: true }).setInputFiles(wall);
  await sheet(page).locator('.picture img').click();
  await page.getByLabel('Another picture file').setInputFiles(wall);
  await caret(page, 'behind', 'Another line.');
  await press(page, 'F2');
  await page.keyboard.type(' This is ink.');
  // Another reading is no other text: what comes meanwhile goes where it was meant to be.
  await page.getByRole('button', { name: 'Fair', exact: true }).click();
  come();
  await expect(sheet(page).locator('.picture img')).toHaveCount(2);
  await page.getByRole('button', { name: 'Marked', exact: true }).click();
  await caret(page, 'behind', 'This is ink.');
  await expect
    .poll(() =>
      sheet(page)
        .locator('.picture img')
        .first()
        .evaluate((img: HTMLImageElement) => img.naturalWidth),
    )
    .toBe(120);
  // Whoever has gone on writes where they were: nothing is selected that the next letter would write over.
  await page.keyboard.type(' So is this.');
  await page.unrouteAll({ behavior: 'wait' });
  const { doc } = await held(page);
  const read = (of: typeof doc) => of.textBetween(0, of.content.size, '\n', '#');
  expect(read(fairReading(doc))).toBe('Here: #.\nThere: #.\nAnother line. This is ink. So is this.');
  expect(read(beforeReading(doc))).toBe('Here: #.\nThere: .\nAnother line. This is ink. So is this.');
  const { asset } = fairReading(doc).child(0).child(1).attrs;
  expect(beforeReading(doc).child(0).child(1).attrs.asset).not.toBe(asset);
});

test('where the text begins anew, whoever writes goes on where they were, and a comment belongs to its words', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  let refusing = false;
  await answerSubmits(page, () => (refusing ? { refused: 'This was not taken in.' } : null));
  await startWith(page, 'Anew', 'The tide came in.', 'Weed dries on the wall.', 'The harbour sleeps.');
  await selectWords(page, 'harbour');
  await press(page, 'F4');
  await page.getByRole('textbox', { name: 'Your comment' }).fill('Which one?');
  await caret(page, 'behind', 'on the wall.');
  refusing = true;
  await page.keyboard.insertText(' This is refused.');
  const tray = page.getByText('This was not taken in.').first();
  await expect(tray).toBeVisible();
  refusing = false;
  await expect(sheet(page)).not.toContainText('refused');
  await page.keyboard.type(' And dry it is.');
  await page.getByRole('textbox', { name: 'Your comment' }).press('Control+Enter');
  await expect(sheet(page).locator('[data-thread]')).toHaveText('harbour');
  await expect
    .poll(() => heldText(page).then((doc) => doc.textBetween(0, doc.content.size, '\n')))
    .toBe('The tide came in.\nWeed dries on the wall. And dry it is.\nThe harbour sleeps.');
});
