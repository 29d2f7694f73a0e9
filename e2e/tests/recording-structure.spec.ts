import { expect, type Page } from '@playwright/test';
import { beforeReading, fairReading, listChanges } from '@tea-pencil/core';
import { selectWords, sheet, signedIn } from '../support/people';
import { caret, choose, held, press, startWith, putInTable } from '../support/texts';
import { picture } from '../support/picture';
import { test } from '../support/test';

/** Every edit of paragraphs, tables, pictures and what else stands in the text, by real keys and menus. */

const lines = ['First line.', 'Second line.', 'Third line.'];
const all = lines.join('\n');
const style = async (page: Page, name: string) => {
  await page.getByRole('combobox', { name: 'Paragraph style' }).click();
  await page.getByRole('option', { name, exact: true }).click();
};
const selectAll = (page: Page) => press(page, 'Control+a');

interface Row {
  what: string;
  act(page: Page): Promise<void>;
  fair: string;
  changes: string[];
}

const rows: Row[] = [
  {
    what: 'Enter splits a paragraph',
    act: async (page) => {
      await caret(page, 'before', ' line.');
      await press(page, 'Enter');
    },
    fair: 'First\nline.\nSecond line.\nThird line.',
    changes: ['split a paragraph'],
  },
  {
    what: 'Backspace at its start joins it to the one above',
    act: async (page) => {
      await caret(page, 'before', 'Second');
      await press(page, 'Backspace');
    },
    fair: 'First line.Second line.\nThird line.',
    changes: ['joined two paragraphs'],
  },
  {
    what: 'Delete at its end joins the one below',
    act: async (page) => {
      await caret(page, 'behind', 'First line.');
      await press(page, 'Delete');
    },
    fair: 'First line.Second line.\nThird line.',
    changes: ['joined two paragraphs'],
  },
  {
    what: 'deleting over several paragraphs is one change',
    act: async (page) => {
      await caret(page, 'before', ' line.');
      await press(page, 'Shift+Control+End');
      await press(page, 'Delete');
    },
    fair: 'First',
    changes: ['deleted five words'],
  },
  {
    what: 'one command over all paragraphs is one change',
    act: async (page) => {
      await selectAll(page);
      await style(page, 'Heading 2');
    },
    fair: all,
    changes: ['heading 2, was body text'],
  },
  {
    what: 'a heading, a quotation',
    act: async (page) => {
      await caret(page, 'before', 'First');
      await style(page, 'Heading 1');
      await caret(page, 'before', 'Second');
      await style(page, 'Quotation');
    },
    fair: all,
    changes: ['heading 1, was body text', 'quotation, was body text'],
  },
  {
    what: 'a list, a level in and out, and no list any more',
    act: async (page) => {
      await selectAll(page);
      await choose(page, 'List', 'Numbered');
      await caret(page, 'before', 'Second');
      await press(page, 'Tab');
      await caret(page, 'before', 'Third');
      await choose(page, 'List', 'A level out');
    },
    fair: all,
    changes: ['numbered list, was no list'],
  },
  {
    what: 'alignment and indentation',
    act: async (page) => {
      await caret(page, 'before', 'First');
      await choose(page, 'Align', 'Centred');
      await caret(page, 'before', 'Second');
      await choose(page, 'Align', 'Justified');
      await caret(page, 'before', 'Third');
      await choose(page, 'Align', 'Indent');
    },
    fair: all,
    changes: ['centred', 'justified', 'indented'],
  },
  {
    what: 'a list item split, an empty one ends the list',
    act: async (page) => {
      await caret(page, 'before', 'Third');
      await choose(page, 'List', 'Bulleted');
      await press(page, 'End');
      await press(page, 'Enter');
      await page.keyboard.type('More.');
      await press(page, 'Enter', 2);
      await page.keyboard.type('After.');
    },
    fair: 'First line.\nSecond line.\nThird line.\nMore.\nAfter.',
    changes: ['bulleted list, was no list', 'inserted two words'],
  },
  {
    what: 'a line break',
    act: async (page) => {
      await caret(page, 'before', ' line.');
      await press(page, 'Shift+Enter');
    },
    fair: 'First\u2028 line.\nSecond line.\nThird line.',
    changes: ['inserted a line break'],
  },
  {
    what: 'a line across',
    act: async (page) => {
      await caret(page, 'before', 'Second');
      await choose(page, 'Insert', 'Line across');
    },
    fair: 'First line.\n\n\nSecond line.\nThird line.',
    changes: ['split a paragraph'],
  },
];

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
});
test.afterAll(() => page.context().close());

for (const { what, act, fair, changes } of rows) {
  test(`in pencil: ${what}`, async () => {
    await startWith(page, what, ...lines);
    await act(page);
    await expect.poll(() => held(page)).toMatchObject({ before: all, fair, words: changes });
  });
}

