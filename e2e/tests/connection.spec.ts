import { expect, type Page } from '@playwright/test';
import { fairReading, plainText } from '@tea-pencil/core';
import { kept, letThem, sheet, signedIn, toPage } from '../support/people';
import { caret, heldText, startWith, together } from '../support/texts';
import { test } from '../support/test';

/** A connection that goes and comes back, a window that ends, a page that is left: nothing that was written is lost. */

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
