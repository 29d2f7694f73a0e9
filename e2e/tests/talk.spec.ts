import { expect, type Page } from '@playwright/test';
import { bytesOf, comeIn, kept, selectWords, sheet } from '../support/people';
import { ask, comment, margin, say, text, thread } from '../support/talk';
import { together } from '../support/texts';
import { test } from '../support/test';

/** Threads of comments as two people at two browsers meet them. */

test('a query from asking to answer: desk, Post, place, answer', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'A query', [text], { Maren: 'proposer' });
  const [maren] = others as [Page];
  await selectWords(tobias, 'since the war');
  await tobias.keyboard.press('F4');
  await comment(tobias).pressSequentially('Which war?');
  await ask(tobias, 'Maren Holt');
  await expect(thread(maren, 'Which war?').getByText('query to you')).toBeVisible();

  // The desk says who owes what, and Post leads to the place.
  await maren.getByRole('link', { name: 'Desk' }).click();
  const row = maren.getByRole('row').filter({ hasText: 'A query' });
  await expect(row.getByText('you owe 1 answer')).toBeVisible();
  await maren.getByRole('link', { name: /^Post, \d+ not read/ }).click();
  await maren.getByRole('link', { name: 'Tobias Oyelaran asks you for an answer on “since the war”' }).click();
  const open = thread(maren, 'Which war?');
  await expect(open.getByRole('textbox', { name: 'Reply' })).toBeVisible();
  await expect(sheet(maren).locator('.anchor.lit-thread')).toHaveText('since the war');
  await expect(maren).not.toHaveURL(/thread=/);
  await open.getByRole('textbox', { name: 'Reply' }).pressSequentially('The second. See the notebook.');
  await open.getByRole('button', { name: 'Reply' }).click();

  await expect(thread(tobias, 'Which war?').getByText('asked Maren')).toBeVisible();
  await expect(thread(tobias, 'The second. See the notebook.')).toBeVisible();
  await tobias.getByRole('link', { name: /^Post/ }).click();
  await expect(
    tobias.getByRole('link', { name: 'Maren Holt answered in a thread of yours on “since the war”' }),
  ).toBeVisible();
  const unread = Number(/\d+/.exec((await tobias.getByTestId('unread').textContent())!)![0]);
  await tobias.getByRole('button', { name: 'Mark read' }).first().click();
  await expect(tobias.getByTestId('unread')).toHaveText(unread === 1 ? 'all read' : `${unread - 1} not read`);
});

