import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { parse } from 'csv-parse/sync';
import { bytesOf, comeIn, kept, selectWords, sheet, signedIn, toPage } from '../support/people';
import { caret, startWith, together } from '../support/texts';
import { axeFindsInBothThemes } from '../support/axe';
import { test } from '../support/test';

/** The last look: beside the text and as a page, words that are kept, what decisions leave behind, house styles. */

// As anybody has it who has turned nothing off.
test.use({ storageState: { cookies: [], origins: [] } });

const panel = (page: Page) => page.getByRole('complementary', { name: 'Last look' });
const card = (page: Page) => panel(page).locator('.finding-card');
const count = (page: Page) => panel(page).getByRole('status');

/** Opens the panel by its key, and waits until the text has been looked at. */
async function look(page: Page) {
  await page.keyboard.press('F6');
  await expect(count(page)).toHaveText(/finding/);
}

test('a chapter of the demo is taken through by keyboard: everything put right in pencil or left, until nothing is found', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Tobias');
  await page.getByRole('link', { name: '9 · Winter Tides' }).click();
  await expect(sheet(page)).toBeVisible();
  await look(page);
  await expect(panel(page).getByText('Brought in by edits (3)')).toBeVisible();
  await expect(card(page)).toContainText('brought in by a change of Ines Vega, still pending');
  const seen: string[] = [];
  for (let i = 0; i < 40 && (await card(page).count()); i++) {
    const words = await card(page).locator('.finding-around').innerText();
    const kind = await card(page).locator('.finding-kind').innerText();
    seen.push(`${kind}: ${await card(page).locator('.finding-words').innerText()}`);
    await expect(card(page).getByText('looking for words like it …')).toBeHidden();
    const proposals = card(page).getByRole('group', { name: 'Proposals, in pencil' }).getByRole('button');
    await page.keyboard.press((await proposals.count()) ? '1' : 'l');
    await expect(async () => {
      const now = await card(page).locator('.finding-around').allInnerTexts();
      expect(now[0]).not.toBe(words);
    }).toPass();
  }
  await expect(panel(page)).toContainText('Nothing that this looks for is wrong with the text.');
  expect(seen.slice(0, 3)).toEqual(['Spaces: ␣␣', 'Words twice: the the', 'Sentences: they']);
  expect(seen).toEqual(
    expect.arrayContaining([
      ...['Words twice: has has', 'Spelling: enought', 'House style: —', 'Halves: (', 'House style: 3000'],
      ...['House style: wrack-line', 'Sentences: March', 'House style: gray', 'References: Table 2', 'House style: 30'],
    ]),
  );
  await page.getByRole('button', { name: 'Fair', exact: true }).click();
  for (const words of [
    'what the gales leave behind has not been seen',
    'is enough to strip the kelp',
    'in one bank and buries the wrack line',
    'over – with a stick, as always – and',
    'come in with the first gale',
    'we counted 3,000 of them',
    'along the wrack line, and the gulls are too full to fly. They sit',
    'tells you so by March.',
    '“and a short list it is”',
    'down to the water, and',
    'The slipway is grey',
    'told me so for thirty years.',
  ])
    await expect(sheet(page)).toContainText(words);
  // Nothing was changed behind anyone’s back: the text before is what it was.
  await page.getByRole('button', { name: 'Before', exact: true }).click();
  await expect(sheet(page)).toContainText('is enought to strip the kelp');
  await toPage(page, 'Last look');
  await expect(page.getByText('References: “Table 2”')).toBeVisible();
  await page.getByRole('button', { name: 'It is looked over as it is now' }).click();
  await expect(page.getByText(/^By Tobias Oyelaran/)).toBeVisible();
});

test('the text is looked at while others write in it without a pause', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Looked at', ['The tide.'], { Ines: 'proposer' });
  await look(tobias);
  await caret(others[0]!, 'behind', 'The tide.');
  let on = true;
  const written = (async () => {
    await others[0]!.keyboard.type(' It has has ', { delay: 60 });
    while (on) await others[0]!.keyboard.press('q', { delay: 60 });
  })();
  await expect(card(tobias).locator('.finding-kind')).toHaveText('Words twice');
  on = false;
  await written;
});

