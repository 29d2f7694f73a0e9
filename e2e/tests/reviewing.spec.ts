import { expect, type Browser, type Page } from '@playwright/test';
import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  decide,
  fairReading,
  listChanges,
  plainText,
  sameManuscript,
  type Verdict,
} from '@tea-pencil/core';
import type { View } from '@tea-pencil/wire';
import { comeIn, kept, sheet, signedIn, toPage } from '../support/people';
import { bringIn } from '../support/revised';
import { held, heldText, together } from '../support/texts';
import { test } from '../support/test';

const bar = (page: Page) => page.getByRole('toolbar', { name: 'Read-through' });
const number = (page: Page) => page.getByTestId('number');
const pending = (page: Page) => page.getByTestId('pending');
const come = async (browser: Browser, name: string, howMany: number) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await bringIn(page, name, howMany);
  await expect(kept(page)).toBeVisible();
  return { page, id };
};
/** What the server remembers of how one looks at a manuscript. */
const remembered = async (page: Page, id: string) =>
  (await (await page.request.get(`/api/manuscripts/${id}/view`)).json()) as View;

test('changes by five people are taken through to the end by keyboard alone, as the core would', async ({
  browser,
}) => {
  test.setTimeout(120_000);
  const { page } = await come(browser, 'By keyboard', 60);
  const before = await heldText(page);
  const changes = listChanges(before);
  expect(changes).toHaveLength(60);
  expect(new Set(changes.map(({ author }) => author)).size).toBe(5);

  await page.keyboard.press('F8');
  await expect(bar(page)).toBeFocused();
  // The first time every fifth is skipped; then, from the top, those are rejected.
  const verdicts = changes.map((_, i): Verdict => (i % 5 === 4 ? 'reject' : i % 3 ? 'accept' : 'reject'));
  for (const [i, verdict] of verdicts.entries()) {
    await expect(number(page)).toHaveText(String(i + 1));
    await page.keyboard.press(i % 5 === 4 ? 's' : verdict === 'accept' ? 'y' : 'n');
  }
  await expect(page.getByText('From the top: 12 were skipped.')).toBeVisible();
  for (let left = 12; left; left--) {
    await expect(bar(page)).toContainText(`${left} left`);
    await page.keyboard.press('n');
  }
  await expect(bar(page)).toContainText('All changes are decided.');
  const tr = new Transform(before);
  changes.forEach(({ id }, i) => decide(tr, [id], verdicts[i]!));
  expect(sameManuscript(await heldText(page), tr.doc)).toBe(true);
});

test('a read-through is left, and taken up where it was, on another machine', async ({ browser }) => {
  const { page, id } = await come(browser, 'Half-way', 20);
  await page.keyboard.press('F8');
  await expect(bar(page)).toBeFocused();
  const keys = ['y', 'y', 's', 'j', 'y', 'u'];
  for (const [i, next] of [2, 3, 4, 5, 6, 5].entries()) {
    await page.keyboard.press(keys[i]!);
    await expect(number(page)).toHaveText(String(next));
  }
  // What was decided last is there again, and it is where one is.
  await expect(bar(page)).toContainText('18 left, 1 skipped');
  const at = await bar(page).locator('.through-side').last().innerText();
  await page.keyboard.press('c');
  await page.keyboard.type('Is this so in winter too?');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Talk margin')).toContainText('Is this so in winter too?');
  await expect(bar(page)).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(sheet(page)).toBeFocused();
  await expect.poll(async () => (await remembered(page, id)).readThrough?.skipped.length).toBe(1);

  const elsewhere = await comeIn(browser, 'Tobias', `/m/${id}`);
  await elsewhere.getByRole('button', { name: /Go on reading through/ }).click();
  await expect(bar(elsewhere)).toContainText('18 left, 1 skipped');
  await expect.poll(() => bar(elsewhere).locator('.through-side').last().innerText()).toBe(at);
  // What somebody else decides meanwhile goes, and one goes on.
  await page.keyboard.press('F8');
  await page.keyboard.press('y');
  await expect(bar(elsewhere)).toContainText('17 left');
  await elsewhere.getByRole('combobox', { name: 'In which order' }).click();
  await elsewhere.getByRole('option', { name: 'by author' }).click();
  const seen: string[] = [];
  for (let i = 0; i < 17; i++) {
    seen.push((await bar(elsewhere).locator('.through-who b').innerText()).trim());
    await elsewhere.getByRole('button', { name: 'Next', exact: true }).click();
  }
  expect(new Set(seen.filter((name, i) => name !== seen[i - 1])).size).toBe(
    seen.filter((name, i) => name !== seen[i - 1]).length - (seen[0] === seen[16] ? 1 : 0),
  );
});

