import { expect, type Page } from '@playwright/test';
import { fairReading, listChanges, plainText } from '@tea-pencil/core';
import { comeIn, kept, revisedFile, selectWords, sheet, toPage } from '../support/people';
import { caret, heldText, together } from '../support/texts';
import { test } from '../support/test';

/** Several people in one manuscript: who is here and where, one paragraph under two pens, settings. */

test('two write in one paragraph: each sees the other’s caret, and nothing of either is lost', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'One paragraph', ['The tide comes in and goes out again.'], {
    Ines: 'proposer',
  });
  const [ines] = others as [Page];
  await caret(tobias, 'behind', 'The');
  await caret(ines, 'before', ' again');
  await expect(sheet(ines).locator('.other-caret')).toHaveAttribute('data-name', 'Tobias Oyelaran');
  await expect(sheet(tobias).locator('.other-caret')).toHaveAttribute('data-name', 'Ines Vega');
  await expect(tobias.getByRole('navigation', { name: /Spine/ }).getByRole('button')).toHaveAccessibleName(
    'Go where Ines Vega is',
  );
  await Promise.all([
    tobias.keyboard.type(' spring and the neap', { delay: 15 }),
    ines.keyboard.type(', slowly at first,', { delay: 15 }),
  ]);
  const both = 'The spring and the neap tide comes in and goes out, slowly at first, again.';
  const doc = await heldText(tobias);
  expect(plainText(fairReading(doc))).toBe(both);
  expect(new Set(listChanges(doc).map(({ author }) => author)).size).toBe(2);
  for (const page of [tobias, ines]) await expect(sheet(page)).toHaveText(both);
  // A selection is seen too; and whoever leaves is gone at once.
  await selectWords(ines, 'comes in');
  await expect(sheet(tobias).locator('.other-selection')).toHaveText('comes in');
  await ines.context().close();
  await expect(sheet(tobias).locator('.other-caret')).toHaveCount(0);
  await expect(tobias.getByRole('group', { name: 'Here now' }).getByRole('button')).toHaveCount(0);
});

test('a caret that has just been moved stays where it was put, though the other moves or writes before that is heard of', async ({
  browser,
}) => {
  const { tobias, others } = await together(browser, 'At once', ['The tide comes in and goes out again.'], {
    Ines: 'proposer',
  });
  const [ines] = others as [Page];
  await caret(tobias, 'behind', 'The');
  // The browser tells of a selection by an event that comes a little later; on a busy machine much comes before it.
  const late = (isLate: boolean) => ines.evaluate((held) => void (document.body.dataset.late = `${held}`), isLate);
  await ines.evaluate(() =>
    document.addEventListener(
      'selectionchange',
      (event) => event.isTrusted && document.body.dataset.late === 'true' && event.stopImmediatePropagation(),
      true,
    ),
  );
  const theirCaret = () =>
    sheet(ines)
      .locator('.other-caret')
      .evaluate((element) => element.getBoundingClientRect().left);
  for (const [words, does] of [
    ['once ', () => tobias.keyboard.press('ArrowRight')],
    ['right ', () => tobias.keyboard.type('high ')],
  ] as const) {
    await selectWords(ines, 'again');
    const before = await theirCaret();
    await late(true);
    await ines.keyboard.press('ArrowLeft');
    await does();
    await expect.poll(theirCaret).not.toBe(before);
    await late(false);
    await ines.keyboard.type(words);
  }
  const both = 'The high tide comes in and goes out once right again.';
  for (const page of [tobias, ines]) await expect(sheet(page)).toHaveText(both);
  expect(plainText(fairReading(await heldText(tobias)))).toBe(both);
});

