import { expect, type Page } from '@playwright/test';
import { fairReading, listChanges, plainText } from '@tea-pencil/core';
import { comeIn, kept, letThem, revisedFile, selectWords, sheet, signedIn, toPage } from '../support/people';
import { caret, heldText, startWith, together } from '../support/texts';
import { test } from '../support/test';

/** Several people in one manuscript: who is here and where, one paragraph under two pens, lost connections, settings. */

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

test('without a connection one writes on; on return the words of both are there', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Offline', ['Low water is at ten.', 'High water is at four.'], {
    Ines: 'decider',
  });
  const [ines] = others as [Page];
  await ines.context().setOffline(true);
  await expect(ines.getByRole('status').filter({ hasText: 'No connection' })).toBeVisible();
  await expect(ines.getByRole('alert')).toContainText('You can go on writing');
  await caret(ines, 'behind', 'ten');
  await ines.keyboard.type(' or eleven');
  await caret(tobias, 'before', 'Low');
  await tobias.keyboard.type('On Sunday ');
  await caret(tobias, 'behind', 'four');
  await tobias.keyboard.type(' sharp');
  await expect(kept(tobias)).toBeVisible();
  await expect(sheet(ines)).not.toContainText('Sunday');
  await ines.context().setOffline(false);
  await expect(kept(ines)).toBeVisible();
  const all = 'On Sunday Low water is at ten or eleven.\nHigh water is at four sharp.';
  expect(plainText(fairReading(await heldText(tobias)))).toBe(all);
  await expect(sheet(ines)).toContainText('Sunday');
  await expect(sheet(tobias)).toContainText('or eleven');
  // Undo takes back what one did oneself, and nothing else.
  await sheet(ines).focus();
  await ines.keyboard.press('Control+z');
  await expect(sheet(tobias)).not.toContainText('or eleven');
  expect(plainText(fairReading(await heldText(ines)))).toContain('On Sunday Low');
});

test('whose role is taken away while they write offline keeps the words in a tray, to copy', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Taken away', ['The groyne is steep.'], { Ines: 'proposer' });
  const [ines] = others as [Page];
  await ines.context().setOffline(true);
  await caret(ines, 'behind', 'steep');
  await ines.keyboard.type(' and slippery');
  await toPage(tobias, 'People');
  // What is sent before her role is taken away is taken in; so that has to be done first.
  const done = tobias.waitForResponse(
    (answer) => answer.request().method() === 'PUT' && answer.url().includes('members'),
  );
  await letThem(tobias, 'Ines Vega', 'may read');
  expect((await done).ok()).toBe(true);
  await ines.context().setOffline(false);
  await expect(ines.getByRole('alert').filter({ hasText: 'Not taken in' })).toContainText('and slippery');
  await expect(ines.getByRole('alert').filter({ hasText: 'Not taken in' })).toContainText('may not change');
  await expect(sheet(ines)).toHaveText('The groyne is steep.');
  await expect(ines.getByText('You may read this manuscript')).toBeVisible();
});

test('going from page to page of a manuscript leaves its connection as it is', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  let connections = 0;
  page.on('websocket', (socket) => (connections += Number(socket.url().includes('/api/live'))));
  await startWith(page, 'From page to page', 'The tide table is on the wall.');
  for (const name of ['Ledger', 'Talk', 'Drafts', 'Last look', 'People', 'Text'] as const) {
    await toPage(page, name);
    await expect(page.getByRole('link', { name, exact: true })).toHaveAttribute('aria-current', 'page');
    await expect(page.getByText('The connection to the server is lost.')).toBeHidden();
  }
  await caret(page, 'behind', 'wall');
  await page.keyboard.type(' here');
  await expect(kept(page)).toBeVisible();
  expect(connections).toBe(1);
});

test('a connection that is back at its first try moves nothing on the page', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const connections: (() => void)[] = [];
  await page.routeWebSocket(/\/api\/live/, (window) => {
    const server = window.connectToServer();
    connections.push(() => void server.close().then(() => window.close()));
  });
  await startWith(page, 'Back at once', 'The groyne is steep.');
  await expect(kept(page)).toBeVisible();
  const tops = await page.evaluateHandle(() => {
    const seen = new Set<number>();
    const look = () => {
      seen.add(document.querySelector('main')!.getBoundingClientRect().top);
      requestAnimationFrame(look);
    };
    look();
    return seen;
  });
  connections[0]!();
  await expect(page.getByRole('status').filter({ hasText: 'No connection' })).toBeVisible();
  await expect(kept(page)).toBeVisible();
  expect(connections).toHaveLength(2);
  await caret(page, 'behind', 'steep');
  await page.keyboard.type(' here');
  await expect(kept(page)).toBeVisible();
  expect(await tops.evaluate((seen) => seen.size)).toBe(1);
});

