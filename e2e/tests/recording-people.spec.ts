import { expect, type Browser, type Page } from '@playwright/test';
import { kept, selectWords, sheet } from '../support/people';
import { caret, held, press, together } from '../support/texts';
import { test } from '../support/test';

/** Several people on the same words: each change can be decided alone, in any order. */

const text = 'The tide comes in quickly over the flats.';

/** Tobias begins a manuscript, and Ines has it open too, as one who decides. */
async function both(browser: Browser, title: string): Promise<[Page, Page]> {
  const { tobias, others } = await together(browser, title, [text], { Ines: 'decider' });
  return [tobias, others[0]!];
}

const seen = (page: Page, words: string) => expect(sheet(page)).toContainText(words);
const words = async (page: Page) => (await held(page)).words.sort();

test('one deletes what the other inserted, formats what the other formatted, writes inside the other’s words', async ({
  browser,
}) => {
  const [tobias, ines] = await both(browser, 'Two hands');
  await caret(tobias, 'before', 'comes');
  await tobias.keyboard.type('often soon ');
  await selectWords(tobias, 'quickly');
  await press(tobias, 'Control+b');
  await seen(ines, 'often soon');
  await selectWords(ines, 'soon ');
  await press(ines, 'Delete');
  await caret(ines, 'behind', 'oft');
  await ines.keyboard.type('ENTIM');
  await selectWords(ines, 'quickly');
  await press(ines, 'Control+i');
  const now = await held(ines);
  expect(now.before).toBe(text);
  expect(now.words.sort()).toEqual([
    'deleted one word',
    'inserted one word',
    'inserted two words',
    'now bold',
    'now italic',
  ]);
  expect(now.fair).toBe('The tide oftENTIMen comes in quickly over the flats.');
  // Each is decided alone: first what Ines did, then what Tobias did, the other way round for the look of words.
  const decide = async (page: Page, by: string, button: RegExp) => {
    await page.getByRole('button', { name: 'Decide together' }).click();
    await page.getByRole('group', { name: by }).getByRole('button', { name: button }).click();
  };
  await decide(ines, 'By Tobias Oyelaran', /Accept/);
  await expect.poll(() => words(ines)).toEqual(['deleted one word', 'inserted one word', 'now italic']);
  await decide(tobias, 'By Ines Vega', /Reject/);
  await expect(tobias.getByTestId('pending')).toHaveText('0');
  await expect.poll(async () => (await held(ines)).fair).toBe('The tide often soon comes in quickly over the flats.');
  await expect(sheet(ines).locator('strong')).toHaveText('quickly');
  await expect(sheet(ines).locator('em')).toHaveCount(0);
});

test('both delete the same words: either acceptance removes them, both rejections keep them', async ({ browser }) => {
  const [tobias, ines] = await both(browser, 'Both delete');
  for (const page of [tobias, ines]) {
    await selectWords(page, 'tide');
    await press(page, 'Backspace');
    await expect(kept(page)).toBeVisible();
    for (const seer of [tobias, ines]) await expect(sheet(seer).locator('del.deletion').first()).toHaveText('tide');
  }
  await expect.poll(async () => (await held(tobias)).kinds).toEqual(['deletion', 'deletion']);
  await sheet(tobias).locator('del.deletion').first().click();
  await tobias.getByRole('dialog').getByRole('button', { name: 'Reject' }).first().click();
  await expect.poll(async () => (await held(tobias)).kinds).toEqual(['deletion']);
  await expect.poll(async () => (await held(tobias)).fair).toMatch(/^The comes|^The {1,2}comes/);
  await sheet(tobias).locator('del.deletion').first().click();
  await tobias.getByRole('dialog').getByRole('button', { name: 'Accept' }).first().click();
  await expect.poll(async () => (await held(tobias)).kinds).toEqual([]);
  await expect.poll(async () => (await held(tobias)).fair).toMatch(/^The +comes/);
});

test('ink in somebody’s pending words, and ink that deletes them, leaves the rest well-formed', async ({ browser }) => {
  const [tobias, ines] = await both(browser, 'Ink over pencil');
  await caret(tobias, 'before', 'comes');
  await tobias.keyboard.type('often soon ');
  await seen(ines, 'often soon');
  await press(ines, 'F2');
  await caret(ines, 'behind', 'often');
  await ines.keyboard.type('est');
  await selectWords(ines, 'soon');
  await press(ines, 'Delete');
  const now = await held(ines);
  expect(now.fair).toMatch(/^The tide oftenest {1,2}comes in/);
  expect(now.before).toMatch(/^The tide est ?comes in quickly/);
  expect(now.kinds).toEqual(['insertion']);
});

test('a decision while another types in the same paragraph loses neither', async ({ browser }) => {
  const [tobias, ines] = await both(browser, 'At once');
  await selectWords(tobias, 'quickly');
  await tobias.keyboard.type('slowly');
  await seen(ines, 'slowly');
  await caret(ines, 'behind', 'flats');
  const typing = ines.keyboard.type(' and the long grey bank of shingle', { delay: 15 });
  await sheet(tobias).locator('ins.insertion', { hasText: 'slowly' }).click();
  await tobias.getByRole('dialog').getByRole('button', { name: 'Accept' }).first().click();
  await typing;
  await expect
    .poll(async () => (await held(ines)).fair)
    .toBe('The tide comes in slowly over the flats and the long grey bank of shingle.');
  await expect.poll(async () => (await held(tobias)).words).toEqual(['inserted seven words']);
  await tobias.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect.poll(() => words(tobias)).toEqual(['inserted seven words', 'replaced one word']);
  await expect.poll(async () => (await held(ines)).before).toBe(text);
});

test('the slip says where deciding would leave a space too many', async ({ browser }) => {
  const [tobias, ines] = await both(browser, 'Spaces');
  await selectWords(tobias, 'quickly');
  await press(tobias, 'Delete');
  await press(tobias, 'Control+z'); // the space stays, on purpose
  await expect(tobias.getByTestId('pending')).toHaveText('1');
  await expect(sheet(ines).locator('del.deletion')).toHaveText('quickly');
  await caret(ines, 'before', 'over');
  await press(ines, 'Backspace');
  await expect(sheet(tobias).locator('del.deletion')).toHaveCount(2);
  await sheet(tobias).locator('del.deletion', { hasText: 'quickly' }).click();
  const slip = tobias.getByRole('dialog');
  await expect(slip.getByRole('note')).toContainText(
    'Accepting this and rejecting Ines Vega’s change beside it would leave two spaces.',
  );
});
