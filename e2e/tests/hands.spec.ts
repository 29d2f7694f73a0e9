import { expect, type Page } from '@playwright/test';
import { beforeReading, fairReading, isWhole } from '@tea-pencil/core';
import { kept, selectWords, share, sheet, signedIn } from '../support/people';
import { caret, choose, held, heldText, press, putInTable, startWith } from '../support/texts';
import { test } from '../support/test';

/** What is right under the hands: undoing in order, a new manuscript, what is typed and pasted, and tables. */

const pending = (page: Page) => page.getByTestId('pending');

test('what one decided is undone in one order with what one wrote, after a reload too; the foot offers it as long', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'In order', 'The tide comes in over the flats.');
  await selectWords(page, 'comes');
  await page.keyboard.type('runs');
  await selectWords(page, 'flats');
  await page.keyboard.type('sands');
  await expect(pending(page)).toHaveText('2');
  await sheet(page).getByText('runs').click();
  await page.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(pending(page)).toHaveText('1');
  await caret(page, 'before', 'The');
  await page.keyboard.insertText('Low: '); // as one, however slow the machine is
  await expect(pending(page)).toHaveText('2');

  // Backwards: the words, then the decision; forwards: the decision, then the words.
  await press(page, 'Control+z');
  await expect(pending(page)).toHaveText('1');
  await press(page, 'Control+z');
  await expect(pending(page)).toHaveText('2');
  await expect(sheet(page).locator('del.deletion').first()).toHaveText('comes');
  await press(page, 'Control+Shift+z');
  await expect(pending(page)).toHaveText('1');
  await expect(page.getByText('Decided once more: accepted 1 change.')).toBeVisible();
  await press(page, 'Control+y');
  await expect(sheet(page)).toContainText('Low: The tide runs');
  await press(page, 'Control+z');
  await expect(pending(page)).toHaveText('1');

  // Who comes back finds the offer at the foot; the key takes the decision back, until something else was done since.
  await expect(kept(page)).toBeVisible();
  await page.reload();
  const offer = page.getByRole('button', { name: 'Last: accepted 1 of Tobias Oyelaran · take back' });
  await expect(offer).toBeVisible();
  await press(page, 'Control+z');
  await expect(page.getByText('There is nothing more to undo')).toBeVisible(); // words were written after it
  await offer.click();
  await expect(pending(page)).toHaveText('2');
  await expect(offer).toHaveCount(0);
  await sheet(page).getByText('sands').click();
  await page.getByRole('button', { name: 'Reject', exact: true }).click();
  await expect(pending(page)).toHaveText('1');
  await page.reload();
  await expect(page.getByRole('button', { name: /Last: rejected 1/ })).toBeVisible();
  await press(page, 'Control+z');
  await expect(pending(page)).toHaveText('2');
});

test('a new manuscript begins in ink and says so; when it is shared, the pencil is offered', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const { id } = (await (await page.request.post('/api/manuscripts', { data: { title: 'Begun' } })).json()) as {
    id: string;
  };
  await page.goto(`/m/${id}`);
  await expect(page.getByText('This manuscript is new and yours alone: you write in ink')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Ink', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await sheet(page).click();
  await page.keyboard.type('Nobody saw this.');
  await expect(kept(page)).toBeVisible();
  await expect(pending(page)).toHaveText('0');
  await share(page, id, { Maren: 'proposer' });
  await expect(page.getByText('Others see this manuscript now.')).toBeVisible();
  await page.getByRole('button', { name: 'Write in pencil' }).click();
  await expect(page.getByText('Others see this manuscript now.')).toHaveCount(0);
  await sheet(page).click();
  await press(page, 'Control+End');
  await page.keyboard.type(' But this.');
  await expect(pending(page)).toHaveText('1');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Pencil', exact: true })).toHaveAttribute('aria-pressed', 'true');
});