test('words are kept for a text and let go, findings left and taken up again, on every open screen', async ({
  browser,
}) => {
  const { tobias, others } = await together(
    browser,
    'Kept words',
    ['The quoxel  sits by the quoxel pool.', 'A zibbet , too.'],
    { Ines: 'proposer' },
  );
  const [ines] = others as [Page];
  await expect(sheet(ines).locator('.unknown-word')).toHaveText(['quoxel', 'quoxel', 'zibbet']);
  await look(tobias);
  await expect(count(tobias)).toHaveText('5 findings');
  await expect(card(tobias)).toContainText('“quoxel” is not in the dictionary.');
  await tobias.keyboard.press('w');
  await expect(count(tobias)).toHaveText('3 findings');
  await expect(sheet(ines).locator('.unknown-word')).toHaveText(['zibbet']);
  // The corners can be taken away by a key, and come back.
  await sheet(ines).click();
  await ines.keyboard.press('Shift+F6');
  await expect(sheet(ines).locator('.unknown-word')).toHaveCount(0);
  await ines.keyboard.press('Shift+F6');
  await expect(sheet(ines).locator('.unknown-word')).toHaveText(['zibbet']);
  await panel(tobias).getByRole('combobox').click();
  await tobias.getByRole('option', { name: 'Spaces (2)' }).click();
  await card(tobias).getByRole('button', { name: 'Leave all such' }).click();
  await expect(count(tobias)).toHaveText('1 finding');
  await panel(tobias).getByRole('button', { name: 'Page' }).click();
  await expect(tobias.getByText('Spaces: a space, all such')).toBeVisible();
  await tobias.getByRole('button', { name: 'Take up again' }).click();
  await expect(tobias.getByText('Nobody has left a finding as it is.')).toBeVisible();
  await tobias.getByRole('button', { name: 'Let “quoxel” go' }).click();
  await expect(sheet(ines).locator('.unknown-word')).toHaveText(['quoxel', 'quoxel', 'zibbet']);
});

test('a space that a decision has left behind says which; only what has changed since the last look can be looked at', async ({
  browser,
}) => {
  const { tobias, others } = await together(
    browser,
    'Left behind',
    ['The weed that is dry lies here.', 'The the other is wet.'],
    { Ines: 'proposer' },
  );
  const [ines] = others as [Page];
  await toPage(tobias, 'Last look');
  await tobias.getByRole('button', { name: 'It is looked over as it is now' }).click();
  await expect(tobias.getByText(/^By Tobias Oyelaran/)).toBeVisible();
  await selectWords(ines, 'that is ');
  await ines.keyboard.type(' ');
  await expect(kept(ines)).toBeVisible();
  await toPage(tobias, 'Text');
  await expect(sheet(tobias).locator('del.deletion').first()).toBeVisible();
  await tobias.keyboard.press('F8');
  await expect(tobias.getByRole('status', { name: 'How far' })).toHaveText('1 of 1 to decide');
  await expect(tobias.getByRole('toolbar', { name: 'Read-through' })).toBeFocused();
  await tobias.keyboard.press('y');
  await expect(sheet(tobias).locator('del.deletion')).toHaveCount(0);
  await sheet(tobias).click();
  await look(tobias);
  await expect(card(tobias)).toContainText('There is a space too many here.');
  await expect(card(tobias)).toContainText('here Tobias Oyelaran accepted a change of Ines Vega');
  await expect(panel(tobias).getByText('In the text (1)')).toBeVisible();
  await panel(tobias).getByRole('button', { name: 'Since the last look' }).click();
  await expect(count(tobias)).toHaveText('1 finding');
});

