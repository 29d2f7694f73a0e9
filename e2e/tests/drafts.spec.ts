import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import { axeFinds } from '../support/axe';
import { bytesOf, comeIn, kept, selectWords, sheet, signedIn, toPage } from '../support/people';
import { picture } from '../support/picture';
import { caret, choose, startWith, together } from '../support/texts';
import { test } from '../support/test';

/** Drafts: looking at earlier states, bringing one back, files that come back, and what was done in ink. */

const beside = (page: Page) => page.getByRole('region', { name: 'Both states, beside each other' });

/** Types over words, in pencil or in ink. */
async function write(page: Page, was: string, now: string, hand: 'Pencil' | 'Ink' = 'Pencil') {
  if (hand === 'Ink') await page.getByRole('button', { name: 'Ink', exact: true }).click();
  await selectWords(page, was);
  await page.keyboard.type(now);
  await expect(kept(page)).toBeVisible();
  if (hand === 'Ink') await page.getByRole('button', { name: 'Pencil', exact: true }).click();
}

test('a draft is kept, laid beside the text, gone to by keyboard, and brought back in pencil; that is taken back', async ({
  browser,
}) => {
  const { tobias, others } = await together(
    browser,
    'Drafted',
    ['Walk the top of the beach.', 'Turn the weed over.', 'Mind the tide.'],
    { Ines: 'decider' },
  );
  const [ines] = others as [Page];
  await toPage(tobias, 'Drafts');
  await tobias.getByRole('button', { name: 'Keep a draft now' }).click();
  await tobias.getByRole('button', { name: /kept draft/ }).click();
  const list = tobias.getByRole('dialog', { name: 'Kept drafts' });
  await list.getByRole('button', { name: 'Name and note' }).first().click();
  await list.getByLabel('Note for the others').fill('As it went to the harbour.');
  await list.getByLabel('Name of the draft').fill('before the gale');
  await tobias.keyboard.press('Enter');
  await expect(list.getByText('As it went to the harbour.')).toBeVisible();
  await expect(list.getByText('before the gale')).toBeVisible();
  await tobias.keyboard.press('Escape');
  await write(ines, 'beach', 'shingle');
  await write(ines, 'Mind', 'Watch', 'Ink');
  await tobias.reload();
  await expect(beside(tobias).locator('del.deletion')).toHaveText(['beach', 'Mind']);
  await expect(beside(tobias).locator('ins.insertion')).toHaveText(['shingle', 'Watch']);
  await expect(tobias.getByText('2 differences')).toBeVisible();
  await expect(tobias.getByRole('button', { name: '1 made in ink' })).toBeVisible();
  await tobias.getByRole('button', { name: 'The next difference' }).click();
  await expect(beside(tobias).locator('.lit')).toHaveText(['beach', 'shingle']);
  // By keyboard the slider goes to any moment; there the two are the same.
  const later = tobias.getByRole('slider', { name: 'The later state' });
  await later.focus();
  for (let i = 0; i < 8; i++) await tobias.keyboard.press('ArrowLeft');
  await expect(tobias.getByText('0 differences')).toBeVisible();
  await tobias.keyboard.press('End');
  await expect(tobias.getByText('2 differences')).toBeVisible();
  await tobias.getByRole('button', { name: 'Bring “before the gale” back …' }).click();
  await tobias.getByRole('button', { name: 'Bring it back' }).click();
  await expect(sheet(tobias)).toBeVisible();
  await expect(sheet(ines).locator('ins.insertion')).toContainText(['shingle', 'beach']);
  await tobias.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(sheet(ines).locator('ins.insertion')).toHaveText(['shingle']);
  await expect(sheet(ines)).toContainText('Watch the tide.');
});

test('one draft alone reads marked, fair and before, and is taken away', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');
  await startWith(tobias, 'Read alone', 'Walk the top of the beach.');
  await write(tobias, 'beach', 'shingle');
  await toPage(tobias, 'Drafts');
  await tobias.getByRole('button', { name: 'One draft' }).click();
  const draft = tobias.getByRole('region', { name: 'The draft' });
  await expect(draft.locator('del.deletion')).toHaveText('beach');
  await tobias.getByRole('button', { name: 'Before', exact: true }).click();
  await expect(draft).toContainText('the beach.');
  await tobias.getByRole('button', { name: 'Fair', exact: true }).click();
  await expect(draft).toContainText('the shingle.');
  const download = tobias.waitForEvent('download');
  await tobias.getByRole('button', { name: 'Take it away' }).click();
  await tobias.getByRole('menuitem', { name: 'Marked, DOCX' }).click();
  expect((await bytesOf(await download)).subarray(0, 2).toString()).toBe('PK');
});

test('beside each other, lists go on from row to row, pictures are seen, and a footnote stands in its sentence', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const src = `data:image/png;base64,${picture(40, 20, [40, 90, 120]).toString('base64')}`;
  const html = `<ol><li>Stick</li><li>Boots</li><li>Lamp</li></ol><p>A lamp <img src="${src}" alt="a lamp"> stands.</p>`;
  const answer = await page.request.post('/api/manuscripts/import', {
    multipart: { file: { name: 'Kit.html', mimeType: 'text/html', buffer: Buffer.from(html) } },
  });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(`/m/${id}`);
  await caret(page, 'before', ' stands');
  await choose(page, 'Insert', 'Footnote');
  await page.keyboard.type('Lit in 1902.');
  await expect(kept(page)).toBeVisible();
  await toPage(page, 'Drafts');
  const sides = beside(page).locator('.beside-side');
  const items = sides.locator('.list-item');
  await expect(items).toHaveCount(6);
  const signs = await items.evaluateAll((all) => all.map((item) => getComputedStyle(item, '::before').content));
  expect(signs).toEqual(['"1."', '"1."', '"2."', '"2."', '"3."', '"3."']);
  const widths = () =>
    sides.locator('img').evaluateAll((all) => all.map((one) => (one as HTMLImageElement).naturalWidth));
  await expect.poll(widths).toEqual([40, 40]);
  const note = sides.locator('.footnote');
  await expect(note).toHaveText('Lit in 1902.');
  // In one line with its sentence.
  const [line, inside] = [sides.getByText('A lamp').last(), note.locator('p')];
  expect((await inside.boundingBox())!.height).toBeLessThan((await line.boundingBox())!.height);
  expect(await inside.evaluate((one) => getComputedStyle(one).display)).toBe('inline');
});

