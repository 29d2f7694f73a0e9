import { expect, type Page } from '@playwright/test';
import { selectWords, sheet, signedIn } from '../support/people';
import { caret, choose, held, look, press, startWith } from '../support/texts';
import { test } from '../support/test';

/** Every edit of words that a person can make, by real keys; both readings are those of what the server then holds. */

interface Row {
  what: string;
  given?: string;
  act(page: Page): Promise<void>;
  fair: string;
  /** What a slip would say of each change. */
  changes: string[];
}

const given = 'The tide comes in quickly over the flats.';

const compose = async (page: Page, texts: string[]) => {
  const input = await page.context().newCDPSession(page);
  for (const text of texts) {
    const end = text.length;
    await input.send('Input.imeSetComposition', { text, selectionStart: end, selectionEnd: end });
  }
  await input.send('Input.insertText', { text: texts[texts.length - 1]! });
};

const rows: Row[] = [
  {
    what: 'typing on is one insertion',
    act: async (page) => {
      await caret(page, 'before', 'comes');
      await page.keyboard.type('soon ');
      await page.keyboard.type('after ');
    },
    fair: 'The tide soon after comes in quickly over the flats.',
    changes: ['inserted two words'],
  },
  {
    what: 'three Backspaces are one deletion, and one step back',
    act: async (page) => {
      await caret(page, 'behind', 'quickly');
      await press(page, 'Backspace', 3);
      await press(page, 'Control+z');
      await press(page, 'Control+y');
    },
    fair: 'The tide comes in quic over the flats.',
    changes: ['deleted one word'],
  },
  {
    what: 'Delete, letter by letter',
    act: async (page) => {
      await caret(page, 'before', 'quickly');
      await press(page, 'Delete', 8);
    },
    fair: 'The tide comes in over the flats.',
    changes: ['deleted one word'],
  },
  {
    what: 'deleting words backwards and forwards',
    act: async (page) => {
      await caret(page, 'behind', 'quickly');
      await press(page, 'Control+Backspace');
      await press(page, 'Control+Delete');
    },
    fair: 'The tide comes in  the flats.',
    changes: ['deleted two words'],
  },
  {
    what: 'deleting to the end of the line',
    act: async (page) => {
      await caret(page, 'behind', 'comes in');
      await press(page, 'Shift+End');
      await press(page, 'Delete');
    },
    fair: 'The tide comes in',
    changes: ['deleted four words'],
  },
  {
    what: 'typing over words is one replacement',
    act: async (page) => {
      await selectWords(page, 'quickly');
      await page.keyboard.type('slowly');
    },
    fair: 'The tide comes in slowly over the flats.',
    changes: ['replaced one word'],
  },
  {
    what: 'own pending words really go',
    act: async (page) => {
      await caret(page, 'before', 'comes');
      await page.keyboard.type('soon ');
      await press(page, 'Backspace', 5);
    },
    fair: given,
    changes: [],
  },
  {
    what: 'a skin tone goes with its emoji, an accent with its letter',
    given: 'Wave 👋🏽 to the naïve café\u0301s.',
    act: async (page) => {
      await caret(page, 'before', ' to the');
      await press(page, 'Backspace');
      await caret(page, 'before', 's.');
      await press(page, 'Backspace');
    },
    fair: 'Wave  to the naïve cafs.',
    changes: ['deleted “👋🏽”', 'deleted one word'],
  },
  {
    what: 'composed input, by the protocol of input methods',
    act: async (page) => {
      await caret(page, 'before', 'comes');
      await compose(page, ['に', 'にほ', '日本']);
      await page.keyboard.type(' ');
    },
    fair: 'The tide 日本 comes in quickly over the flats.',
    changes: ['inserted one word'],
  },
  {
    what: 'a dead key and its letter',
    act: async (page) => {
      await caret(page, 'behind', 'tide');
      await compose(page, ['´', 'é']);
    },
    fair: 'The tideé comes in quickly over the flats.',
    changes: ['inserted one word'],
  },
  {
    what: 'a spelling that the browser corrects',
    given: 'The tyde comes in.',
    act: async (page) => {
      await selectWords(page, 'tyde');
      await page.evaluate(() => document.execCommand('insertText', false, 'tide'));
    },
    fair: 'The tide comes in.',
    changes: ['replaced one word'],
  },
  {
    what: 'pasting plain words',
    act: async (page) => {
      await caret(page, 'before', 'comes');
      await page.evaluate(() => navigator.clipboard.writeText('often '));
      await press(page, 'Control+v');
    },
    fair: 'The tide often comes in quickly over the flats.',
    changes: ['inserted one word'],
  },
  {
    what: 'bold, italic, underline by keys',
    act: async (page) => {
      await selectWords(page, 'tide');
      await press(page, 'Control+b');
      await selectWords(page, 'quickly');
      await press(page, 'Control+i');
      await selectWords(page, 'flats');
      await press(page, 'Control+u');
    },
    fair: given,
    changes: ['now bold', 'now italic', 'now underline'],
  },
  {
    what: 'strike, super- and subscript',
    act: async (page) => {
      for (const [words, choice] of [
        ['tide', 'Look: Strike'],
        ['quickly', 'Look: Superscript'],
        ['flats', 'Look: Subscript'],
      ] as const) {
        await selectWords(page, words);
        await look(page, choice);
      }
    },
    fair: given,
    changes: ['now strike', 'now superscript', 'now subscript'],
  },
  {
    what: 'colour, highlight, size',
    act: async (page) => {
      for (const [words, choice] of [
        ['tide', 'Colour: plum'],
        ['quickly', 'Highlight: sea'],
        ['flats', 'Size: large'],
      ] as const) {
        await selectWords(page, words);
        await look(page, choice);
      }
    },
    fair: given,
    changes: ['now coloured plum', 'now highlighted sea', 'now 16 points'],
  },
  {
    what: 'a link set',
    act: async (page) => {
      await selectWords(page, 'the flats');
      await page.getByRole('button', { name: 'Link', exact: true }).click();
      await page.getByLabel('Address').fill('harrow.example/flats');
      await page.getByRole('button', { name: 'Set' }).click();
    },
    fair: given,
    changes: ['now a link to https://harrow.example/flats'],
  },
  {
    what: 'replacing a word and the space selected with it keeps one space',
    act: async (page) => {
      await selectWords(page, 'quickly ');
      await page.keyboard.type('slowly');
    },
    fair: 'The tide comes in slowly over the flats.',
    changes: ['replaced one word'],
  },
  {
    what: 'deleting a word keeps one space; undoing just that brings the second back',
    act: async (page) => {
      await selectWords(page, 'quickly');
      await press(page, 'Delete');
      await expect.poll(async () => (await held(page)).fair).toBe('The tide comes in over the flats.');
      await press(page, 'Control+z');
    },
    fair: 'The tide comes in  over the flats.',
    changes: ['deleted one word'],
  },
];

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
});
test.afterAll(() => page.context().close());

