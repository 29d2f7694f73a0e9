import { expect, type Page } from '@playwright/test';
import { commands, styleLabels, type Entry } from '../../web/src/commands/table';
import { picture } from '../support/picture';
import { inviteThem, selectWords, sheet, signedIn, toPage } from '../support/people';
import { startWith } from '../support/texts';
import { test } from '../support/test';

/**
 * The focus is never lost (WCAG 2.2, success criteria 2.4.3 and 3.2.1): after every command of the table, typing goes
 * where the eye is.
 */

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
});
test.afterAll(() => page.close());

const entries = Object.entries(commands);
const lines = (n: number) => Array.from({ length: n }, (_, i) => `Here the tide comes in by word${i} and goes.`);

/** What has the keyboard: the text, some field, or neither. */
const focused = () =>
  page.evaluate(() => {
    const { activeElement: now } = document;
    if (!now || now === document.body) return 'the page';
    if (now.closest('.ProseMirror') && !now.closest('.remark-field')) return 'the text';
    return now.matches('input, textarea, [contenteditable=true]') ? 'a field' : `${now.tagName} ${now.className}`;
  });

/** Types a word, and tells whether it came into the text. */
async function typedIntoText(word: string): Promise<void> {
  await page.keyboard.type(word);
  await expect(sheet(page)).toContainText(word);
}

/** Finds a command above the sheet by its name, as somebody with a mouse does: a button, a style, an entry of a menu. */
async function byMouse({ name }: Entry): Promise<void> {
  const tools = page.getByRole('toolbar', { name: 'Editing' });
  if (styleLabels.some(([, label]) => label === name)) {
    await tools.getByRole('combobox', { name: 'Paragraph style' }).click();
    return page.getByRole('option', { name, exact: true }).click();
  }
  const button = tools.getByRole('button', { name, exact: true });
  if (await button.count()) return button.click();
  for (const menu of ['List', 'Align', 'Insert', 'Table', 'Other remarks']) {
    const opener = tools.getByRole('button', { name: menu, exact: true });
    if (!(await opener.count())) continue;
    await opener.click();
    const item = page.getByRole('menuitem', { name, exact: true });
    if (await item.count()) return item.click();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('menu')).toHaveCount(0);
    await expect.poll(focused, menu).toBe('the text');
  }
  throw new Error(`“${name}” is nowhere above the sheet`);
}

const ofTables = /row|column|delete table|merge|split/;
/** What opens something of its own first. */
const opening = ['picture', 'link', 'table', 'words'];
const onSheet = entries.filter(([id, { where }]) => where === 'sheet' && !ofTables.test(id));
const inTables = entries.filter(([id, { where }]) => where === 'sheet' && ofTables.test(id));

test('after every command above the sheet, chosen by mouse, typing goes on in the text', async () => {
  test.setTimeout(180_000);
  await startWith(page, 'Every command', ...lines(onSheet.length));
  let tried = 0;
  for (const [i, [id, entry]] of onSheet.entries()) {
    if (opening.includes(id) || id === 'redo') continue; // each below
    await test.step(id, async () => {
      await selectWords(page, `word${i}`);
      await byMouse(entry);
      // A footnote takes the keyboard itself; what is typed is its text.
      await expect.poll(focused, id).toBe('the text');
      await typedIntoText(`qz${i}`);
      if (id === 'footnote') await page.keyboard.press('Escape');
      tried++;
    });
  }
  expect(tried).toBe(onSheet.length - opening.length - 1);
  await page.keyboard.press('Control+z');
  await byMouse(commands.redo!);
  await expect.poll(focused).toBe('the text');
});

test('who goes on while a menu is closing keeps the keyboard where they went', async () => {
  await startWith(page, 'Going on', 'Tides come.', 'Tides go.');
  await page.getByRole('combobox', { name: 'Paragraph style' }).click();
  await page.getByRole('option', { name: 'Heading 1' }).click();
  await page.keyboard.press('F3');
  await page.keyboard.type('tides', { delay: 80 });
  await expect(page.getByLabel('Find', { exact: true })).toHaveValue('tides');
  await expect(page.getByText('2 places found')).toBeVisible();
  await page.keyboard.press('Escape');
});