test('what was done in ink is listed in the ledger and laid down in pencil', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');
  await startWith(tobias, 'Inked', 'Walk the top of the beach.', 'Turn  the weed over.');
  await write(tobias, 'beach', 'shingle', 'Ink');
  await tobias.getByRole('button', { name: 'Ink', exact: true }).click();
  await caret(tobias, 'before', ' the weed');
  await tobias.keyboard.press('Delete');
  await caret(tobias, 'behind', 'over');
  await choose(tobias, 'Insert', 'Footnote');
  await tobias.keyboard.type('Each clump.');
  await tobias.getByRole('button', { name: 'Pencil', exact: true }).click();
  await expect(kept(tobias)).toBeVisible();
  await toPage(tobias, 'Ledger');
  await tobias.getByRole('link', { name: 'In ink' }).click();
  const ink = tobias.getByRole('region', { name: 'What was done in ink' });
  await expect(ink.locator('li')).toHaveText([
    'replaced one wordWalk the top of the beachshingle.',
    'deleted a spaceTurn  the weed over.',
    'inserted a footnoteTurn the weed over[footnote: Each clump.].',
  ]);
  await expect(ink.locator('.piece-space')).toHaveText(' ');
  await ink.getByRole('button', { name: 'Lay down in pencil' }).click();
  await expect(ink.getByText('laid down in pencil')).toBeVisible();
  await toPage(tobias, 'Text');
  await expect(sheet(tobias).locator('del.deletion')).toHaveText(['beach', ' ']);
});

test('a file comes back: what was changed in it without being recorded is found', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');
  const id = await startWith(tobias, 'Sent out', 'Walk the top of the beach at low water.', 'Mind the tide.');
  const docx = await (await tobias.request.get(`/api/manuscripts/${id}/copies/marked.docx`)).body();
  // Edited by a program that records nothing: python-docx.
  const script = `
import sys, io, docx
document = docx.Document(io.BytesIO(sys.stdin.buffer.read()))
for paragraph in document.paragraphs:
    for run in paragraph.runs:
        run.text = run.text.replace('low water', 'the neap')
document.save(sys.stdout.buffer)`;
  const back = execFileSync('/usr/bin/python3', ['-c', script], { input: docx });
  await toPage(tobias, 'Drafts');
  await tobias.getByRole('button', { name: 'A file came back …' }).click();
  const chooser = tobias.waitForEvent('filechooser');
  await tobias.getByRole('button', { name: 'Choose the file' }).click();
  await (await chooser).setFiles({ name: 'Back.docx', mimeType: 'application/octet-stream', buffer: back });
  await expect(tobias.getByText('Nothing was changed behind your back, except this one')).toBeVisible();
  await tobias.getByRole('button', { name: 'To the text' }).click();
  await expect(sheet(tobias).locator('ins.insertion')).toHaveText('the neap');
});

test('two files are collated on the desk; with nothing in common it is said first', async ({ browser }) => {
  const page = await comeIn(browser, 'Tobias');
  const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  await page.getByRole('button', { name: 'Collate …' }).click();
  await page.getByLabel('File: The earlier text').setInputFiles(file('One.txt', 'Walk the top of the beach.'));
  await page.getByLabel('File: The later text').setInputFiles(file('Two.txt', 'Razor shells, whelks.'));
  await page.getByRole('button', { name: 'Collate', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('next to nothing in common');
  await page.getByLabel('File: The later text').setInputFiles(file('Two.txt', 'Walk along the beach.'));
  await page.getByLabel('Who made the later one').fill('Maren Holt');
  await page
    .getByRole('button', { name: /Collate/ })
    .last()
    .click();
  await page.waitForURL(/\/m\//);
  await page.getByRole('button', { name: 'That is who they are' }).click();
  await expect(sheet(page).locator('del.deletion')).toHaveText('the top of');
  await expect(sheet(page).locator('ins.insertion')).toHaveText('along');
});

test('drafts and ink: nothing that axe finds, nothing sideways at 390', async ({ browser }) => {
  test.slow();
  const tobias = await comeIn(browser, 'Tobias');
  const id = await startWith(tobias, 'Looked at', 'Walk the top of the beach.');
  await write(tobias, 'beach', 'shingle', 'Ink');
  for (const width of [1280, 390]) {
    await tobias.setViewportSize({ width, height: 800 });
    for (const path of [`/m/${id}/drafts`, `/m/${id}/drafts?look=one`, `/m/${id}/ledger?look=ink`]) {
      await tobias.goto(path);
      await expect(
        tobias
          .locator('.blocks, .ink-piece')
          .getByText(/shingle/)
          .first(),
      ).toBeVisible();
      expect([width, path, await axeFinds(tobias)]).toEqual([width, path, []]);
      const sideways = await tobias.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([width, path, sideways <= 0]).toEqual([width, path, true]);
    }
  }
});
