import { expect, type Page } from '@playwright/test';
import { selectWords, sheet, signedIn } from '../support/people';
import { caret, held, press, startWith, together } from '../support/texts';
import { test } from '../support/test';

/** Passages that are set down elsewhere, by keys and by hand. */

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
});
test.afterAll(() => page.context().close());

test('a passage cut and pasted elsewhere, or dragged there, is one move with two ends', async () => {
  const lines = ['Crabs walk sideways. Worms do not.', 'Look under the weed.'];
  const now = 'Worms do not.\nLook under the weed. Crabs walk sideways.';
  await startWith(page, 'Cut and paste', ...lines);
  await selectWords(page, 'Crabs walk sideways. ');
  await press(page, 'Control+x');
  await caret(page, 'behind', 'under the weed.');
  await press(page, 'Control+v');
  await expect
    .poll(() => held(page))
    .toMatchObject({ before: lines.join('\n'), fair: now, words: ['moved three words'] });
  await expect(page.getByRole('button', { name: /moved here from ¶ 1/ })).toBeVisible();
  await page.getByRole('button', { name: /moved to ¶ 2/ }).click();
  await expect(page.getByRole('dialog')).toContainText('Moved to ¶ 2');

  await startWith(page, 'Drag', ...lines);
  await selectWords(page, 'Crabs walk sideways. ');
  const at = async (words: string) => {
    const box = await page.evaluate((wanted) => {
      const walker = document.createTreeWalker(document.querySelector('.ProseMirror')!, NodeFilter.SHOW_TEXT);
      for (let node = walker.nextNode(); node; node = walker.nextNode()) {
        const from = node.textContent!.indexOf(wanted);
        if (from < 0) continue;
        const range = document.createRange();
        range.setStart(node, from);
        range.setEnd(node, from + wanted.length);
        const { left, right, top, height } = range.getBoundingClientRect();
        return { left, right, middle: top + height / 2 };
      }
      throw new Error('not there');
    }, words);
    return box;
  };
  const from = await at('walk');
  const to = await at('under the weed.');
  await page.mouse.move(from.left + 4, from.middle);
  await page.mouse.down();
  await page.mouse.move(from.left + 30, from.middle + 10, { steps: 4 });
  await page.mouse.move(to.right - 1, to.middle, { steps: 8 });
  await page.mouse.up();
  await expect
    .poll(() => held(page))
    .toMatchObject({ before: lines.join('\n'), fair: now, words: ['moved three words'] });
});

test('words edited within a moved passage are changes of their own; deciding the move decides both ends', async () => {
  const lines = ['Crabs walk sideways. Worms do not.', 'Look under the weed.'];
  await startWith(page, 'Edited move', ...lines);
  await selectWords(page, 'Crabs walk sideways. ');
  await press(page, 'Control+x');
  await caret(page, 'behind', 'under the weed.');
  await press(page, 'Control+v');
  await press(page, 'ArrowLeft');
  await page.keyboard.type(' mostly');
  const edited = await held(page);
  expect(edited.words.sort()).toEqual(['inserted one word', 'moved three words']);
  expect(edited.fair).toContain('Crabs walk sideways mostly.');
  await sheet(page).locator('del.deletion').first().click();
  await page.getByRole('dialog').getByRole('button', { name: 'Accept' }).first().click();
  await expect(page.getByTestId('pending')).toHaveText('1');
  await expect.poll(async () => (await held(page)).words).toEqual(['inserted one word']);
  // What was edited within it is there still, and still to be decided.
  await expect
    .poll(() => held(page))
    .toMatchObject({
      fair: 'Worms do not.\nLook under the weed. Crabs walk sideways mostly.',
      before: 'Worms do not.\nLook under the weed. Crabs walk sideways.',
    });
});

test('whoever is at one end of a move stays at it while others write above it', async ({ browser }) => {
  const lines = ['Crabs walk sideways. Worms do not.', 'Look under the weed.'];
  const { tobias, others } = await together(browser, 'Move beside', lines, { Ines: 'proposer' });
  await tobias.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await selectWords(tobias, 'Crabs walk sideways. ');
  await press(tobias, 'Control+x');
  await caret(tobias, 'behind', 'under the weed.');
  await press(tobias, 'Control+v');
  await sheet(tobias).locator('del.deletion').click();
  const slip = tobias.getByRole('dialog');
  await expect(slip).toContainText('Moved to ¶ 2');
  const { y } = (await slip.boundingBox())!;
  await caret(others[0]!, 'before', 'Crabs walk');
  await others[0]!.keyboard.insertText('On the flats. ');
  await expect(sheet(tobias)).toContainText('On the flats.');
  await expect(slip).toContainText('Moved to ¶ 2');
  expect((await slip.boundingBox())!.y).toBe(y);
});
