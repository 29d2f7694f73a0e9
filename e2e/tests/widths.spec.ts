import { expect, type Page } from '@playwright/test';
import { kept, selectWords, sheet, signedIn } from '../support/people';
import { heldText, startWith, together } from '../support/texts';
import { axeFinds } from '../support/axe';
import { test } from '../support/test';

/**
 * Every width: WCAG 2.2, 1.4.10 (reflow: nothing goes sideways from 320 CSS pixels on, tables of data excepted) and 2.5.8
 * (what is pressed is at least 24 by 24 pixels, or has that room to itself).
 */

const widths = [360, 640, 800, 1024, 1280, 1920]; // 640 is a window of 1280 at 200 %

/** By how much something in the window goes beyond its sides, tables of data excepted. */
const beyond = (page: Page) =>
  page.evaluate(() => {
    const sideways = [...document.querySelectorAll<HTMLElement>('body, #root, main, header, footer, [role=dialog]')];
    const spare = (element: Element) => element.matches('.ledger-scroll, .ledger-scroll *');
    const out = [...document.querySelectorAll<HTMLElement>('a, button, input, select, textarea, [role=textbox], h1')];
    return [
      ...sideways.filter((one) => one.checkVisibility() && one.scrollWidth > one.clientWidth + 1),
      ...out.filter((one) => {
        const { left, right, width } = one.getBoundingClientRect();
        const shown = one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && width > 1;
        return shown && !spare(one) && (left < -1 || right > innerWidth + 1);
      }),
    ].map((one) => `${one.tagName} ${one.className} ${one.textContent?.slice(0, 30)}`);
  });

test('no page goes sideways at any width, and what a bar has no room for stands behind one button', async ({
  browser,
}) => {
  test.setTimeout(150_000);
  const page = await signedIn(browser, 'Tobias');
  const manuscripts = (await (await page.request.get('/api/manuscripts')).json()) as { id: string; title: string }[];
  const { id } = manuscripts.find(({ title }) => title.includes('Wrack'))!;
  for (const width of widths) {
    await page.setViewportSize({ width, height: width < 700 ? 780 : 800 });
    for (const path of [
      '/',
      '/post',
      `/m/${id}`,
      `/m/${id}/ledger`,
      `/m/${id}/talk`,
      `/m/${id}/drafts`,
      `/m/${id}/ledger?look=ink`,
    ]) {
      await page.goto(path);
      await expect(page.locator('main h1:visible, .paragraph:visible, .talk-row:visible').first()).toBeVisible();
      await expect(async () => expect([width, path, await beyond(page)]).toEqual([width, path, []])).toPass({
        timeout: 5000,
      });
    }
    await page.goto(`/m/${id}`);
    await expect(kept(page)).toBeAttached();
    // Whatever the width, one gets to each page, reading, lens, post, people, and away.
    const more = page.getByRole('banner').getByRole('button', { name: 'More' });
    const folded = width < 1200;
    await expect(more).toHaveCount(folded ? 1 : 0);
    if (folded) await more.click();
    for (const name of ['Ledger', 'Talk', 'People'])
      await expect(page.getByRole('link', { name, exact: true, includeHidden: true })).toBeVisible();
    for (const name of ['Fair', 'Before']) await expect(page.getByRole('button', { name, exact: true })).toBeVisible();
    for (const name of [/^Lens/, /^Flow/, 'Take away', /name, theme and signing out/])
      // Beside what is folded, behind what it covers.
      await expect(page.getByRole('button', { name, includeHidden: true })).toBeVisible();
    await expect(page.getByRole('link', { name: /^Post/, includeHidden: true })).toBeVisible();
    if (folded) {
      await expect(async () => expect([width, await beyond(page)]).toEqual([width, []])).toPass({ timeout: 5000 });
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog', { name: 'More' })).toBeHidden();
      await expect(more).toBeVisible();
    }
  }
});