test('what is written in two ways is made one, as a sweep in pencil that is undone as one', async ({ browser }) => {
  const page = await comeIn(browser, 'Alba');
  await startWith(
    page,
    'Two ways',
    'The sea-wall is long.',
    'By the sea-wall. Over the sea wall.',
    'Behind the sea wall.',
  );
  await toPage(page, 'Last look');
  await expect(page.getByText('“sea wall” in two ways')).toBeVisible();
  await page
    .getByRole('button', { name: 'Write the other so too' })
    .or(page.getByRole('button', { name: 'Write the other 2 so too' }))
    .first()
    .click();
  await expect(page.getByText('Recorded as one sweep: 2 places. Undo takes it back.')).toBeVisible();
  await expect(page.getByText('Nothing is written in two ways.')).toBeVisible();
  await toPage(page, 'Text');
  await expect(sheet(page).locator('del.deletion')).toHaveCount(2);
  await sheet(page).click();
  await page.keyboard.press('Control+z');
  await expect(sheet(page).locator('del.deletion')).toHaveCount(0);

  // By keyboard on the page: what opens takes it, and when the finding has gone the list has it.
  await toPage(page, 'Last look');
  await page.getByRole('button', { name: /By the/ }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('.finding-card')).toBeFocused();
  for (let i = 0; i < 2; i++) await page.keyboard.press('Tab');
  await expect(page.getByRole('button', { name: 'sea wall', exact: true })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByText('1 finding,', { exact: false })).toBeVisible();
  await expect(page.locator('.look-found')).toBeFocused();
});