test('a mention finds a person by name; a stranger is invited by a keeper; what is pasted stays words', async ({
  browser,
}) => {
  const { tobias, others } = await together(browser, 'A mention', [text], { Maren: 'remarker' });
  const [maren] = others as [Page];
  await selectWords(tobias, 'lime kiln');
  await tobias.keyboard.press('F4');
  await comment(tobias).pressSequentially('@ma');
  await expect(tobias.getByRole('option', { name: /Maren Holt/ })).toHaveAttribute('aria-selected', 'true');
  await tobias.keyboard.press('Enter');
  await tobias.keyboard.type('and @Har');
  // What names them waits until they are invited, however long that takes.
  await tobias.route('**/members/*', async (route) => {
    await new Promise((done) => setTimeout(done, 1000));
    await route.continue();
  });
  await tobias.getByRole('button', { name: 'Invite Harbour Office, who then may remark' }).click();
  await tobias.keyboard.type('look.');
  await comment(tobias).evaluate((field) => {
    const data = new DataTransfer();
    data.setData(
      'text/html',
      '<img src=x onerror="window.ran = 1"><script>window.ran = 1</script><b>bold</b> &lt;i&gt;',
    );
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await tobias.keyboard.press('Control+Enter');
  const card = thread(maren, 'and');
  await expect(card).toContainText('@Maren Holt and @Harbour Office look.bold <i>');
  await expect(card.locator('.remark strong')).toHaveText('bold');
  expect(await tobias.evaluate(() => (window as unknown as { ran?: number }).ran)).toBeUndefined();

  // Nobody but a keeper invites; others are told so.
  await selectWords(maren, 'shore');
  await maren.keyboard.press('F4');
  await comment(maren).pressSequentially('@Ines');
  await expect(maren.getByText('A keeper can invite people.')).toBeVisible();
  await maren.keyboard.press('Escape');
  await maren.keyboard.press('Escape');
  await expect(comment(maren)).toBeHidden();

  // The one who was invited has both in Post, and by mail: in one, or in two where the machine is slow.
  const harbour = await comeIn(browser, 'Harbour', '/post');
  await expect(harbour.getByRole('link', { name: /Tobias Oyelaran mentions you on “lime kiln”/ })).toBeVisible();
  await expect(
    harbour.getByRole('link', { name: /Tobias Oyelaran has shared this manuscript with you: you may comment/ }).first(),
  ).toBeVisible();
  await harbour.getByRole('button', { name: 'Outbox' }).click();
  await expect(async () => {
    await harbour.reload();
    await harbour.getByRole('button', { name: 'Outbox' }).click();
    await harbour
      .getByRole('button', { name: /A mention: / })
      .first()
      .click({ timeout: 1500 });
    await expect(harbour.frameLocator('iframe').getByText('Tobias Oyelaran mentions you')).toBeVisible({
      timeout: 1500,
    });
  }).toPass({ timeout: 90_000 });
  await harbour.getByRole('button', { name: 'plain' }).click();
  await expect(harbour.getByLabel('The mail, plain')).toContainText('look.bold <i>');
});

test('when its words are deleted a thread stays at its place; undo brings them back; it can be brought to others', async ({
  browser,
}) => {
  const { tobias, others } = await together(browser, 'Gone words', [text], { Ines: 'decider' });
  const [ines] = others as [Page];
  await selectWords(ines, 'stands above');
  await ines.keyboard.press('F4');
  await say(ines, 'Overlooks?');
  await expect(sheet(tobias).locator('.anchor.talked')).toHaveText('stands above');
  await tobias.keyboard.press('F2');
  await selectWords(tobias, 'stands above');
  await tobias.keyboard.press('Backspace');
  for (const page of [tobias, ines]) await expect(thread(page, 'Its words have gone: “stands above”')).toBeVisible();
  await tobias.keyboard.press('Control+z');
  for (const page of [tobias, ines]) {
    await expect(sheet(page).locator('.anchor.talked')).toHaveText('stands above');
    await expect(thread(page, 'Overlooks?')).not.toContainText('have gone');
  }
  // Gone with an accepted deletion, and brought to other words.
  await tobias.keyboard.press('F2');
  await selectWords(tobias, 'stands above');
  await tobias.keyboard.press('Backspace');
  await sheet(tobias).locator('del.deletion').first().click();
  await tobias.getByRole('dialog').getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(thread(ines, 'Its words have gone')).toBeVisible();
  await thread(ines, 'Overlooks?').click();
  await selectWords(ines, 'the shore');
  await thread(ines, 'Overlooks?').getByRole('button', { name: 'Bring to the selection' }).click();
  await expect(sheet(tobias).locator('.anchor.talked')).toHaveText('the shore');
});

test('a thread goes with words that are cut and set down elsewhere', async ({ browser }) => {
  const { tobias } = await together(browser, 'Moved words', [text], { Ines: 'decider' });
  await selectWords(tobias, 'lime kiln');
  await tobias.keyboard.press('F4');
  await say(tobias, 'Which?');
  for (const hand of ['pencil', 'ink'] as const) {
    if (hand === 'ink') {
      await tobias.keyboard.press('Control+z');
      await tobias.keyboard.press('Control+z');
      await tobias.keyboard.press('F2');
    }
    await selectWords(tobias, 'lime kiln');
    await tobias.keyboard.press('Control+x');
    await tobias.keyboard.press('Control+End');
    await tobias.keyboard.press('Control+v');
    const last = sheet(tobias).locator('.anchor.talked').last();
    await expect(last).toHaveText(/^\s?lime kiln$/);
    await expect(sheet(tobias).locator('p').last()).toContainText(/war\.\s?lime kiln$/);
    await expect(kept(tobias)).toBeVisible();
  }
  await expect(thread(tobias, 'Which?')).not.toContainText('have gone');
  await expect(sheet(tobias).locator('.anchor.talked')).toHaveCount(1);
});

test('proposed wording becomes a change of who clicks with one click', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Wording', [text], { Maren: 'remarker' });
  const [maren] = others as [Page];
  await selectWords(maren, 'stands above');
  await maren.keyboard.press('F4');
  await maren.getByRole('button', { name: 'wording' }).click();
  await expect(maren.getByRole('textbox', { name: 'Proposed wording' })).toHaveValue('stands above');
  await maren.getByRole('textbox', { name: 'Proposed wording' }).fill('overlooks');
  await maren.getByRole('button', { name: 'Comment', exact: true }).last().click();
  await thread(tobias, 'overlooks').click();
  await tobias.getByRole('button', { name: 'Make it a change' }).click();
  await expect(sheet(maren).locator('ins.insertion')).toHaveText('overlooks');
  await expect(thread(tobias, 'overlooks')).toBeHidden();
  await sheet(tobias).locator('ins.insertion').click();
  await expect(tobias.getByRole('dialog', { name: 'Change by Tobias Oyelaran' })).toBeVisible();
  // Its thread is resolved and stays in the list.
  await tobias.getByRole('link', { name: 'Talk', exact: true }).click();
  await tobias.getByRole('button', { name: 'resolved', exact: true }).click();
  await expect(tobias.getByText(/^resolved by Tobias Oyelaran/)).toBeVisible();
});

test('a note to oneself is on nobody else’s screen', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Mine alone', [text], { Ines: 'decider' });
  const [ines] = others as [Page];
  await selectWords(tobias, 'lime kiln');
  await tobias.keyboard.press('F4');
  await comment(tobias).pressSequentially('Ask the owner first.');
  await tobias.getByRole('button', { name: 'to myself' }).click();
  await tobias.getByRole('button', { name: 'Comment', exact: true }).last().click();
  await expect(thread(tobias, 'Ask the owner first.')).toContainText('to myself');
  await expect(sheet(tobias).locator('.anchor.to-self')).toHaveText('lime kiln');
  await selectWords(tobias, 'the war');
  await tobias.keyboard.press('F4');
  await say(tobias, 'For all.');
  await expect(thread(ines, 'For all.')).toBeVisible();
  await ines.reload();
  await expect(thread(ines, 'For all.')).toBeVisible();
  await expect(ines.getByText('Ask the owner first.')).toHaveCount(0);
  await expect(sheet(ines).locator('[data-thread]')).toHaveText(['the war']);
});

