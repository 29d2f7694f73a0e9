import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { expect, type Page } from '@playwright/test';
import { fairReading, listChanges, plainText, readDocx } from '@tea-pencil/core';
import { bytesOf, signedIn, toPage } from '../support/people';
import { copyOf, heldText, startWith } from '../support/texts';
import { axeFindsInBothThemes } from '../support/axe';
import { test } from '../support/test';

/** The end of the work: what is left is decided in one act, and leaves as files that tell what they should and no more. */

const fate = (page: Page, whose: string, choice: string) =>
  page.getByRole('group', { name: `What becomes of ${whose}` }).getByRole('button', { name: choice });
const make = (page: Page) => page.getByRole('button', { name: 'Make the fair copy' });

async function take(page: Page, file: string): Promise<Buffer> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('article').first().getByRole('button', { name: file }).click(),
  ]);
  return bytesOf(download);
}

test('a chapter goes from its pending changes to its fair copy, and back', async ({ browser }) => {
  const page = await signedIn(browser, 'Ines');
  await copyOf(page, '3 · The Wrack Line', 'To be finished');
  const pending = page.getByTestId('pending');
  await expect(pending).toHaveText(/\d\d/);
  const all = Number(await pending.innerText());
  // Some one by one, with the keyboard.
  await page.keyboard.press('F8');
  const bar = page.getByRole('toolbar', { name: 'Read-through' });
  await expect(bar).toBeFocused();
  for (const key of ['y', 'n', 'y']) {
    const before = await bar.innerText();
    await page.keyboard.press(key);
    await expect(bar).not.toHaveText(before);
  }
  await bar.getByRole('button', { name: 'End the read-through' }).click();
  const left = all - 3;
  await expect(pending).toHaveText(String(left));
  await expect.poll(async () => listChanges(await heldText(page)).length).toBe(left);
  const then = plainText(await heldText(page));

  // The rest in one act, person by person.
  await page.getByRole('button', { name: 'Take away' }).click();
  await page.getByRole('menuitem', { name: 'Make the fair copy …' }).click();
  await expect(page.getByRole('link', { name: `${left} changes pending` })).toBeVisible();
  await expect(page.getByText('Nothing is decided.')).toBeVisible();
  await page.getByRole('button', { name: 'by person' }).click();
  await fate(page, 'all of them', 'Accept').click();
  await fate(page, 'tobias oyelaran', 'Reject').click();
  await fate(page, 'maren holt', 'Leave pending').click();
  await expect(page.getByText(/^You decide \d+ changes: \d+ accepted and \d+ rejected\.$/)).toBeVisible();
  await make(page).focus();
  await page.keyboard.press('Enter');
  const made = page.getByRole('article');
  await expect(make(page)).toBeFocused();
  await expect(made).toContainText(/accepted, \d+ rejected, \d+ left pending/);
  await expect(made.getByRole('list', { name: 'Who decided' })).toContainText('Ines Vega');

  const doc = await heldText(page);
  const [clean, marked] = [await take(page, 'the clean file'), await take(page, 'the marked copy')];
  for (const file of [clean, marked]) await expect(made).toContainText(createHash('sha256').update(file).digest('hex'));
  const fair = plainText(fairReading(doc));
  expect(plainText((await readDocx(clean)).manuscript.doc)).toBe(fair);
  const left3 = listChanges(doc);
  expect(left3.length).toBeGreaterThan(0);
  expect(listChanges((await readDocx(marked)).manuscript.doc)).toHaveLength(left3.length);
  // Outside check: pandoc (Debian) finds no change and no comment in the clean file, and its words.
  const pandoc = (to: string) =>
    execFileSync('pandoc', ['-f', 'docx', '-t', to, '--track-changes=all', '--wrap=none'], { input: clean }).toString();
  expect(pandoc('native')).not.toMatch(/"(insertion|deletion|comment-start|paragraph-insertion|paragraph-deletion)"/);
  const letters = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '');
  expect(letters(pandoc('plain'))).toContain(letters(fair.split('\n')[1]!));
  expect((await take(page, 'The record, as text')).toString()).toContain(
    createHash('sha256').update(clean).digest('hex'),
  );

  // Back as it was.
  await made.getByRole('button', { name: 'Take it back' }).click();
  await expect(made).toContainText('Taken back by Ines Vega');
  await expect(page.getByRole('link', { name: `${left} changes pending` })).toBeVisible();
  expect(plainText(await heldText(page))).toBe(then);
  await page.getByRole('link', { name: /^Tobias Oyelaran \d+$/ }).click();
  await expect(page.getByRole('button', { name: /^Lens/ })).toContainText('Tobias');
});

test('what cannot be made is said; one who may not decide sees what was made; every hand-over says what is still inside', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Ines');
  const id = await startWith(page, 'All struck', 'One line of weed.');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await expect(page.getByTestId('pending')).toHaveText('1');
  await toPage(page, 'Last look');
  await page.getByRole('link', { name: 'Fair copy' }).click();
  await expect(page.getByText('None has been made of this manuscript yet.')).toBeVisible();
  await fate(page, 'deletions', 'Accept').click();
  await make(page).click();
  await expect(page.getByRole('alert')).toHaveText('The fair copy was not made: it would hold no word.');
  await fate(page, 'deletions', 'Reject').click();
  await make(page).click();
  await expect(page.getByRole('article')).toContainText('4 words, DOCX. 1 rejected.');

  await page.goto(`/m/${id}/people`);
  await page.getByRole('button', { name: 'New link …' }).click();
  await expect(page.getByText('Nothing is pending in the text, and no thread is open.')).toBeVisible();
  await page.request.put(`/api/manuscripts/${id}/members/${await idOf(page, 'Maren')}`, { data: { role: 'proposer' } });
  const hers = await signedIn(browser, 'Maren');
  await hers.goto(`/m/${id}/fair-copy`);
  await expect(hers.getByRole('article')).toContainText('1 rejected');
  await expect(hers.getByText('A fair copy is made by one who may decide in this manuscript.')).toBeVisible();
  await expect(make(hers)).toBeHidden();
});

const idOf = async (page: Page, name: string) =>
  ((await (await page.request.get('/api/demo-people')).json()) as { id: string; name: string }[]).find((one) =>
    one.name.startsWith(name),
  )!.id;

test('the page passes axe in both themes and at every width', async ({ browser }) => {
  const page = await signedIn(browser, 'Ines');
  await copyOf(page, '3 · The Wrack Line', 'To be finished');
  const address = page.url();
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    await page.goto(`${address}/fair-copy`);
    await expect(make(page)).toBeVisible();
    if (width === 1280) {
      await make(page).click();
      await expect(page.getByRole('article')).toBeVisible();
    }
    expect([width, await axeFindsInBothThemes(page)]).toEqual([width, []]);
  }
});