test('typed quotation marks are those of the language, as a step of their own; directions follow the words or are set', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await startWith(page, 'Signs of speech', 'He said: .');
  await caret(page, 'before', '.');
  await page.keyboard.type('"It\'s low"');
  await expect(sheet(page)).toContainText('He said: “It’s low”.');
  await press(page, 'Control+z');
  await expect(sheet(page)).toContainText('He said: “It’s low".');
  await expect.poll(async () => (await held(page)).words).toHaveLength(1);
  await page.request.patch(`/api/manuscripts/${id}`, { data: { language: 'de' } });
  await expect(sheet(page)).toHaveAttribute('lang', 'de');
  await press(page, 'Control+End');
  await page.keyboard.type(' "Ebbe"');
  await expect(sheet(page)).toContainText('„Ebbe“');
  await page.getByRole('button', { name: /name, theme and signing out/ }).click();
  await page.getByText('Leave quotation marks straight').click();
  await expect(sheet(page)).toBeFocused();
  await press(page, 'Control+End');
  await page.keyboard.type(' "x"');
  await expect(sheet(page)).toContainText(' "x"');

  // UAX #9, rules P2 and P3: the first strong letter says which way a paragraph runs.
  await press(page, 'Enter');
  await page.keyboard.type('שפל. ');
  const line = sheet(page).locator('.paragraph').last();
  await expect(line).toHaveCSS('direction', 'rtl');
  await choose(page, 'Align', 'Runs left to right');
  await expect(line).toHaveCSS('direction', 'ltr');
  await expect.poll(async () => (await held(page)).fair).toContain('שפל');
});

test('a split at a space takes the space along; what is pasted keeps its heading, and what did not come along is said', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Split', 'The tide comes in. Walk back.');
  await caret(page, 'before', 'Walk');
  await press(page, 'Enter');
  let now = await held(page);
  expect([now.fair, now.before]).toEqual(['The tide comes in.\nWalk back.', 'The tide comes in. Walk back.']);
  expect(now.words).toEqual(['split a paragraph']);

  const errors: string[] = [];
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));
  const paste = (type: string, data: string) =>
    page.evaluate(
      ([kind, what]) => {
        const transfer = new DataTransfer();
        transfer.setData(kind!, what!);
        const target = document.querySelector('.ProseMirror')!;
        target.dispatchEvent(new ClipboardEvent('paste', { clipboardData: transfer, bubbles: true, cancelable: true }));
      },
      [type, data],
    );
  await press(page, 'Control+End');
  await press(page, 'Enter');
  await paste(
    'text/html',
    '<h2 style="color: red">Shells</h2><p>A <span style="font-weight: 700">whelk</span>.<img src="https://elsewhere.example/x.png"></p><hr><p>End.</p>',
  );
  await expect(page.getByText('1 picture of what was pasted stands elsewhere and did not come along.')).toBeVisible();
  const styles = (await heldText(page)).children.map(({ attrs }) => attrs.style as string);
  expect(styles.slice(2)).toEqual(['heading1', 'body', 'rule', 'body']);
  await expect(sheet(page).locator('strong')).toHaveText('whelk');
  expect(errors).toEqual([]);

  await press(page, 'Control+End');
  await press(page, 'Enter');
  await paste('text/plain', 'One line\nand its end.\n\nAnother.');
  await expect(page.getByText('Each line became a paragraph.')).toBeVisible();
  await expect.poll(async () => (await held(page)).fair).toMatch(/One line\nand its end\.\nAnother\.$/);
  await page.getByRole('button', { name: 'Only at blank lines' }).click();
  now = await held(page);
  expect(now.fair).toMatch(/End\.\nOne line and its end\.\nAnother\.$/);
});

test('rows and columns that are pending are decided as such, said in words and drawn small; the grid stays whole', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'A grid', 'Low waters');
  await page.getByRole('button', { name: 'Ink', exact: true }).click();
  await caret(page, 'behind', 'Low waters');
  await putInTable(page, 2, 3);
  for (const word of ['Day', 'High', 'Low', 'Mon', '4.1', '0.6']) {
    await page.keyboard.type(word);
    if (word !== '0.6') await press(page, 'Tab');
  }
  await page.getByRole('button', { name: 'Pencil', exact: true }).click();
  const cell = (words: string) => sheet(page).locator('td', { hasText: words });
  await cell('Mon').click();
  await choose(page, 'Table', 'Row below');
  await cell('High').click();
  await choose(page, 'Table', 'Column before');
  await choose(page, 'Table', 'Delete this column');
  const { words, doc } = await held(page);
  expect(words.sort()).toEqual([
    'deleted the column “High”',
    'inserted a column behind “Day”',
    'inserted a row below “Mon”',
  ]);
  const whole = (text: typeof doc) => text.children.filter(({ type }) => type.name === 'table').every(isWhole);
  expect([doc, fairReading(doc), beforeReading(doc)].map(whole)).toEqual([true, true, true]);

  await cell('High').click();
  const slip = page.getByRole('dialog', { name: /^Change by/ });
  await expect(slip).toContainText('deleted the column “High”');
  await expect(slip.getByRole('img', { name: 'the table with the column' })).toBeVisible();
  await expect(slip.getByRole('img', { name: 'the table without the column' })).toBeVisible();
  await slip.getByRole('button', { name: 'Reject' }).click();
  await expect(pending(page)).toHaveText('2');
  const then = await heldText(page);
  expect([then, fairReading(then), beforeReading(then)].map(whole)).toEqual([true, true, true]);
});

