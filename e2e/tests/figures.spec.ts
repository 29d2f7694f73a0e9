import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { parse } from 'csv-parse/sync';
import { listChanges, plainText, readDocx, readHtml } from '@tea-pencil/core';
import { bytesOf, signedIn, toPage } from '../support/people';
import { bringIn } from '../support/revised';
import { copyOf, heldText, startWith } from '../support/texts';
import { axeFindsInBothThemes } from '../support/axe';
import { test } from '../support/test';

/** Counts as charts and tables, and the page that is handed to whoever wrote the text. */

const figure = (page: Page, name: string) => page.getByRole('region', { name, exact: true });
const rowsOf = async (page: Page, name: string): Promise<string[][]> => {
  const rows = figure(page, name).getByRole('table').getByRole('row');
  return Promise.all((await rows.all()).map(async (row) => row.locator('th, td').allInnerTexts()));
};
const download = async (page: Page, name: string) => {
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
  return { name: file.suggestedFilename(), bytes: await bytesOf(file) };
};

test('figures count what is there, honour the lens, and are taken away as pictures and tables', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await bringIn(page, 'Counted', 60);
  const changes = listChanges(await heldText(page));
  await toPage(page, 'Ledger');
  await page.getByRole('link', { name: 'Figures' }).click();
  await expect(page.getByText('60 changes, all there ever were.')).toBeVisible();
  await expect(figure(page, 'By kind').getByRole('img')).toBeVisible();
  const authors = await rowsOf(page, 'By author, as a table');
  expect(authors[0]).toEqual(['Author', 'to decide', 'accepted', 'rejected', 'withdrawn or removed']);
  expect(authors.at(-1)).toEqual(['All', '60', '0', '0', '0']);
  const kinds = await rowsOf(page, 'By kind, as a table');
  const replacements = changes.filter(({ kind }) => kind === 'replacement').length;
  expect(kinds).toContainEqual(['replacements', String(replacements), '0', '0', '0']);

  // Taken away: a reader of the standard (csv-parse, RFC 4180) finds the numbers of the table; the picture is one.
  const table = await download(page, 'CSV of By author');
  expect(table.name).toBe('The second groyne (by author).csv');
  const read = parse(table.bytes, { record_delimiter: '\r\n' });
  expect(read).toEqual(authors.slice(0, -1).map((row) => row.map((cell) => cell.trim())));
  const picture = await download(page, 'PNG of By author');
  expect(picture.bytes.subarray(1, 4).toString()).toBe('PNG');
  // Its width and height (PNG, 11.2.2): it holds something.
  expect(picture.bytes.readUInt32BE(16)).toBeGreaterThan(300);

  // What the lens leaves out is not counted.
  await page.getByRole('button', { name: /^Lens/ }).click();
  const lens = page.getByRole('dialog', { name: 'Lens' });
  await lens.getByRole('button', { name: /^replacements \d/ }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByText(`${replacements} changes, in this lens: replacements.`)).toBeVisible();
  expect((await rowsOf(page, 'By kind, as a table')).slice(1)).toEqual([
    ['replacements', String(replacements), '0', '0', '0'],
  ]);
  // Decided in the text, counted here.
  await page.keyboard.press('F9');
  await expect(page.getByText('60 changes, all there ever were.')).toBeVisible();
  const [first] = changes;
  await toPage(page, 'Ledger');
  await page.getByRole('checkbox', { name: 'Choose no. 1', exact: true }).check();
  await page.getByRole('button', { name: 'Accept 1', exact: true }).click();
  await page.getByRole('link', { name: 'Figures' }).click();
  await expect(figure(page, 'By author, as a table').getByRole('row').last()).toHaveText(/59.*1.*0.*0/);
  await expect(figure(page, 'From change to decision')).toBeVisible();
  expect(first!.kind).toBe('insertion');
});

test('a text in which nothing was changed has figures of its own; formulas in names stay words', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Ines');
  const id = await startWith(page, 'Quiet', '=1+1', 'One line.');
  await page.goto(`/m/${id}/figures`);
  await expect(page.getByText('No change is counted, all there ever were.')).toBeVisible();
  await expect(figure(page, 'How the text grew')).toBeVisible();
  await expect(figure(page, 'By author')).toBeHidden();
});

test('a report tells what is asked and praised, is narrowed by the lens, and is taken away', async ({ browser }) => {
  const page = await signedIn(browser, 'Ines');
  await copyOf(page, '3 · The Wrack Line', 'To be reported');
  await toPage(page, 'Last look');
  await page.getByRole('link', { name: 'Report' }).click();
  const report = page.getByRole('article', { name: 'The report' });
  await expect(report).toContainText('Report on “To be reported”');
  await expect(report.getByRole('heading', { name: 'Queries to answer' })).toBeVisible();
  await expect(report).toContainText('They are not asked to lend theirs twice.');
  await expect(report).not.toContainText('Ask at the press'); // a note to oneself
  await page.getByRole('checkbox', { name: /They are not asked to lend/ }).uncheck();
  await expect(report).not.toContainText('They are not asked to lend theirs twice.');
  await page.getByRole('checkbox', { name: /It is not a sign of dirt/ }).check();
  await expect(report).toContainText('Good that this is said.');
  const words = (await report.innerText()).replace(/\s+/g, '');
  for (const [name, read, ending] of [
    ['DOCX', readDocx, 'docx'],
    ['HTML', readHtml, 'html'],
  ] as const) {
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name, exact: true }).click(),
    ]);
    expect(file.suggestedFilename()).toMatch(new RegExp(`\\(report\\)\\.${ending}$`));
    const { manuscript } = await read(readFileSync(await file.path()));
    expect(plainText(manuscript.doc).replace(/\s+/g, '')).toBe(words);
  }
  // On paper it is alone.
  await page.emulateMedia({ media: 'print' });
  await expect(report).toBeVisible();
  await expect(page.getByRole('heading', { name: 'What is praised' })).toBeHidden();
  await expect(page.getByRole('link', { name: 'Fair copy' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
  // One person’s.
  await page.getByRole('button', { name: /^Lens/ }).click();
  await page
    .getByRole('dialog', { name: 'Lens' })
    .getByRole('button', { name: /^Maren Holt \d/ })
    .click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(report).toContainText(/\d+ changes by Maren Holt \d+:/);
  await expect(page.getByText('It tells of this lens: Maren.')).toBeVisible();
});

test('the pages pass axe in both themes and at every width', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const list = (await (await page.request.get('/api/manuscripts')).json()) as { id: string; title: string }[];
  const { id } = list.find(({ title }) => title === '3 · The Wrack Line')!;
  for (const width of [1280, 390])
    for (const name of ['figures', 'report']) {
      await page.setViewportSize({ width, height: 800 });
      await page.goto(`/m/${id}/${name}`);
      const there = name === 'figures' ? figure(page, 'By author') : page.getByRole('article', { name: 'The report' });
      await expect(there).toBeVisible();
      expect([name, width, await axeFindsInBothThemes(page)]).toEqual([name, width, []]);
      const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([name, width, over]).toEqual([name, width, 0]);
    }
});