test('what is written and not sent is there after a reload, at its words', async ({ browser }) => {
  const { tobias } = await together(browser, 'Drafts', [text], { Ines: 'decider' });
  await selectWords(tobias, 'since the war');
  await tobias.keyboard.press('F4');
  await comment(tobias).pressSequentially('Which of the ');
  await tobias.reload();
  await expect(comment(tobias)).toHaveText('Which of the');
  await expect(margin(tobias).getByText('“since the war”')).toBeVisible();
  await comment(tobias).press('End');
  await say(tobias, ' two?');
  await expect(sheet(tobias).locator('.anchor.talked')).toHaveText('since the war');
  await tobias.reload();
  await expect(thread(tobias, 'Which of the two?')).toBeVisible();
  await expect(comment(tobias)).toHaveCount(0);
});

test('one’s own comment is edited and deleted, and the deletion taken back; resolving is gentle and can be taken back', async ({
  browser,
}) => {
  const { tobias, others } = await together(browser, 'Own words', [text], { Ines: 'decider' });
  const [ines] = others as [Page];
  await selectWords(tobias, 'lime kiln');
  await tobias.keyboard.press('F4');
  await say(tobias, 'Wrong.');
  const mine = thread(tobias, 'Wrong.');
  await mine.getByRole('button', { name: 'Edit' }).click();
  const field = tobias.getByRole('textbox', { name: 'What it says instead' });
  await field.fill('Is it this one?');
  await tobias.getByRole('button', { name: 'Keep' }).click();
  await thread(ines, 'Is it this one?').click();
  await expect(thread(ines, 'Is it this one?').getByText('edited')).toBeVisible();
  await expect(thread(ines, 'Is it this one?').getByRole('button', { name: 'Delete' })).toHaveCount(0);
  await thread(ines, 'Is it this one?').getByRole('textbox', { name: 'Reply' }).pressSequentially('It is.');
  await ines.keyboard.press('Control+Enter');
  await thread(tobias, 'It is.').getByRole('button', { name: 'Delete' }).click();
  await expect(thread(ines, 'It is.')).toContainText('Tobias Oyelaran deleted what stood here.');
  await tobias.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(thread(ines, 'It is.')).toContainText('Is it this one?');
  await thread(tobias, 'It is.').getByRole('button', { name: 'Resolve' }).click();
  await expect(tobias.getByText('Resolved. Its words read as they did when it was begun.')).toBeVisible();
  await expect(thread(ines, 'It is.').getByText('Resolved by Tobias Oyelaran')).toBeVisible(); // still in focus there
  await tobias.getByRole('button', { name: 'Take back', exact: true }).last().click();
  await expect(thread(tobias, 'Is it this one?')).toBeVisible();
});

