import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import { fairReading, listChanges, plainText } from '@tea-pencil/core';
import { bytesOf, sheet, signedIn, toPage } from '../support/people';
import { leaveOutside } from '../support/revised';
import { heldText } from '../support/texts';
import { axeFindsInBothThemes } from '../support/axe';
import { test } from '../support/test';

/** The text on pages: what stands on them, and what is made of them. */

const pages = (page: Page) => page.locator('.printed-page');
const letters = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '');
const choose = (page: Page, label: string, name: string) =>
  page.getByRole('group', { name: label }).getByRole('button', { name, exact: true }).click();
const state = (page: Page) => page.locator('.print-state');

async function fromServer(page: Page) {
  const button = page.getByRole('button', { name: 'PDF', exact: true });
  return (await Promise.all([page.waitForEvent('download'), button.click()]))[0];
}

/** Where the words of a file stand, by poppler (Debian), in points from the top left of their page. */
function places(file: Buffer) {
  const said = execFileSync('pdftotext', ['-bbox', '-', '-'], { input: file }).toString();
  const words = [...said.matchAll(/xMin="([\d.]+)" yMin="([\d.]+)".*>(.+)<\/word/g)];
  return words.map(([, x, y, word]) => ({ word: word!, x: Math.round(Number(x)), y: Math.round(Number(y)) }));
}

/** Outside check: what the browser prints has the same words in the same places as what the server makes. */
async function alike(page: Page) {
  const own = places(await page.pdf({ preferCSSPageSize: true, tagged: true }));
  expect(places(await bytesOf(await fromServer(page)))).toEqual(own);
  return own;
}

async function chapter(page: Page): Promise<string> {
  const list = (await (await page.request.get('/api/manuscripts')).json()) as { id: string; title: string }[];
  const { id } = list.find(({ title }) => title === '3 · The Wrack Line')!;
  await page.goto(`/m/${id}`);
  await expect(sheet(page)).toBeVisible();
  return id;
}

test('the pages hold the fair text, or the marked one with notes; the browser and the server print the same', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Ines');
  await chapter(page);
  const doc = await heldText(page);
  await toPage(page, 'Last look');
  await page.getByRole('link', { name: 'Print' }).click();
  await expect(state(page)).toHaveText(/^\d+ pages$/);
  const clean = Number.parseInt(await state(page).innerText());
  await expect(pages(page)).toHaveCount(clean);
  const body = (await page.locator('.printed-body').allTextContents()).join('');
  expect(letters(body)).toBe(letters(plainText(fairReading(doc))));
  await expect(pages(page).last()).toContainText(`page ${clean} of ${clean}`);

  await choose(page, 'What', 'Marked');
  await choose(page, 'Notes', 'beside the lines');
  await expect(page.locator('.printed-side .note').first()).toBeVisible();
  const changes = listChanges(doc);
  await expect(page.locator('.change-call')).toHaveCount(changes.length);
  // No note lies over another, or over the edge.
  const boxes = await page.locator('.printed-page').evaluateAll((all) =>
    all.map((one) =>
      [...one.querySelectorAll('.printed-side .note')].map((note) => {
        const { top, bottom } = note.getBoundingClientRect();
        const { top: above, bottom: below } = one.getBoundingClientRect();
        return { top: top - above, bottom: bottom - above, most: below - above };
      }),
    ),
  );
  for (const notes of boxes)
    notes.forEach(({ top, bottom, most }, i) => {
      expect(bottom).toBeLessThanOrEqual(most);
      if (i) expect(top).toBeGreaterThanOrEqual(notes[i - 1]!.bottom - 0.5);
    });
  // What is outside the lens is printed as if accepted, and said.
  await page.getByRole('button', { name: /^Lens/ }).click();
  const lens = page.getByRole('dialog', { name: 'Lens' });
  await lens.getByRole('button', { name: /^deletions \d/ }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  const deletions = changes.filter(({ kind }) => kind === 'deletion').length;
  await expect(page.locator('.change-call')).toHaveCount(deletions);
  await expect(
    page.getByText(`${changes.length - deletions} changes outside it printed as if accepted.`),
  ).toBeVisible();
  await page.keyboard.press('F9');

  // Outside check: poppler (Debian) finds as many pages in what the server makes, tagged, and the words.
  await choose(page, 'What', 'Clean');
  await expect(state(page)).toHaveText(`${clean} pages`);
  const download = await fromServer(page);
  expect(download.suggestedFilename()).toBe('3 · The Wrack Line (clean).pdf');
  const pdf = await bytesOf(download);
  const facts = execFileSync('pdfinfo', ['-'], { input: pdf }).toString();
  expect(facts).toMatch(new RegExp(`Pages:\\s+${clean}\\n`));
  expect(facts).toMatch(/Tagged:\s+yes/);
  const own = await page.pdf({ preferCSSPageSize: true, tagged: true });
  expect(execFileSync('pdfinfo', ['-'], { input: own }).toString()).toMatch(new RegExp(`Pages:\\s+${clean}\\n`));
  const words = (file: Buffer) => letters(execFileSync('pdftotext', ['-', '-'], { input: file }).toString());
  expect(words(own)).toBe(words(pdf));
});