test('at 360 one reads, writes, goes through and decides, answers a thread, and sees what was decided', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.setViewportSize({ width: 360, height: 740 });
  const words = 'The lamp is lit at dusk. The keeper writes the log by its light and counts the ships that pass.';
  const id = await startWith(page, 'Small window', words);
  await page.keyboard.type(' All is well.');
  await expect(sheet(page)).toContainText('All is well.');
  await expect(kept(page)).toBeAttached();
  const { width: column } = (await page.locator('.sheet .paragraph').first().boundingBox())!;
  expect(column).toBeGreaterThan(300); // whole lines, not a third of each

  // A comment is begun and answered in what comes from below.
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Shift+End');
  await page.getByRole('button', { name: 'Comment', exact: true }).click();
  const comment = page.getByRole('textbox', { name: 'Your comment' });
  await expect(comment).toBeInViewport({ ratio: 1 });
  await comment.pressSequentially('Which lamp?');
  await page.getByRole('complementary', { name: 'Talk margin' }).getByRole('button', { name: 'Comment' }).click();
  await expect(comment).toBeHidden();
  await page.locator('.sheet').getByText('The lamp').click();
  const answer = page.getByRole('textbox', { name: 'Reply' });
  await expect(answer).toBeInViewport({ ratio: 1 });
  await answer.click();
  await page.keyboard.type('The one on the quay.');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('The one on the quay.')).toBeInViewport();
  await page.getByRole('button', { name: 'Close the thread' }).click();
  await expect(answer).toBeHidden();

  // The slip of a change, and the read-through with buttons for a thumb.
  await page.locator('.sheet').getByText('All is well').click();
  const slip = page.getByRole('dialog', { name: /Change by/ });
  await expect(slip.getByRole('button', { name: 'Accept', exact: true })).toBeInViewport({ ratio: 1 });
  await page.keyboard.press('Escape');
  await expect(slip).toBeHidden();
  await page.getByRole('button', { name: 'Read through' }).click();
  const through = page.getByRole('toolbar', { name: 'Read-through' });
  const accept = through.getByRole('button', { name: 'Accept', exact: true });
  await expect(accept).toBeInViewport({ ratio: 1 });
  const box = (await accept.boundingBox())!;
  expect(box.height).toBeGreaterThanOrEqual(44);
  expect(box.width).toBeGreaterThan(140);
  expect(await axeFinds(page, { within: '.through', only: { tag: 'wcag22aa' } })).toEqual([]);
  const small = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('header button, header a, footer button')]
      .filter((one) => one.checkVisibility())
      .map((one) => [one.textContent, one.getBoundingClientRect()] as const)
      .filter(([, { width, height }]) => width < 24 || height < 24)
      .map(([text]) => text),
  );
  expect(small).toEqual([]);
  await accept.click();
  await expect(through).toContainText('All changes are decided.');
  await through.getByRole('button', { name: 'End the read-through' }).click();
  expect((await heldText(page)).textContent).toContain('All is well.');

  await page.getByRole('banner').getByRole('button', { name: 'More' }).click();
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(page).toHaveURL(new RegExp(`${id}/ledger`));
  await expect(page.getByRole('dialog', { name: 'More' })).toBeHidden();
  await expect(page.getByRole('row').filter({ hasText: 'accepted' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take back', exact: true })).toBeInViewport();
});

test('words that stand low in a small window are brought above the thread that comes from below', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.setViewportSize({ width: 390, height: 740 });
  const lines = Array.from(
    { length: 30 },
    (_, n) => `Line ${n} of the log tells of the weather, the tide and who came by.`,
  );
  await startWith(page, 'Low words', ...lines, 'The last word is here.');
  await page.keyboard.press('Shift+Home');
  await page.getByRole('button', { name: 'Comment', exact: true }).click();
  const comment = page.getByRole('textbox', { name: 'Your comment' });
  await expect(comment).toBeFocused();
  const words = page.locator('.sheet').getByText('The last word is here.');
  const above = async () => {
    const card = await page.locator('.from-below').boundingBox();
    const line = await words.boundingBox();
    return !!card && !!line && line.y > 48 && line.y + line.height <= card.y;
  };
  await expect.poll(above).toBe(true);
  await comment.pressSequentially('Is it?');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Is it?')).toBeVisible();
  await expect.poll(above).toBe(true);
});

