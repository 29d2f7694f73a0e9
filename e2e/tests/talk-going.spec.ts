import { expect, type Page } from '@playwright/test';
import { selectWords, sheet, signedIn } from '../support/people';
import { ask, comment, margin, say, text, thread } from '../support/talk';
import { startWith, together } from '../support/texts';
import { test } from '../support/test';

/** Going from thread to thread: through the list, the margin and the read-through. */

test('the list filters, searches, resolves all it shows in one act, and helps to reread one’s own', async ({
  browser,
}) => {
  const { tobias, others } = await together(browser, 'Many threads', [text], { Ines: 'decider' });
  const [ines] = others as [Page];
  const on = async (page: Page, words: string, what: string) => {
    await selectWords(page, words);
    await page.keyboard.press('F4');
    await say(page, what);
  };
  await on(tobias, 'lime kiln', 'Which of them?');
  await on(tobias, 'the shore', 'Fix this!!');
  await on(ines, 'Nobody', 'Not even the owner?');
  await expect(thread(tobias, 'Not even')).toBeVisible();
  await tobias.getByRole('link', { name: 'Talk', exact: true }).click();
  const count = tobias.getByTestId('threads');
  await expect(count).toHaveText('3 threads');
  await tobias.getByRole('textbox', { name: 'Search in talk' }).fill('owner even');
  await expect(count).toHaveText('1 thread');
  await tobias.getByRole('textbox', { name: 'Search in talk' }).fill('');
  await tobias.getByRole('combobox', { name: 'By whom' }).click();
  await tobias.getByRole('option', { name: 'by me' }).click();
  await expect(count).toHaveText('2 threads');

  await tobias.getByRole('button', { name: 'Reread mine' }).click();
  const rough = tobias.getByRole('group', { name: /Fix this!!/ });
  await expect(rough).toContainText('shouting');
  await expect(tobias.getByRole('group', { name: /Which of them/ })).toHaveCount(0);
  await rough.getByRole('button', { name: 'Reword' }).click();
  await tobias.getByRole('textbox', { name: 'Said better' }).fill('Could this be the beach?');
  await tobias.getByRole('button', { name: 'Keep' }).click();
  await expect(tobias.getByText('None of your 2 open comments')).toBeVisible();
  await tobias.getByRole('button', { name: 'Done' }).click();

  await tobias.getByRole('combobox', { name: 'By whom' }).click();
  await tobias.getByRole('option', { name: 'by anyone' }).click();
  await tobias.getByRole('button', { name: 'Resolve all 3' }).click();
  await expect(count).toHaveText('0 threads');
  await expect(margin(ines).locator('.thread-card')).toHaveCount(1); // the one she has in focus
  await tobias.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(count).toHaveText('3 threads');
  // From the list to the place.
  await tobias.getByRole('button', { name: /“lime kiln”/ }).click();
  await expect(sheet(tobias).locator('.anchor.lit-thread')).toHaveText('lime kiln');
});

test('the read-through goes from query to query too, and back to its change', async ({ browser }) => {
  const { tobias } = await together(browser, 'Queries on the way', [text], { Ines: 'decider' });
  for (const words of ['lime kiln', 'the war']) {
    await selectWords(tobias, words);
    await tobias.keyboard.press('F4');
    await comment(tobias).pressSequentially(`Which, ${words}?`);
    await ask(tobias, 'Ines Vega');
    await expect(thread(tobias, `Which, ${words}?`)).toBeVisible();
  }
  await selectWords(tobias, 'above');
  await tobias.keyboard.type('over');
  await expect(tobias.getByTestId('pending')).toHaveText('1');
  await tobias.keyboard.press('F8');
  const bar = tobias.getByRole('toolbar', { name: 'Read-through' });
  await expect(bar).toBeFocused();
  await expect(bar.getByRole('button', { name: '2 queries' })).toBeVisible();
  const lit = sheet(tobias).locator('.anchor.lit-thread');
  await tobias.keyboard.press('q');
  await expect(lit).toHaveText('lime kiln');
  await tobias.keyboard.press('q');
  await expect(lit).toHaveText('the war');
  await tobias.keyboard.press('Shift+Q');
  await expect(lit).toHaveText('lime kiln');
  await tobias.keyboard.press('j');
  await expect(lit).toHaveCount(0);
  await expect(sheet(tobias).locator('ins.lit')).toHaveText('over');
  await tobias.keyboard.press('y');
  await expect(bar).toContainText('All changes are decided.');
});