for (const { what, given: text = given, act, fair, changes } of rows) {
  test(`in pencil: ${what}`, async () => {
    await startWith(page, what, text);
    await act(page);
    const now = await held(page);
    expect(now).toMatchObject({ before: text, fair, words: changes });
  });
}

test('an address that could run something is not taken', async () => {
  await startWith(page, 'Unsafe link', given);
  await selectWords(page, 'tide');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Address').fill('javascript:alert(1)');
  await expect(page.getByRole('button', { name: 'Set' })).toBeDisabled();
  await expect(page.getByText('A link goes to a page, a mail address or a place in the text.')).toBeVisible();
});

test('ink goes in unrecorded; ink for one edit goes back to pencil by itself', async () => {
  await startWith(page, 'Ink', given);
  await caret(page, 'before', 'comes');
  await press(page, 'Shift+F2');
  await page.keyboard.type('often ');
  await expect.poll(async () => (await held(page)).kinds).toEqual([]);
  await caret(page, 'before', 'flats');
  await expect(page.getByRole('button', { name: 'Pencil', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.type('mud ');
  await expect
    .poll(() => held(page))
    .toMatchObject({
      before: 'The tide often comes in quickly over the flats.',
      fair: 'The tide often comes in quickly over the mud flats.',
      words: ['inserted one word'],
    });
});

test('what is pasted keeps its structure and drops what a manuscript cannot hold', async () => {
  await startWith(page, 'Paste', 'Before.');
  await press(page, 'End');
  await page.evaluate(() => {
    const html =
      '<h2>Shells</h2><p>A <b>heavy</b> <a href="javascript:alert(1)">whelk</a> and <a href="https://harrow.example">map</a>' +
      '<img src="https://elsewhere.example/x.png" onerror="alert(1)"></p><ul><li>limpet</li></ul><script>alert(2)</script>';
    const item = new ClipboardItem({ 'text/html': new Blob([html], { type: 'text/html' }) });
    return navigator.clipboard.write([item]);
  });
  await press(page, 'Enter');
  await press(page, 'Control+v');
  const now = await held(page);
  expect(now.fair).toBe('Before.\nShells\nA heavy whelk and map\nlimpet');
  expect(now.before).toBe('Before.');
  await expect(sheet(page).locator('a')).toHaveCount(1);
  await expect(sheet(page).locator('.picture')).toHaveCount(0);
});

test('of what is pasted, characters that no text can hold are left out; what is typed after it is kept', async () => {
  await startWith(page, 'Signs', 'Before.');
  await press(page, 'End');
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', ' a\u0000b\u0007c\ud83d d');
    const sheet = document.querySelector('.ProseMirror')!;
    sheet.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await page.keyboard.type(' and on');
  await expect.poll(async () => (await held(page)).fair).toBe('Before. abc\ufffd d and on');
  await expect(page.getByText('Not taken in.')).toHaveCount(0);
});

test('Backspace beside words one has struck out goes on with the words before them', async () => {
  await startWith(page, 'Struck', 'First line.', 'low wet tide');
  await selectWords(page, 'low wet ');
  await press(page, 'Delete');
  await caret(page, 'before', 'tide');
  await press(page, 'Backspace');
  await expect.poll(() => held(page)).toMatchObject({ before: 'First line.\nlow wet tide', fair: 'First line.tide' });
  await choose(page, 'List', 'Bulleted');
  await expect.poll(async () => (await held(page)).fair).toBe('First line.tide');
});

test('an edit of one character or two is framed, and spelled out beside its line; not where one is writing just now', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Small edits', 'It was cold, and windy. We went home  late. Nobody minded.');
  const frames = page.locator('.sheet .small-edit');
  await selectWords(page, ',');
  await page.keyboard.press('Delete');
  // The caret is there: what one is about to write is not framed letter by letter.
  await expect(page.locator('.sheet del')).toHaveText(',');
  await expect(frames).toHaveCount(0);
  await page.keyboard.press('Control+End');
  await expect(frames).toHaveText([',']);
  await selectWords(page, 'windy.');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Backspace');
  await page.keyboard.type('!');
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' Nothing small here.');
  await expect(frames).toHaveText([',', '.', '!']);
  const margin = page.getByRole('complementary', { name: 'Edit margin' });
  await expect(margin.getByRole('button', { name: /comma out/ })).toBeVisible();
  await expect(margin.getByRole('button', { name: /full stop › exclamation mark/ })).toBeVisible();

  // Seen at arm's length: as high as a line of words, and wide enough beside one.
  for (const frame of await frames.all()) {
    const { width, height } = (await frame.boundingBox())!;
    expect(width).toBeGreaterThan(8);
    expect(height).toBeGreaterThan(16);
    const [outline, line] = await frame.evaluate((element) => {
      const { outlineStyle, outlineWidth } = getComputedStyle(element);
      return [outlineStyle, parseFloat(outlineWidth)] as const;
    });
    expect(outline).toBe('solid');
    expect(line).toBeGreaterThanOrEqual(1);
  }
  // Outside the lens they are plain text like any other.
  await page.goto(`${page.url()}?kind=move`);
  await expect(page.locator('.sheet del').first()).toBeHidden();
  await expect(frames.filter({ hasText: '!' })).toHaveCSS('outline-style', 'none');
});