test('at 360 a link is made, a word made bold, ink taken for one edit, and the pencil comes back', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.setViewportSize({ width: 360, height: 740 });
  await startWith(page, 'Small tools', 'Ask at the office.');
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Control+Shift+ArrowRight');
  const tools = page.getByRole('toolbar', { name: 'Editing' });
  await tools.getByRole('button', { name: 'Bold' }).click();
  await expect(page.locator('.sheet strong')).toHaveText(/Ask/);
  await tools.getByRole('button', { name: 'Tools' }).click();
  await page.getByRole('menuitem', { name: 'Link' }).click();
  await expect(page.getByLabel('Address')).toBeFocused();
  await page.keyboard.type('harrow.example');
  await page.keyboard.press('Enter');
  await expect(page.locator('.sheet a')).toHaveAttribute('href', /harrow\.example/);
  await page.keyboard.press('Control+End');
  await page.getByRole('banner').getByRole('button', { name: 'More' }).click();
  await page.getByRole('button', { name: 'Ink for one edit' }).click();
  await expect(page.getByRole('button', { name: 'Ink', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.type(' Twice.');
  await expect(page.getByRole('button', { name: 'Pencil', exact: true })).toBeVisible({ timeout: 15_000 });
  await expect(page.locator('.sheet ins').filter({ hasText: 'Twice' })).toHaveCount(0);
});

test('where the margin has no room, a sign says that words are at the side, and opens them; the drawer counts words', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await page.setViewportSize({ width: 390, height: 760 });
  const id = await startWith(page, 'At the side', 'The tide comes in over the flats.');
  await selectWords(page, 'comes');
  await page.keyboard.press('Delete');
  await expect(page.getByTestId('pending')).toHaveText('1');
  const look = { reading: 'marked', flow: 'fair', folded: [], notes: 'all', talk: 'margin', outline: false };
  await page.request.patch(`/api/manuscripts/${id}/view`, { data: { look } });
  await page.reload();
  const sign = page.getByRole('button', { name: /Tobias Oyelaran: removed comes/ });
  const box = (await sign.boundingBox())!;
  expect([box.x >= 0, box.width >= 24, box.height >= 24]).toEqual([true, true, true]); // WCAG 2.2, 2.5.8
  await sign.click();
  await expect(page.getByRole('dialog', { name: /^Change by/ })).toContainText('comes');
  await page.keyboard.press('Escape');
  await page.getByRole('banner').getByRole('button', { name: 'More' }).click();
  await page.getByRole('button', { name: /^\d+ words$/ }).click();
  await expect(page.getByRole('dialog', { name: 'Words' })).toContainText('The text');
});

test('what is said for a moment stands above the bar of the read-through, at every width', async ({ browser }) => {
  const { others } = await together(browser, 'Above the foot', ['A line of the log.'], { Maren: 'proposer' });
  const [maren] = others as [Page];
  await sheet(maren).click();
  await maren.keyboard.type('Today: ');
  const bar = maren.getByRole('toolbar', { name: 'Read-through' });
  await expect(kept(maren)).toBeVisible();
  await maren.keyboard.press('F8');
  await expect(maren.getByRole('status', { name: 'How far' })).toHaveText('1 of 1 to decide');
  for (const width of [390, 1280]) {
    await maren.setViewportSize({ width, height: 800 });
    await expect(bar).toBeFocused();
    await maren.keyboard.press('y');
    const said = maren.getByText('Accepting is for those who may decide here.');
    await expect(said).toBeVisible();
    await expect
      .poll(async () => {
        const [message, foot] = await Promise.all([said.boundingBox(), bar.boundingBox()]);
        return message!.y + message!.height <= foot!.y;
      })
      .toBe(true);
    await expect(said).toHaveCount(0); // gone, not only folded up
  }
});

test('with the outline open, the tools of the talk margin stand whole in one line, or behind the button of the bar', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Beside the outline', 'The tide comes in over the flats.');
  await expect(kept(page)).toBeAttached();
  await page.getByRole('button', { name: /^Outline/ }).click();
  await expect(page.getByRole('navigation', { name: 'Outline' })).toBeVisible();
  for (const width of [1024, 1100, 1280]) {
    await page.setViewportSize({ width, height: 800 });
    const folded = width < 1200;
    const more = page.getByRole('banner').getByRole('button', { name: 'More' });
    await expect(more).toHaveCount(folded ? 1 : 0);
    if (folded) await more.click();
    for (const name of [/^Flow/, 'Take away', /^Last look/, 'Keys']) {
      const tool = page.getByRole('button', { name });
      await expect(tool).toHaveCount(1);
      // Wholly in the window, in one line (at most 44 px high), and not cut off by what holds it.
      await expect(tool).toBeInViewport({ ratio: 1 });
      expect((await tool.boundingBox())!.height).toBeLessThanOrEqual(44);
    }
    if (folded) await page.keyboard.press('Escape');
  }
});

test('in the bar of the read-through, what differs can be seen at every width, wherever it stands in its sentence', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(
    page,
    'Far in a sentence',
    'On the flats at low water the gulls of the harbour stood about and waited.',
  );
  await selectWords(page, 'stood');
  await page.keyboard.type('walked');
  await expect(kept(page)).toBeAttached();
  await expect(page.getByTestId('pending')).toHaveText('1');
  await page.keyboard.press('F8');
  const bar = page.getByRole('toolbar', { name: 'Read-through' });
  for (const width of [390, 700, 1024, 1280]) {
    await page.setViewportSize({ width, height: 800 });
    // But for the room above and below its letters.
    for (const words of ['stood', 'walked'])
      await expect(bar.getByText(words, { exact: true })).toBeInViewport({ ratio: 0.85 });
    await expect.poll(() => bar.innerText()).toContain('harbour stood about');
  }
});