test('a highlight is no change and is cleared; the whole manuscript can be spoken of; all is taken away as annotations', async ({
  browser,
}) => {
  const { tobias } = await together(browser, 'Highlights', [text], { Ines: 'decider' });
  await selectWords(tobias, 'lime kiln');
  await tobias.getByRole('button', { name: 'Other remarks' }).click();
  await tobias.getByRole('menuitem', { name: 'Highlight in sky' }).click();
  await expect(sheet(tobias).locator('.tint-sky')).toHaveText('lime kiln');
  await expect(tobias.getByTestId('pending')).toHaveText('0');
  await tobias.getByRole('button', { name: 'Other remarks' }).click();
  await tobias.getByRole('menuitem', { name: 'Comment on the whole manuscript' }).click();
  await say(tobias, 'A good page.');
  await expect(thread(tobias, 'On the whole manuscript')).toBeVisible();
  await tobias.getByRole('button', { name: 'Take away' }).click();
  const [download] = await Promise.all([
    tobias.waitForEvent('download'),
    tobias.getByRole('menuitem', { name: 'Threads, JSON-LD' }).click(),
  ]);
  const collection = JSON.parse((await bytesOf(download)).toString()) as {
    total: number;
    first: { items: { motivation: string }[] };
  };
  expect(collection.first.items.map(({ motivation }) => motivation).sort()).toEqual(['commenting', 'highlighting']);
  await thread(tobias, 'highlighted').click();
  await tobias.getByRole('button', { name: 'Clear' }).click();
  await expect(sheet(tobias).locator('.tint-sky')).toHaveCount(0);
});

test('mail goes to a new address once the link in the letter to it is opened, by whoever asked', async ({
  browser,
}) => {
  const harbour = await comeIn(browser, 'Harbour');
  const profile = async () => {
    await harbour.getByRole('button', { name: /Harbour Office/ }).click();
    await harbour.getByRole('menuitem', { name: 'Name and portrait' }).click();
  };
  await profile();
  await harbour.getByLabel('Mail goes to').fill('watch@harbour.example');
  await harbour.getByRole('button', { name: 'Keep' }).click();
  await expect(harbour.getByText('A letter has gone to watch@harbour.example.')).toBeVisible();
  await profile();
  await expect(harbour.getByRole('dialog')).toContainText('Until it is, mail goes to harbour@harrow-press.example.');
  await harbour.keyboard.press('Escape');

  await harbour.goto('/post');
  await harbour.getByRole('button', { name: 'Outbox' }).click();
  await harbour.getByRole('button', { name: /Is this your address/ }).click();
  const link = harbour.frameLocator('iframe').getByRole('link', { name: 'This is my address' });
  const { pathname } = new URL((await link.getAttribute('href'))!);
  // Somebody else who comes by the link confirms nothing.
  const ines = await comeIn(browser, 'Ines', pathname);
  await expect(ines.getByRole('heading', { name: 'This address is not confirmed' })).toBeVisible();
  await harbour.goto(pathname);
  await expect(harbour.getByRole('heading', { name: 'This is your address' })).toBeVisible();
  await harbour.getByRole('link', { name: 'To the desk' }).click();
  await profile();
  await expect(harbour.getByLabel('Mail goes to')).toHaveValue('watch@harbour.example');
  await expect(harbour.getByText('has not been opened yet')).toBeHidden();
});