test('what is chosen while another page is on its way does not draw one back from it', async ({ browser }) => {
  const { page } = await come(browser, 'On the way', 8);
  // Before anything of the page can have been drawn.
  await page.evaluate(() => {
    const all = [...document.querySelectorAll<HTMLElement>('a, button')];
    for (const words of ['Talk', 'Fair']) all.find(({ textContent }) => textContent === words)!.click();
  });
  await expect(page.getByTestId('threads')).toBeVisible();
  const { pathname, searchParams } = new URL(page.url());
  expect([pathname.split('/').at(-1), searchParams.get('reading')]).toEqual(['talk', 'fair']);
});

test('of two choices of a lens both count, however quickly the second follows', async ({ browser }) => {
  const { page } = await come(browser, 'Quickly', 8);
  await page.getByRole('button', { name: /^Lens/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Lens' });
  await expect(dialog.getByRole('button', { name: /Piet Sandner/ })).toBeVisible();
  // Before anything of the first can have been drawn.
  await dialog.evaluate((element) => {
    const buttons = [...element.querySelectorAll<HTMLElement>('button')];
    for (const words of ['Piet Sandner', 'deletions', 'Odile Marsh', 'insertions'])
      buttons.find(({ textContent }) => textContent!.includes(words))!.click();
  });
  await expect.poll(() => new URL(page.url()).searchParams.getAll('kind').sort()).toEqual(['deletion', 'insertion']);
  expect(new URL(page.url()).searchParams.getAll('by')).toHaveLength(2);
  await expect(page.locator('[aria-label^="Lens: "]')).toHaveAttribute(
    'aria-label',
    /^Lens: (Piet and Odile|Odile and Piet), insertions and deletions$/,
  );
});

test('a lens rules text, margins, counts, order and “all”; it is in the address, and can be kept', async ({
  browser,
}) => {
  const { page } = await come(browser, 'Through a lens', 40);
  const lens = page.getByRole('button', { name: /^Lens/ });
  await lens.click();
  const dialog = page.getByRole('dialog', { name: 'Lens' });
  await dialog.getByRole('button', { name: /Piet Sandner/ }).click();
  await dialog.getByRole('button', { name: /deletions/ }).click();
  await dialog.getByLabel('A name for this lens').fill('Piet’s cuts');
  await dialog.getByRole('button', { name: 'Keep', exact: true }).click();
  await dialog.getByRole('button', { name: 'Done' }).click();

  const doc = await heldText(page);
  const through = listChanges(doc).filter(({ kind, author }) => kind === 'deletion' && author === authorOf(doc, 1));
  await expect(pending(page)).toHaveText(String(through.length));
  await expect(page.getByText(`${40 - through.length} changes outside this lens`)).toBeVisible();
  // Outside the lens: as if accepted; inside: marked.
  const shown = () => sheet(page).evaluate((element) => (element as HTMLElement).innerText.replace(/\s+/g, ' ').trim());
  const outside = listChanges(doc).filter((change) => !through.includes(change));
  const expected = decide(
    new Transform(doc),
    outside.map(({ id }) => id),
    'accept',
  ).doc;
  await expect.poll(shown).toBe(plainText(expected).replace(/\s+/g, ' ').trim());

  // The address is enough for a colleague.
  const url = new URL(page.url());
  expect(url.search).toContain('kind=deletion');
  await page.goto('/');
  await page.goto(url.href);
  await expect(pending(page)).toHaveText(String(through.length));
  await expect(page.getByRole('button', { name: 'Lens: Piet, deletions' })).toBeVisible();

  // All means all in the lens.
  await page.getByRole('button', { name: 'Decide together' }).click();
  await page
    .getByRole('group', { name: 'All of the lens; comments stay' })
    .getByRole('button', { name: /Accept/ })
    .click();
  await expect(pending(page)).toHaveText('0');
  await page.keyboard.press('F9');
  await expect(pending(page)).toHaveText(String(40 - through.length));
  await lens.click();
  await dialog.getByRole('button', { name: 'Piet’s cuts', exact: true }).click();
  await expect(page).toHaveURL(/kind=deletion/);
});

function authorOf(doc: Parameters<typeof listChanges>[0], n: number): string {
  return listChanges(doc)[n]!.author;
}

test('readings show what the core says; switching keeps the place; writing in one offers Marked', async ({
  browser,
}) => {
  const { page } = await come(browser, 'Readings', 200);
  const doc = await heldText(page);
  const text = () => sheet(page).evaluate((element) => [...element.children].map((p) => p.textContent).join('\n'));
  const main = page.locator('main');
  await main.evaluate((element) => (element.scrollTop = 900));
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  const first = () =>
    page.evaluate(() => {
      const { top } = document.querySelector('main')!.getBoundingClientRect();
      const all = [...document.querySelectorAll('.ProseMirror > *')];
      return all.findIndex((element) => element.getBoundingClientRect().bottom > top + 60);
    });
  const place = await first();
  await page.getByRole('button', { name: 'Fair', exact: true }).click();
  await expect.poll(() => text()).toBe(plainText(fairReading(doc)));
  await expect.poll(async () => Math.abs((await first()) - place)).toBeLessThanOrEqual(1);
  await expect(page.getByText('200 changes not shown in this reading')).toBeVisible();
  await expect(page.locator('.tick')).toHaveCount(0);
  await sheet(page).click();
  await page.keyboard.type('x');
  await expect(page.getByText('This is the fair reading; nothing can be written in it.')).toBeVisible();
  await page.getByRole('button', { name: 'Before', exact: true }).click();
  await expect.poll(() => text()).toBe(plainText(beforeReading(doc)));
  await page.getByRole('button', { name: 'Write in Marked' }).click();
  await expect(page.getByRole('button', { name: 'Marked', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await expect.poll(async () => Math.abs((await first()) - place)).toBeLessThanOrEqual(1);
  await page.keyboard.type('x');
  await expect(pending(page)).toHaveText('201');
  expect(sameManuscript(fairReading(doc), fairReading(await heldText(page)))).toBe(false);
  await page.keyboard.press('Control+z');
  await expect(pending(page)).toHaveText('200');
});

test('flows set words at the side; a folded kind is a number at the edge that opens; both are remembered', async ({
  browser,
}) => {
  const { page, id } = await come(browser, 'Flows', 20);
  const { fair, before } = await held(page);
  const shown = () =>
    sheet(page).evaluate((element) =>
      (element as HTMLElement).innerText.replace(/[›¶]/g, '').replace(/\s+/g, ' ').trim(),
    );
  const oneLine = (words: string) => words.replace(/\s+/g, ' ').trim();
  const flow = async (name: string) => {
    await page.getByRole('button', { name: /^Flow/ }).click();
    await page.getByRole('dialog', { name: 'Flow and notes' }).getByRole('button', { name, exact: true }).click();
    await page.keyboard.press('Escape');
  };
  const margin = page.getByLabel('Edit margin');
  await flow('as fair');
  await expect.poll(() => shown()).toBe(oneLine(fair));
  await expect(margin.getByRole('button', { name: /removed quite1$/ })).toBeVisible();
  await flow('as before');
  await expect.poll(() => shown()).toBe(oneLine(before));
  await expect(margin.getByRole('button', { name: /added very0$/ })).toBeVisible();
  // Editing goes on as before: what is typed here stands where it is typed.
  await flow('both');
  await flow('replacements');
  const folds = margin.getByRole('button', { name: /folded change/ });
  await expect(page.getByText('5 changes folded')).toBeVisible();
  await expect.poll(async () => (await remembered(page, id)).look?.folded).toEqual(['replacement']);
  await page.reload();
  await expect(page.getByText('5 changes folded')).toBeVisible();
  await folds.first().click();
  await expect(page.getByRole('dialog', { name: /Change by/ })).toContainText('mermaids');
  await page.keyboard.press('Escape');
  await page.keyboard.press('F9');
  await expect(folds).toHaveCount(0);
  await page.keyboard.press('F9');
  await expect(page.getByText('5 changes folded')).toBeVisible();
});

test('the context menu decides what is under the pointer, and the whole paragraph', async ({ browser }) => {
  const { page } = await come(browser, 'Menu', 20);
  await sheet(page).getByText('very0', { exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Accept this change' }).click();
  await expect(pending(page)).toHaveText('19');
  await sheet(page).getByText('quite1', { exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Reject all 9 in this paragraph' }).click();
  await expect(pending(page)).toHaveText('10');
});

test('what a viewer chooses of hues is for their own eyes, and nothing of it leaves the browser', async ({
  browser,
}) => {
  const { page } = await come(browser, 'Hues', 8);
  // Found and read in one step: an element that is drawn anew in between has no style any more.
  const line = async (selector: string) => {
    await page.locator(selector).first().waitFor();
    return page.evaluate((found) => {
      const element = document.querySelector(found);
      return element ? getComputedStyle(element).getPropertyValue('--line') : '';
    }, selector);
  };
  const before = await line('.sheet ins.insertion');
  const sent: string[] = [];
  page.on('request', (request) => sent.push(`${request.method()} ${request.url()} ${request.postData() ?? ''}`));
  await toPage(page, 'People');
  await page.getByLabel('Hues say the kind of a change').click();
  await toPage(page, 'Text');
  await expect
    .poll(async () => (await line('.sheet ins.insertion')) === (await line('.sheet del.deletion')))
    .toBe(false);
  const lines = await page
    .locator('.sheet ins.insertion')
    .evaluateAll((all) => [...new Set(all.map((element) => getComputedStyle(element).getPropertyValue('--line')))]);
  expect(lines).toHaveLength(1);
  await toPage(page, 'People');
  await page.getByRole('button', { name: 'As everyone has them' }).click();
  await page.getByRole('button', { name: 'Odile Marsh' }).first().click();
  await page.getByRole('menuitem', { name: 'Hue 8' }).click();
  await toPage(page, 'Text');
  await expect.poll(() => line('.sheet ins.insertion')).toMatch(/^#/);
  const after = await line('.sheet ins.insertion');
  expect(after).not.toBe(before);
  await page.reload();
  await expect.poll(() => line('.sheet ins.insertion')).toBe(after);
  // Files of the program may be called so.
  expect(sent.filter((request) => /hue/i.test(request) && !request.includes('/assets/'))).toEqual([]);
});

test('where others decide above and then what one is at, one goes on with the one after it', async ({ browser }) => {
  const { page, id } = await come(browser, 'Decided beside', 20);
  await page.keyboard.press('F8');
  for (const next of [2, 3, 4, 5]) {
    await page.keyboard.press('j');
    await expect(number(page)).toHaveText(String(next));
  }
  const elsewhere = await comeIn(browser, 'Tobias', `/m/${id}`);
  await expect(kept(elsewhere)).toBeVisible();
  await elsewhere.getByRole('button', { name: /^(Read|Go on reading) through/ }).click();
  await bar(elsewhere).focus();
  for (let at = Number(await number(elsewhere).innerText()); at > 1; at--) {
    await elsewhere.keyboard.press('k');
    await expect(number(elsewhere)).toHaveText(String(at - 1));
  }
  for (const left of [19, 18, 17]) {
    await elsewhere.keyboard.press('y');
    await expect(bar(page)).toContainText(`${left} left`);
  }
  await expect(number(page)).toHaveText('2');
  await elsewhere.keyboard.press('j');
  await elsewhere.keyboard.press('y');
  await expect(bar(page)).toContainText('16 left');
  await expect(number(page)).toHaveText('2');
});

test('who may not decide and tries is told why', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Told why', ['A line of the log.'], { Maren: 'proposer' });
  const [maren] = others as [Page];
  await tobias.keyboard.type(' Two ships.');
  await expect(sheet(maren)).toContainText('Two ships.');
  await maren.getByRole('button', { name: /Read through/ }).click();
  await maren.keyboard.press('y');
  await expect(maren.getByText('Deciding is for those who may decide here.')).toBeVisible();
  await expect(maren.getByTestId('number')).toHaveText('1');
  await maren.keyboard.press('Escape');
  // A moment after the text has got the keyboard: the editor may not take the person’s way to the start for the browser’s.
  await maren.evaluate(() => new Promise((done) => setTimeout(done, 50)));
  await maren.keyboard.press('Control+Home');
  await maren.keyboard.type('Today: ');
  await expect(sheet(maren)).toHaveText('Today: A line of the log. Two ships.');
  await maren.keyboard.press('F8');
  await expect(number(maren)).toHaveText('2');
  await maren.keyboard.press('k');
  await expect(bar(maren).getByRole('button', { name: 'Withdraw' })).toBeVisible();
  await maren.keyboard.press('y');
  await expect(maren.getByText('Your own changes you may withdraw.')).toBeVisible();
});