test('what waits in a window when it ends is handed over in the next one; what waits in one that lives is not', async ({
  browser,
}) => {
  const first = await signedIn(browser, 'Tobias');
  let lost = false;
  const lose: (() => void)[] = [];
  await first.routeWebSocket(/\/api\/live/, (window) => {
    const server = window.connectToServer();
    lose.push(
      () => void window.close(),
      () => void server.close(),
    );
    if (lost) for (const close of lose) close();
  });
  const id = await startWith(first, 'It ends', 'The groyne is steep.');
  await expect(kept(first)).toBeVisible();
  lost = true;
  for (const close of lose) close();
  await expect(first.getByText('The connection to the server is lost.', { exact: false })).toBeVisible();
  await caret(first, 'behind', 'steep');
  await first.keyboard.type(' and slippery');
  const noted = () => first.evaluate(() => Object.values({ ...localStorage }).join());
  await expect.poll(noted).toContain(' and slippery');

  const next = await first.context().newPage();
  const tray = next.getByRole('alert').filter({ hasText: 'Not taken in' });
  const again = async () => {
    await next.goto(`/m/${id}`);
    await expect(sheet(next)).toHaveText('The groyne is steep.');
    await expect(kept(next)).toBeVisible();
  };
  await again();
  await expect(tray).toBeHidden();
  const beside = await first.context().newPage();
  await beside.goto(`/m/${id}`);
  await expect(kept(beside)).toBeVisible();
  await first.close(); // as a window that comes down: nobody is asked
  await again();
  await expect(tray).toContainText('in a window that ended before this was kept');
  await expect(tray).toContainText(' and slippery');
  await again(); // it stays until one has copied it
  const trayBeside = beside.getByRole('alert').filter({ hasText: 'Not taken in' });
  await expect(trayBeside).toContainText(' and slippery'); // in whatever window
  await tray.getByRole('button', { name: 'Close' }).click();
  await expect(trayBeside).toBeHidden();
  await expect(tray).toBeHidden();
  await again();
  await expect(tray).toBeHidden();
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
    expect(await part.evaluate(({ scrollWidth, clientWidth }) => scrollWidth - clientWidth)).toBe(0);
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

test('who leaves a manuscript before their words are kept loses none, and finds them coming back', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await startWith(page, 'Left too early', 'The weed is dry.');
  const desk = page.getByRole('link', { name: 'Desk' });
  // In the midst of writing: what is on its way arrives.
  await page.keyboard.type(' Two ships.');
  await desk.click();
  await expect(page.getByRole('button', { name: 'New manuscript' })).toBeVisible();
  await page.goBack();
  await expect(kept(page)).toBeVisible();
  await expect(sheet(page)).toHaveText('The weed is dry. Two ships.');

  // Without a connection: they stay in the window, whether one comes back or not.
  await sheet(page).click();
  await page.keyboard.press('Control+End');
  await page.context().setOffline(true);
  await expect(page.getByText('The connection to the server is lost.')).toBeVisible();
  await page.keyboard.type(' And a third.');
  await desk.click();
  await expect(page.getByText('What you did last is not kept yet.')).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  await (await asked).dismiss();
  await page.goBack();
  await expect(sheet(page)).toHaveText('The weed is dry. Two ships. And a third.');
  await sheet(page).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' At dusk.');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+Shift+z');
  await expect(sheet(page)).toHaveText('The weed is dry. Two ships. And a third. At dusk.');
  await desk.click();
  await expect(page.getByRole('button', { name: 'New manuscript' })).toBeVisible();
  await page.getByRole('button', { name: /name, theme and signing out/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page.getByText('Something you wrote is not kept yet and would be lost.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.context().setOffline(false);
  const other = await page.context().newPage();
  await expect
    .poll(async () => {
      await other.goto(`/m/${id}`);
      await expect(kept(other)).toBeVisible();
      return sheet(other).textContent();
    })
    .toBe('The weed is dry. Two ships. And a third. At dusk.');
});