/** A text of many kinds of paragraphs, with changes in it and in its footnotes. */
const kinds = `# Kit

## For a day on the shore

Bring a **stick**[^1], *boots* and a [good ]{.insertion author="Maren Holt" date="2026-11-20T10:00:00Z"}lamp.

> Said the keeper, who had lived there longer than anybody and knew all about the tides and the weather of the bay.

1. Stick
2. Boots
    a. Left
    b. [Right]{.deletion author="Maren Holt" date="2026-11-20T10:00:00Z"}
3. Lamp

- One
- Two\\
  in two lines

| Tide   | Height |
|--------|--------|
| Spring | 5 m    |

Nothing else.

[^1]: Ash, from the [old ]{.deletion author="Maren Holt" date="2026-11-20T10:00:00Z"}estate.

    Never a spade.
`;

test('every kind of paragraph is set alike in the browser and on the server; items are closer than what follows, no closer than lines', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const buffer = execFileSync('pandoc', ['-f', 'markdown', '-t', 'docx'], { input: kinds });
  const answer = await page.request.post('/api/manuscripts/import', {
    multipart: { file: { name: 'Kit.docx', mimeType: 'application/octet-stream', buffer } },
  });
  const { id } = (await answer.json()) as { id: string };
  await leaveOutside(page, id);
  await page.goto(`/m/${id}/print`);
  await expect(state(page)).toHaveText('1 page');
  for (const what of ['Marked', 'Clean']) {
    await choose(page, 'What', what);
    await expect(page.locator('.printed-foot')).toContainText(what.toLowerCase());
    expect((await alike(page)).map(({ word }) => word)).toEqual(expect.arrayContaining(['Ash,', 'spade.']));
  }
  const own = await alike(page);
  const from = (above: string, word: string) => {
    const at = (one: string) => own.find((each) => each.word === one)!.y;
    return at(word) - at(above);
  };
  const [line, item, after] = [from('Two', 'in'), from('One', 'Two'), from('lines', 'Tide')];
  expect(item).toBeGreaterThanOrEqual(line);
  expect(after).toBeGreaterThan(item + 2);
});

test('ledger and threads are printed too; the pages pass axe at every width', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await chapter(page);
  await page.goto(`/m/${id}/print`);
  await choose(page, 'What', 'Ledger');
  await expect(pages(page).first()).toContainText('Ledger of “3 · The Wrack Line”');
  await expect(state(page)).toHaveText(/^\d+ pages$/);
  for (const one of await pages(page).all()) await expect(one.locator('thead')).toContainText('In its sentence');
  await alike(page);
  await choose(page, 'What', 'Threads');
  await expect(pages(page).first()).toContainText('Threads of “3 · The Wrack Line”');
  await expect(page.locator('.printed')).not.toContainText('Ask at the press'); // a note to oneself
  await alike(page);
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    await choose(page, 'What', 'Marked');
    await expect(state(page)).toHaveText(/^\d+ pages$/);
    await page.mouse.move(0, 0);
    await expect(page.getByRole('tooltip')).toHaveCount(0);
    expect([width, await axeFindsInBothThemes(page)]).toEqual([width, []]);
    await expect.poll(() => page.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBe(0);
  }
});