test('a house style is written with its examples, contradictions said, followed, taken away as CSV, brought back', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Alba');
  await startWith(page, 'Styled', 'A gray seal and 3 crabs.', 'xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx');
  await page.goto('/styles');
  await page.getByRole('button', { name: 'Begin a style' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Alba’s own');
  const add = async (n: number, write: string, not: string, example = '') => {
    await page.getByRole('button', { name: 'Add a rule' }).click();
    await page
      .getByLabel(`What to write by rule ${n}`)
      .or(page.getByLabel(`What to write of rule ${n}`))
      .fill(write);
    await page.getByLabel(`What not to write, of rule ${n}`).fill(not);
    await page.getByLabel(`Example of rule ${n}`).fill(example);
  };
  await add(1, 'grey', 'gray | grai', 'Gray seals.');
  await expect(page.getByText('› Grey seals.')).toBeVisible();
  await add(2, 'gray', 'grey');
  await expect(page.getByRole('alert')).toContainText('2 things are wrong');
  await expect(page.getByText('One rule says to write “grey”, another says not to.').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Take rule 2 out' }).click();
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByLabel('Kind of rule 2').selectOption('numbers in words');
  await page.getByLabel('What to write by rule 2').selectOption('ten');
  // An expression that could try for ever in one of the lines of the text: it takes time in proportion to the text.
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByLabel('Kind of rule 3').selectOption('expression');
  await page.getByLabel('What not to write, of rule 3').fill('(x+x+)+y');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('Kept as a new version.')).toBeVisible();
  await expect(page.getByText('3 rules, version 2', { exact: true })).toBeVisible();
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'As CSV' }).click(),
  ]);
  // csv-parse: RFC 4180.
  const rows: string[][] = parse(await bytesOf(csv));
  expect(rows.map(([kind, write, not]) => [kind, write, not])).toEqual([
    ['kind', 'write', 'not'],
    ['words', 'grey', 'gray | grai'],
    ['numbers in words', 'ten', ''],
    ['expression', '', '(x+x+)+y'],
  ]);
  const [json] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'As JSON' }).click(),
  ]);
  const style = JSON.parse((await bytesOf(json)).toString('utf8')) as { name: string; rules: unknown[] };
  expect([style.name, style.rules.length]).toEqual(['Alba’s own', 3]);

  // The text follows it: what goes against it is found, and the expression is read to its end like any other.
  await page.goto('/');
  await page.getByRole('link', { name: 'Styled' }).click();
  await toPage(page, 'Last look');
  await page.getByRole('combobox', { name: 'House style' }).click();
  await page.getByRole('option', { name: 'Alba’s own' }).click();
  await expect(page.getByText('House style 2, where the text goes against the house style')).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: '(x+x+)+y' })).toBeHidden();
  await page
    .getByRole('button', { name: /A gray seal/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'grey', exact: true }).click();
  await expect(page.getByText('House style 1, where the text goes against the house style')).toBeVisible();

  // An older version, and a file, stand in the table until they are kept.
  await page.getByRole('link', { name: 'Its rules' }).click();
  await page.getByRole('button', { name: 'Its rules again' }).click();
  await expect(page.getByText('0 rules, version 2, changed and not kept yet')).toBeVisible();
  // They wait in the window for whoever goes and comes back.
  await page.getByRole('link', { name: 'All styles' }).click();
  await page.getByRole('link', { name: 'Alba’s own' }).click();
  await expect(page.getByText('0 rules, version 2, changed and not kept yet')).toBeVisible();
  // What somebody else, or another window, keeps meanwhile is not overwritten by them.
  const { pathname } = new URL(page.url());
  const now = (await (await page.request.get(`/api${pathname}`)).json()) as {
    name: string;
    language: string;
    rules: [];
  };
  const { name, language, rules } = now;
  const kept = await page.request.put(`/api${pathname}`, { data: { name, language, rules, since: 2 } });
  expect(kept.ok()).toBe(true);
  await page.getByRole('link', { name: 'All styles' }).click();
  await page.getByRole('link', { name: 'Alba’s own' }).click();
  await expect(page.getByText('0 rules, version 3, changed and not kept yet')).toBeVisible();
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('Somebody else has changed this style meanwhile.', { exact: false })).toBeVisible();
  await page
    .getByLabel('A file with rules')
    .setInputFiles({ name: 's.csv', mimeType: 'text/csv', buffer: readFileSync((await csv.path())!) });
  await expect(page.getByText('3 rules from the file.', { exact: false })).toBeVisible();
  await page
    .getByLabel('A file with rules')
    .setInputFiles({ name: 's.csv', mimeType: 'text/csv', buffer: Buffer.from('kind,write\nsmell,x\n') });
  await expect(page.getByText('Row 2: “smell” is no kind of rule', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await expect(page.getByText('changed and not kept yet', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Do away with this style' }).click();
  await expect(page.getByRole('heading', { name: 'House styles', level: 2 })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Alba’s own' })).toBeHidden();
  // Nothing of it waits any more: the window goes without a question.
  const asked: string[] = [];
  page.on('dialog', (question) => {
    asked.push(question.type());
    void question.accept();
  });
  await page.close({ runBeforeUnload: true });
  await expect.poll(() => page.isClosed()).toBe(true);
  expect(asked).toEqual([]);
});

test('the last look and house styles: nothing that axe finds, nothing sideways at 390', async ({ browser }) => {
  const page = await comeIn(browser, 'Ines');
  const sound = async (what: string) => {
    await page.mouse.move(0, 0);
    await expect(page.getByRole('tooltip')).toHaveCount(0);
    expect([what, await axeFindsInBothThemes(page)]).toEqual([what, []]);
    const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    expect([what, over]).toEqual([what, 0]);
  };
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 844 });
    await page.goto('/');
    await page.getByRole('link', { name: '3 · The Wrack Line' }).click();
    await expect(sheet(page)).toBeVisible();
    await look(page);
    await expect(card(page)).toBeVisible();
    await sound(`panel at ${width}`);
    await panel(page).getByRole('button', { name: 'Page' }).click();
    await expect(page.getByRole('heading', { name: 'Still open' })).toBeVisible();
    await expect(page.getByText('were looked over. 1 finding,', { exact: false })).toBeVisible();
    await sound(`page at ${width}`);
    await page.getByRole('link', { name: 'Its rules' }).click();
    await expect(page.getByText('› The wrack line is a ledger.')).toBeVisible();
    await sound(`style at ${width}`);
  }
});

test('with unknown words, the last look and the search shown, another reading is gone to and nothing else is said', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'In every reading', 'The gulls quoxel over over the flats.');
  await page.keyboard.type(' Again.'); // so that the readings are not alike
  await expect(sheet(page).locator('.unknown-word')).toHaveText('quoxel', { timeout: 60_000 });
  const readings = async () => {
    for (const reading of ['Fair', 'Before', 'Marked']) {
      await page.getByRole('button', { name: reading, exact: true }).click();
      await expect(page.getByRole('button', { name: reading, exact: true })).toHaveAttribute('aria-pressed', 'true');
      await expect(page.getByText('Not taken in.')).toBeHidden();
    }
  };
  await readings();
  await look(page);
  await expect(card(page)).toBeVisible();
  await readings();
  await page.getByRole('button', { name: 'Fair', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Close the last look' }).click();
  await expect(panel(page)).toBeHidden();
  await expect(page.getByText('Not taken in.')).toBeHidden();
  await page.getByRole('button', { name: 'Marked', exact: true }).click();
  await page.getByRole('button', { name: 'Find', exact: true }).click();
  await page.keyboard.type('gulls');
  await expect(page.getByText('1 place found')).toBeVisible();
  await readings();
});