test('the talk margin goes by keyboard, and hidden it leaves signs that show their thread', async ({ browser }) => {
  const { tobias } = await together(browser, 'By keyboard', [text], { Ines: 'decider' });
  for (const [words, what] of [
    ['lime kiln', 'First.'],
    ['the shore', 'Second.'],
    ['the war', 'Third.'],
  ] as const) {
    await selectWords(tobias, words);
    await tobias.keyboard.press('F4');
    await comment(tobias).pressSequentially(what);
    if (words === 'the war') {
      await ask(tobias, 'Ines Vega');
    } else await tobias.keyboard.press('Control+Enter');
    await expect(thread(tobias, what)).toBeVisible();
  }
  const lit = sheet(tobias).locator('.anchor.lit-thread');
  await sheet(tobias).locator('.anchor', { hasText: 'lime kiln' }).click();
  await expect(lit).toHaveText('lime kiln');
  await tobias.keyboard.press('Shift+F4');
  await expect(margin(tobias).locator('[role=comment]:focus')).toContainText('First.');
  await tobias.keyboard.press('j');
  await expect(lit).toHaveText('the shore');
  await tobias.keyboard.press('k');
  await expect(lit).toHaveText('lime kiln');
  await tobias.keyboard.press('q');
  await expect(lit).toHaveText('the war');
  await tobias.keyboard.press('k');
  await tobias.keyboard.press('r');
  await tobias.keyboard.type('Yes.');
  await tobias.keyboard.press('Control+Enter');
  await expect(thread(tobias, 'Second.')).toContainText('Yes.');
  await thread(tobias, 'Second.').focus();
  await tobias.keyboard.press('d');
  await expect(margin(tobias).locator('.thread-card')).toHaveCount(2);

  await tobias.getByRole('button', { name: /^Flow/ }).click();
  await tobias.getByRole('button', { name: 'as signs in the text' }).click();
  await tobias.keyboard.press('Escape');
  await expect(margin(tobias).locator('.thread-card')).toHaveCount(0);
  await expect(tobias.locator('.talk-sign')).toHaveCount(2);
  await tobias.locator('.talk-sign').first().hover();
  await expect(tobias.getByRole('tooltip', { name: 'Thread' })).toContainText('First.');
  await tobias.locator('.talk-sign').first().click();
  await expect(tobias.getByRole('dialog', { name: 'Thread' }).getByRole('textbox', { name: 'Reply' })).toBeVisible();
});

test('a comment that is begun while another is still on its way is not closed by it, nor is the focus drawn back', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'A slow line', text);
  // The thread is there, told by the live connection, long before its answer.
  await page.route('**/threads', async (route) => {
    if (route.request().method() !== 'POST') return route.continue();
    const answer = await route.fetch();
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.fulfill({ response: answer });
  });
  await selectWords(page, 'lime kiln');
  await page.keyboard.press('F4');
  await comment(page).pressSequentially('First.');
  const answered = page.waitForResponse(
    (answer) => answer.request().method() === 'POST' && answer.url().endsWith('/threads'),
  );
  await page.keyboard.press('Control+Enter');
  await expect(thread(page, 'First.').first()).toBeVisible();
  await selectWords(page, 'the shore');
  await page.keyboard.press('F4');
  await answered;
  await comment(page).fill('Second.');
  await expect(comment(page)).toHaveText('Second.');
  await expect(page.locator('.begun-words')).toHaveText('“the shore”');

  // Nor does it take the keyboard from whatever one has gone on to.
  const again = page.waitForResponse(
    (answer) => answer.request().method() === 'POST' && answer.url().endsWith('/threads'),
  );
  await page.keyboard.press('Control+Enter');
  await expect(thread(page, 'Second.').first()).toBeVisible();
  await selectWords(page, 'above');
  await page.keyboard.type('over');
  await page.keyboard.press('F8');
  const bar = page.getByRole('toolbar', { name: 'Read-through' });
  await expect(bar).toBeFocused();
  await again;
  await expect(page.locator('.begun-words')).toHaveCount(0);
  await expect(bar).toBeFocused();
  await page.keyboard.press('q');
  await expect(sheet(page)).toHaveText(
    'The lime kiln stands aboveover the shore. Nobody has burned lime in it since the war.',
  );
});

test('a comment whose answer is lost on the way stands there once', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Lost answer', [text], { Maren: 'remarker' });
  const [maren] = others as [Page];
  let posted = 0;
  await tobias.route(/\/threads(\/[\w-]+\/comments)?$/, async (route) => {
    if (route.request().method() !== 'POST') return route.continue();
    // Of every two the first one's answer.
    if (posted++ % 2) return route.continue();
    await route.fetch();
    await route.abort();
  });
  await selectWords(tobias, 'lime kiln');
  await tobias.keyboard.press('F4');
  await say(tobias, 'Is it still there?');
  await thread(maren, 'Is it still there?').click();
  const open = thread(tobias, 'Is it still there?');
  await open.getByRole('textbox', { name: 'Reply' }).pressSequentially('It is not.');
  await open.getByRole('button', { name: 'Reply' }).click();
  await expect(thread(maren, 'It is not.')).toBeVisible();
  await expect.poll(() => posted).toBe(4);
  await expect(margin(maren).getByText('It is not.')).toHaveCount(1);
  await expect(margin(tobias).getByText('It is not.')).toHaveCount(1);
  await expect(tobias.getByText(/No answer came/)).toHaveCount(0);
});