test('reading along: the other’s view is followed until one does something oneself', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');
  const ines = await comeIn(browser, 'Ines');
  for (const page of [tobias, ines]) {
    await page.getByText('3 · The Wrack Line').click();
    await expect(sheet(page)).toBeVisible();
  }
  const main = (page: Page) => page.getByRole('main');
  const top = (page: Page) => main(page).evaluate((element) => element.scrollTop);
  // How far apart the first block that one has in view stands in both windows. What was not drawn yet has no true
  // height, so the same words can be scrolled to by different amounts.
  const block = (page: Page, chosen: number | null) =>
    main(page).evaluate((element, which) => {
      const under = element.getBoundingClientRect().top + 56;
      const blocks = [...element.querySelector('.ProseMirror')!.children].map((one) => one.getBoundingClientRect());
      const index = which ?? blocks.findIndex(({ bottom }) => bottom > under);
      return { index, top: blocks[index]!.top };
    }, chosen);
  const apart = async (page: Page, other: Page) => {
    const first = await block(other, null);
    return Math.abs((await block(page, first.index)).top - first.top);
  };
  await ines.getByRole('button', { name: 'Tobias Oyelaran is here' }).click();
  await ines.getByRole('menuitem', { name: 'Read along' }).click();
  await expect(ines.getByRole('status').filter({ hasText: 'read along with Tobias' })).toBeVisible();
  for (const to of [1500, 600]) {
    await main(tobias).evaluate((element, y) => void (element.scrollTop = y), to);
    await expect.poll(() => apart(ines, tobias)).toBeLessThan(60);
  }
  // In whichever of two windows it goes on.
  const second = await tobias.context().newPage();
  await second.goto(tobias.url());
  await expect(sheet(second)).toBeVisible();
  for (const [page, to] of [
    [second, 1500],
    [tobias, 900],
  ] as const) {
    await main(page).evaluate((element, y) => void (element.scrollTop = y), to);
    await expect.poll(() => apart(ines, page)).toBeLessThan(60);
  }
  await ines.keyboard.press('Escape');
  await expect(ines.getByText('read along with Tobias')).toBeHidden();
  const before = await top(ines);
  await main(tobias).evaluate((element) => void (element.scrollTop = 2000));
  await ines.waitForTimeout(600); // for nothing is to happen
  expect(await top(ines)).toBe(before);
  // And an act of one's own ends it as well.
  await ines.getByRole('button', { name: 'Tobias Oyelaran is here' }).click();
  await ines.getByRole('menuitem', { name: 'Read along' }).click();
  await expect.poll(() => apart(ines, tobias)).toBeLessThan(60);
  await main(ines).hover();
  await ines.mouse.wheel(0, -100);
  await expect(ines.getByText('read along with Tobias')).toBeHidden();
});

test('of many who are here the last stand behind a number, and the bar has room for what else is in it', async ({
  browser,
}) => {
  const roles = { Ines: 'proposer', Maren: 'proposer', Alba: 'proposer', Harbour: 'remarker' } as const;
  const { tobias, others } = await together(browser, 'Five of us', ['The tide table is on the wall.'], roles);
  const here = tobias.getByRole('group', { name: 'Here now' }).getByRole('button');
  await expect(here).toHaveCount(3);
  await expect(here.nth(0)).toHaveAccessibleName('Alba Renwick is here');
  await expect(here.nth(2)).toHaveAccessibleName('2 others are here');
  for (const part of [tobias.getByRole('banner'), tobias.getByRole('button', { name: /^Lens/ })])
    await expect.poll(() => part.evaluate(({ scrollWidth, clientWidth }) => scrollWidth - clientWidth)).toBe(0);
  await here.nth(2).click();
  await tobias.getByRole('menuitem', { name: 'Read along with Maren Holt' }).click();
  await expect(tobias.getByRole('status').filter({ hasText: 'read along with Maren Holt' })).toBeVisible();
  await others[1]!.context().close();
  await expect(here).toHaveCount(3);
  await expect(tobias.getByRole('group', { name: 'Here now' })).toHaveText('ARHOIV');
});