test('columns of the ledger are hidden and widened, and stay so; how one looks is in the address; looks are told', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await startWith(page, 'Columns', 'The tide comes in.');
  await selectWords(page, 'tide');
  await press(page, 'Control+i');
  await expect(kept(page)).toBeVisible();
  await page.getByRole('button', { name: 'Fair', exact: true }).click();
  await expect(page).toHaveURL(/\?reading=fair$/);
  await page.goto(`/m/${id}/ledger`);
  const row = page.locator('[data-row]');
  await expect(row.locator('[data-column=after]')).toHaveText('now italic');
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Kind' }).click();
  await expect(page.getByRole('checkbox', { name: 'Kind' })).not.toBeChecked();
  await press(page, 'Escape');
  const border = page.getByRole('separator', { name: 'Width of Place' });
  await border.focus();
  const before = (await page.getByRole('columnheader', { name: /Place/ }).boundingBox())!.width;
  await press(page, 'ArrowRight', 5);
  await page.getByRole('group', { name: 'Together by' }).getByRole('button', { name: 'author' }).click();
  await expect(page).toHaveURL(/together=author/);
  await page.waitForTimeout(700); // how one looks is kept a moment later
  await page.reload();
  await expect(page.locator('.ledger-group')).toHaveText('Tobias Oyelaran, 1');
  await expect(page.getByRole('columnheader', { name: 'Kind' })).toHaveCount(0);
  const after = (await page.getByRole('columnheader', { name: /Place/ }).boundingBox())!.width;
  expect(Math.round(after - before)).toBe(50);
});

test('on paper each page is what it shows; how many words there are is said for text, section and selection', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Ines');
  await page.goto('/');
  await page.getByText('3 · The Wrack Line').click();
  await expect(kept(page)).toBeVisible();
  await selectWords(page, 'the top of the beach');
  const count = page.getByRole('button', { name: /^5 of [\d,]+ words$/ });
  await count.click();
  await expect(page.getByRole('dialog', { name: 'Words' })).toContainText('What is selected');
  await press(page, 'Escape');
  await page.emulateMedia({ media: 'print' });
  for (const tools of ['.bar', '.foot', '.spine', '[role=toolbar]'])
    await expect(page.locator(tools).first()).toBeHidden();
  await expect(sheet(page).locator('.paragraph').first()).toBeVisible();
  const size = await page.pdf().catch(() => null);
  if (size) expect(size.length).toBeGreaterThan(10_000);
});

test('what the read-through has done is counted without what was undone by key', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Counted', 'The tide comes in over the flats.');
  for (const [word, by] of [
    ['tide', 'water'],
    ['flats', 'sands'],
  ] as const) {
    await selectWords(page, word);
    await page.keyboard.insertText(by);
  }
  await expect(pending(page)).toHaveText('2');
  await press(page, 'Control+Home');
  await press(page, 'F8');
  const far = page.getByRole('status', { name: 'How far' });
  await expect(far).toHaveText('1 of 2 to decide');
  await press(page, 'y');
  await expect(far).toHaveText('2 of 2 to decide');
  await press(page, 'Escape'); // to the text; the bar stays
  await press(page, 'Control+z');
  await expect(page.getByText('Taken back: accepted 1 change.')).toBeVisible();
  await expect(far).toHaveText('2 of 2 to decide');
  await expect(page.getByText('2 left')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Take back/ })).toBeDisabled();
});