test('words of a footnote are copied within it', async () => {
  await startWith(page, 'In a footnote', 'The tide comes in.');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await caret(page, 'before', ' comes');
  await choose(page, 'Insert', 'Footnote');
  await page.keyboard.type('low water');
  await selectWords(page, 'low ');
  await press(page, 'Control+c');
  await caret(page, 'behind', 'water');
  await press(page, 'Control+v');
  await expect(sheet(page).locator('.footnote-text')).toHaveText('low waterlow ');
  expect((await held(page)).doc.textContent).toBe('The tidelow waterlow  comes in.');
});

test('a footnote is inserted with its text, edited in pencil by another hand, and deleted', async () => {
  await startWith(page, 'Footnotes', 'The tide comes in.');
  await caret(page, 'before', ' comes');
  await press(page, 'F2');
  await choose(page, 'Insert', 'Footnote');
  await page.keyboard.type('See the tables.');
  await press(page, 'Escape');
  await page.keyboard.type(' always');
  await press(page, 'F2');
  const { doc } = await held(page);
  expect(doc.toString()).toBe(
    'doc(paragraph("The tide", footnote(paragraph("See the tables.")), " always comes in."))',
  );
  await page.getByRole('button', { name: 'Footnote' }).click();
  await press(page, 'Control+End');
  await caret(page, 'behind', 'tide');
  await press(page, 'ArrowRight');
  await page.keyboard.type('Do ');
  let now = await held(page);
  expect(now.words).toEqual(['inserted one word']);
  expect(fairReading(now.doc).toString()).toContain('footnote(paragraph("Do See the tables."))');
  expect(beforeReading(now.doc).toString()).toBe(doc.toString());
  await press(page, 'Escape');
  await press(page, 'Backspace');
  now = await held(page);
  expect(fairReading(now.doc).toString()).toBe('doc(paragraph("The tide always comes in."))');
  expect(beforeReading(now.doc).toString()).toBe(doc.toString());
});

test('a table, its rows and columns, its header row and the words in it', async () => {
  await startWith(page, 'Tables', 'Low waters');
  await caret(page, 'behind', 'Low waters');
  await putInTable(page, 3, 3);
  for (const word of ['Day', 'Time', 'Height']) {
    await page.keyboard.type(word);
    await press(page, 'Tab');
  }
  let now = await held(page);
  expect(now.words).toEqual(['inserted a table of 3 by 3']);
  expect(beforeReading(now.doc).childCount).toBe(1);
  await page.getByRole('button', { name: 'Decide together' }).click();
  await page
    .getByRole('group', { name: 'All tables' })
    .getByRole('button', { name: /Accept/ })
    .click();
  await expect(page.getByTestId('pending')).toHaveText('0');

  await page.locator('td', { hasText: 'Day' }).click();
  await choose(page, 'Table', 'Header row');
  await choose(page, 'Table', 'Row below');
  await choose(page, 'Table', 'Column behind');
  await caret(page, 'behind', 'Time');
  await page.keyboard.type(' of day');
  now = await held(page);
  expect(now.kinds.sort()).toEqual(['insertion', 'table', 'table', 'table']);
  expect(new Set(now.words)).toEqual(
    new Set(['header cell', 'inserted a row below “Day”', 'inserted a column behind “Day”', 'inserted two words']),
  );
  const sizes = (table: typeof now.doc) => [table.childCount, table.child(0).childCount];
  expect(sizes(beforeReading(now.doc).child(1))).toEqual([3, 3]);
  expect(sizes(fairReading(now.doc).child(1))).toEqual([4, 4]);
  await page.getByRole('columnheader', { name: 'Day', exact: true }).click();
  await choose(page, 'Table', 'Delete the table');
  now = await held(page);
  expect(fairReading(now.doc).children.map(({ type }) => type.name)).not.toContain('table');
  expect(sizes(beforeReading(now.doc).child(1))).toEqual([3, 3]);
});