test('after every command of a table, typing goes on in the text', async () => {
  await startWith(page, 'A table');
  await page.getByRole('button', { name: 'Insert', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Table…' }).click();
  await expect(page.getByRole('button', { name: 'Put in' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect.poll(focused).toBe('the text');
  for (const [i, [id, entry]] of inTables.entries())
    await test.step(id, async () => {
      await typedIntoText(`cell${i}`);
      await byMouse(entry);
      await expect.poll(focused, id).toBe('the text');
    });
  expect(inTables.length).toBeGreaterThan(7);
});

test('a link, a colour, a picture: the keyboard is in what they open, then in the text', async () => {
  await startWith(page, 'What opens', ...lines(3));
  await selectWords(page, 'word0');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.keyboard.type('tide.example');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await expect.poll(focused).toBe('the text');
  await expect(sheet(page).getByRole('link', { name: 'word0' })).toBeVisible();

  for (const way of ['plum', 'Escape']) {
    await selectWords(page, 'word1');
    await page.getByRole('button', { name: 'Colour and size' }).click();
    if (way === 'Escape') await page.keyboard.press('Escape');
    else {
      // It stays open for a second choice.
      await page.getByRole('button', { name: 'Colour: plum' }).click();
      await page.getByRole('button', { name: 'Size: large', exact: true }).click();
      await page.keyboard.press('Escape');
    }
    await expect.poll(focused, way).toBe('the text');
  }
  await selectWords(page, 'word2');
  await page.keyboard.press('ArrowRight');
  const chooser = page.waitForEvent('filechooser');
  await byMouse(commands.picture!);
  const buffer = picture(40, 30, [120, 60, 20]);
  await (await chooser).setFiles({ name: 'groyne.png', mimeType: 'image/png', buffer });
  await expect(sheet(page).locator('img')).toHaveCount(1);
  await expect.poll(focused).toBe('the text');
});

test('after every command that holds anywhere the keyboard is in the text, or in what it opens until that closes', async () => {
  await startWith(page, 'Anywhere', ...lines(4));
  const opens: Record<string, { has: RegExp; leave: string }> = {
    find: { has: /^a field$/, leave: 'Escape' },
    comment: { has: /^a field$/, leave: 'Escape' },
    'read through': { has: /through/, leave: 'Escape' },
    'last look': { has: /look-panel/, leave: 'Escape' },
  };
  await selectWords(page, 'word0');
  await typedIntoText('a change');
  for (const [id, { key, where }] of entries) {
    if (where !== 'anywhere' || !key || id === 'keys' || id === 'margin') continue;
    await test.step(id, async () => {
      await page.keyboard.press(key.replace('Shift-', 'Shift+'));
      if (opens[id]) {
        await expect.poll(focused, id).toMatch(opens[id].has);
        await page.keyboard.press(opens[id].leave);
      }
      await expect.poll(focused, id).toBe('the text');
    });
  }
});

test('posting or leaving a comment gives the keyboard to the text; on the whole, the comment goes into its field', async () => {
  await startWith(page, 'Comments', ...lines(3));
  await selectWords(page, 'word1');
  await page.getByRole('button', { name: 'Other remarks' }).click();
  await page.getByRole('menuitem', { name: 'Comment on the whole manuscript' }).click();
  const field = page.getByRole('textbox', { name: 'Your comment' });
  await expect(field).toBeFocused(); // once the menu has gone
  await page.keyboard.type('On all of it.');
  await expect(field).toHaveText('On all of it.');
  await expect(sheet(page)).not.toContainText('On all of it.');

  // Notes to oneself: the switch leaves the keyboard in the field.
  await page.getByRole('button', { name: 'to myself' }).click();
  await page.keyboard.type(' Mine.');
  await expect(page.getByRole('textbox', { name: 'Your comment' })).toHaveText('On all of it. Mine.');
  await page.getByRole('button', { name: 'Comment', exact: true }).last().click();
  await expect(page.getByRole('textbox', { name: 'Your comment' })).toHaveCount(0);
  await expect.poll(focused).toBe('the text');

  await selectWords(page, 'word2');
  await page.keyboard.press('F4');
  await page.keyboard.type('Sent by keyboard.');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('textbox', { name: 'Your comment' })).toHaveCount(0);
  await expect.poll(focused).toBe('the text');
  await page.keyboard.press('F4');
  await page.keyboard.press('Escape');
  await expect.poll(focused).toBe('the text');
});

test('after a mention there is one space, whether one types another or not', async () => {
  await startWith(page, 'One space', 'The tide comes in.');
  await toPage(page, 'People');
  await inviteThem(page, 'Maren Holt', 'may remark');
  await toPage(page, 'Text');
  await selectWords(page, 'tide');
  await page.keyboard.press('F4');
  const field = page.getByRole('textbox', { name: 'Your comment' });
  await page.keyboard.type('Ask @Mar');
  await page.keyboard.press('Enter');
  await page.keyboard.type(' about it');
  await expect(field).toHaveText('Ask @Maren Holt about it');
});

test('menus of the bar close with Escape and give the keyboard back to the text', async () => {
  await startWith(page, 'Menus', ...lines(2));
  await selectWords(page, 'word0');
  await typedIntoText('changed');
  for (const name of [/^Lens:/, /^Flow:/, 'Take away', 'Decide together', /: name, theme and signing out$/]) {
    await page.getByRole('button', { name }).click();
    await page.keyboard.press('Escape');
    await expect.poll(focused, String(name)).toBe('the text');
  }
  await sheet(page).locator('ins.insertion').first().click({ button: 'right' });
  await expect(page.getByRole('menu', { name: 'Changes here' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(focused, 'the menu of changes').toBe('the text');
  await typedIntoText(' and goes on');
});