test('everyone in pencil: the ink is closed for those who are writing, at once', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'All in pencil', ['The tide table is on the wall.'], {
    Ines: 'decider',
  });
  const [ines] = others as [Page];
  const ink = ines.getByRole('button', { name: 'Ink', exact: true });
  await ink.click();
  await expect(ines.locator('.edge.in-ink')).toBeVisible();
  await toPage(tobias, 'People');
  await tobias.getByRole('switch', { name: /Everyone in pencil/ }).click();
  await expect(ines.locator('.edge.in-pencil')).toBeVisible();
  await expect(ink).toBeDisabled();
  await caret(ines, 'behind', 'wall');
  await ines.keyboard.type(' outside');
  expect(listChanges(await heldText(ines)).map(({ after }) => after)).toEqual([' outside']);
});

test('a name, initials and a hue of one’s own show everywhere, in what was written before too', async ({ browser }) => {
  // Alba, whom no file of these tests names: as long as one did, she could not be called so again.
  const { tobias, others } = await together(browser, 'Names', ['Kelp grows fast.'], { Alba: 'proposer' });
  const [alba] = others as [Page];
  await caret(alba, 'behind', 'fast');
  await alba.keyboard.type(' here');
  await expect(sheet(tobias).locator('ins.insertion')).toHaveText(' here');
  await alba.getByRole('button', { name: /Alba Renwick.*: name/ }).click();
  await alba.getByRole('menuitem', { name: 'Name and portrait' }).click();
  await alba.getByRole('textbox', { name: 'Name' }).fill('Alba Renwick-Lund');
  await alba.getByRole('textbox', { name: 'Initials' }).fill('ARL');
  await alba.getByRole('button', { name: 'Keep' }).click();
  await expect(tobias.getByRole('button', { name: 'Alba Renwick-Lund is here' })).toHaveText('ARL');
  await sheet(tobias).locator('ins.insertion').hover();
  await expect(tobias.getByRole('tooltip')).toContainText('Alba Renwick-Lund inserted one word');
  const hue = () =>
    sheet(tobias)
      .locator('ins.insertion')
      .evaluate((element) => getComputedStyle(element).boxShadow);
  const before = await hue();
  await toPage(alba, 'People');
  await alba.getByRole('radio', { name: 'Hue 6' }).click();
  await expect.poll(hue).not.toBe(before);
  // As it was, for the tests that follow.
  const again = await alba.request.patch('/api/me', { data: { name: 'Alba Renwick', initials: 'AR' } });
  expect([again.status(), await again.text()]).toEqual([204, '']);
});

test('whom a file names can be said to be one of the people, and be somebody outside again', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');
  const file = { name: 'Who.docx', mimeType: 'application/octet-stream', buffer: await revisedFile() };
  await tobias.getByLabel('File to bring in').setInputFiles(file);
  const asked = tobias.getByRole('dialog', { name: 'Who is who?' });
  await expect(asked).toBeVisible();
  // Whoever is quicker than the line does not lose what they chose.
  await tobias.route(/\/api\/manuscripts\/[^/]+$/, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 800));
    await route.continue();
  });
  await asked.getByLabel('Who Piet Sandner is').locator('..').click();
  await tobias.getByRole('option', { name: 'is Tobias Oyelaran' }).click();
  await asked.getByRole('button', { name: 'That is who they are' }).click();
  await expect(asked).toBeHidden();
  await expect(sheet(tobias)).toBeFocused();
  const counts = tobias.getByRole('contentinfo');
  await expect(counts).toContainText('Tobias 1');
  await sheet(tobias).locator('ins.insertion').first().hover();
  await expect(tobias.getByRole('tooltip')).toContainText('Tobias Oyelaran replaced');
  await tobias.reload(); // it is asked once
  await expect(kept(tobias)).toBeVisible();
  await expect(asked).toBeHidden();
  await toPage(tobias, 'People');
  await tobias.getByLabel('Who Piet Sandner is').locator('..').click();
  await tobias.getByRole('option', { name: 'someone outside' }).click();
  await toPage(tobias, 'Text');
  await expect(counts).toContainText('Piet 1');
});