test('a picture is inserted, described, resized, replaced and removed', async () => {
  await startWith(page, 'Pictures', 'Here: .');
  await caret(page, 'before', '.');
  const file = (name: string, width: number) => ({
    name,
    mimeType: 'image/png',
    buffer: picture(width, 80, [90, 120, 60]),
  });
  await page.getByLabel('Picture file', { exact: true }).setInputFiles(file('brown-crab.png', 120));
  await expect(sheet(page).locator('.picture img')).toHaveAttribute('alt', 'brown crab');
  await expect.poll(async () => (await held(page)).words).toEqual(['inserted a picture']);
  const loaded = () =>
    sheet(page)
      .locator('.picture img')
      .evaluate((img: HTMLImageElement) => img.naturalWidth);
  await expect.poll(loaded).toBe(120);
  await page.getByRole('button', { name: 'Decide together' }).click();
  await page
    .getByRole('group', { name: 'All insertions' })
    .getByRole('button', { name: /Accept/ })
    .click();
  await expect(page.getByTestId('pending')).toHaveText('0');

  const card = page.getByRole('dialog', { name: 'Picture' });
  await sheet(page).locator('.picture img').click();
  await card.getByLabel('What it shows').fill('A brown crab on wet sand');
  await card.getByRole('button', { name: 'Keep' }).click();
  let now = await held(page);
  expect(now.words).toEqual(['described as “A brown crab on wet sand”']);
  await card.getByLabel('Width').fill('60');
  await card.getByRole('button', { name: 'Keep' }).click();
  now = await held(page);
  const attrs = (doc: typeof now.doc) => doc.child(0).child(1).attrs;
  expect(attrs(fairReading(now.doc))).toMatchObject({ width: 60, height: 40, alt: 'A brown crab on wet sand' });
  expect(attrs(beforeReading(now.doc))).toMatchObject({ width: 120, height: 80, alt: 'brown crab' });
  await page.getByLabel('Another picture file').setInputFiles(file('other.png', 200));
  await expect.poll(loaded).toBe(200);
  now = await held(page);
  expect(attrs(fairReading(now.doc)).asset).not.toBe(attrs(beforeReading(now.doc)).asset);
  await sheet(page).locator('.picture img').click();
  await card.getByRole('button', { name: 'Remove' }).click();
  now = await held(page);
  expect(now.fair).toBe('Here: .');
  expect(attrs(beforeReading(now.doc))).toMatchObject({ width: 120, alt: 'brown crab' });
});

test('drawing at its corner resizes a picture; a file that is none is refused in words', async () => {
  await startWith(page, 'Corner', 'Here: .');
  await caret(page, 'before', '.');
  const send = (name: string, buffer: Buffer) =>
    page.getByLabel('Picture file', { exact: true }).setInputFiles({ name, mimeType: 'image/png', buffer });
  await press(page, 'F2');
  await send('flats.png', picture(200, 100, [60, 90, 120]));
  await expect(sheet(page).locator('.picture img')).toBeVisible();
  await press(page, 'F2');
  // Only a picture that is selected shows where it can be drawn larger.
  await caret(page, 'before', 'Here');
  await expect(sheet(page).locator('.picture-corner')).toBeHidden();
  await sheet(page).locator('.picture img').click();
  const corner = (await sheet(page).locator('.picture-corner').boundingBox())!;
  await page.mouse.move(corner.x + 5, corner.y + 5);
  await page.mouse.down();
  await page.mouse.move(corner.x + 55, corner.y + 10, { steps: 4 });
  await page.mouse.up();
  const { words, doc } = await held(page);
  expect(words).toEqual(['resized']);
  expect(fairReading(doc).child(0).child(1).attrs).toMatchObject({ width: 250, height: 125 });
  expect(beforeReading(doc).child(0).child(1).attrs).toMatchObject({ width: 200, height: 100 });
  await send('script.png', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'));
  await expect(page.getByText('“script.png” is not a picture that can be shown here')).toBeVisible();
});

test('all of a person, of a kind, of a paragraph or of what is selected is decided in one act and taken back', async () => {
  await startWith(page, 'Together', ...lines);
  for (const word of ['First', 'Second', 'Third']) {
    await selectWords(page, word);
    await page.keyboard.type(`${word} and last`);
    await selectWords(page, 'line.');
  }
  await selectWords(page, 'Second');
  await press(page, 'Control+b');
  const pending = page.getByTestId('pending');
  const group = async (name: RegExp | string, button: RegExp) => {
    await page.getByRole('button', { name: 'Decide together' }).click();
    await page.getByRole('group', { name, exact: true }).getByRole('button', { name: button }).click();
  };
  const back = async (n: string) => {
    const takeBack = page.getByRole('button', { name: 'Take back', exact: true });
    await takeBack.click();
    await expect(pending).toHaveText(n);
    await expect(takeBack).toHaveCount(0);
  };
  const n = '4';
  await expect(pending).toHaveText(n);
  expect(listChanges((await held(page)).doc).length).toBe(Number(n));
  await group('By Tobias Oyelaran', /Reject/);
  await expect(pending).toHaveText('0');
  await expect.poll(async () => (await held(page)).fair).toBe(all);
  await back(n);
  await group('All formatting', /Accept/);
  await expect(pending).toHaveText(String(Number(n) - 1));
  await back(n);
  await caret(page, 'before', 'line.');
  await group('In this paragraph', /Reject/);
  await expect(sheet(page).locator('.paragraph').first()).toHaveText('First line.');
  await page.reload();
  await expect(sheet(page).locator('.paragraph').first()).toHaveText('First line.');
});
