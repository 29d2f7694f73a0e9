import { expect, type Page } from '@playwright/test';
import { comeIn, inviteThem, kept, letThem, selectWords, share, sheet, signedIn, toPage } from '../support/people';
import { say, thread } from '../support/talk';
import { startWith, together } from '../support/texts';
import { axeFinds } from '../support/axe';
import { test } from '../support/test';

/** Who may do what: members, groups, guests who come by a link, and the seal. */

const open = async (page: Page, address: string): Promise<Page> => {
  const guest = await (
    await page
      .context()
      .browser()!
      .newContext({ viewport: { width: 1280, height: 800 } })
  ).newPage();
  await guest.goto(new URL(address).pathname);
  return guest;
};

/** Makes a link on the page of the people. */
async function makeLink(page: Page, name: string, more: { role?: string; passphrase?: string } = {}): Promise<string> {
  // Chromium has dropped a click right behind going to a page: in the trace no event of it came to the document.
  await expect(async () => {
    await page.getByRole('button', { name: 'New link …' }).click();
    await expect(page.getByLabel('For whom')).toBeVisible({ timeout: 2000 });
  }).toPass();
  await page.getByLabel('For whom').fill(name);
  if (more.role) {
    await page.getByRole('combobox', { name: 'What guests may do' }).click();
    await page.getByRole('option', { name: more.role }).click();
  }
  if (more.passphrase) await page.getByLabel('Passphrase, if you want one').fill(more.passphrase);
  await page.getByRole('button', { name: 'Make the link' }).click();
  return (await page.getByTestId('guest-address').textContent())!.trim();
}

test('a guest comes by a link, remarks under a name of their own, sees nothing else, and is outside when it ends', async ({
  browser,
}) => {
  const tobias = await signedIn(browser, 'Tobias');
  await startWith(tobias, 'For the harbour', 'The lamp is lit at dusk. The keeper writes the log.');
  await toPage(tobias, 'People');
  const address = await makeLink(tobias, 'For the harbour office', { passphrase: 'slack water' });
  const guest = await open(tobias, address);
  await expect(guest.getByText('asks for a passphrase')).toBeVisible();
  await expect(guest.getByText('For the harbour')).toBeHidden();
  await guest.getByLabel('Your name').fill('Jo at the harbour');
  await guest.getByLabel('Passphrase of the link').fill('high water');
  await guest.keyboard.press('Enter');
  await expect(guest.getByRole('alert')).toHaveText('This is not the passphrase of the link.');
  await guest.getByLabel('Passphrase of the link').fill('slack water');
  await guest.keyboard.press('Enter');
  await expect(sheet(guest)).toContainText('The lamp is lit');
  await expect(guest.getByRole('banner')).toContainText('you: guest, may remark');
  for (const name of ['People', 'Desk', 'Post'])
    await expect(guest.getByRole('link', { name, exact: true })).toHaveCount(0);
  await expect(guest.getByRole('button', { name: 'Take away' })).toHaveCount(0);
  await selectWords(guest, 'dusk');
  await guest.keyboard.press('F4');
  await say(guest, 'Half an hour before, at our office.');
  await expect(thread(tobias, 'Half an hour before')).toHaveCount(0); // the text is not shown
  await expect(tobias.getByRole('group', { name: 'Jo at the harbour' })).toContainText('guest');
  await expect(tobias.getByRole('group', { name: 'For the harbour office' })).toContainText(
    '1 guest came by it: “Jo at the harbour”',
  );
  await toPage(tobias, 'Text');
  await expect(thread(tobias, 'Half an hour before')).toContainText('Jo at the harbour');
  // Another page of the house leads back to the one manuscript.
  await guest.goto('/');
  await expect(sheet(guest)).toBeVisible();
  await toPage(tobias, 'People');
  await tobias.getByRole('button', { name: 'End the link “For the harbour office”' }).click();
  await expect(guest.getByText('The link by which you came has ended')).toBeVisible();
  await guest.reload();
  await expect(guest.getByText('The link by which you came has ended')).toBeVisible();
  await guest.goto(new URL(address).pathname);
  await expect(guest.getByText('This link has been ended.')).toBeVisible();
  await toPage(tobias, 'Text');
  await expect(thread(tobias, 'Half an hour before')).toContainText('Jo at the harbour');
});

test('a link that is ended while its guest writes leaves the words with the guest, to copy', async ({ browser }) => {
  const tobias = await signedIn(browser, 'Tobias');
  const id = await startWith(tobias, 'Ended while writing', 'The groyne is steep.');
  await toPage(tobias, 'People');
  const guest = await open(tobias, await makeLink(tobias, 'For Jo', { role: 'may propose' }));
  await guest.getByLabel('Your name').fill('Jo');
  await guest.keyboard.press('Enter');
  await expect(kept(guest)).toBeVisible();
  await guest.context().setOffline(true);
  await sheet(guest).click();
  await guest.keyboard.press('Control+End');
  await guest.keyboard.type(' And slippery.');
  const { links } = (await (await tobias.request.get(`/api/manuscripts/${id}/sharing`)).json()) as {
    links: { id: string }[];
  };
  expect((await tobias.request.delete(`/api/manuscripts/${id}/links/${links[0]!.id}`)).ok()).toBe(true);
  await guest.context().setOffline(false);
  await expect(guest.getByRole('alert').filter({ hasText: 'Not taken in' })).toContainText('And slippery.');
});

test('a chapter is sealed, seen by all, and lifted by its passphrase alone', async ({ browser }) => {
  const { tobias, others } = await together(browser, 'Under wax', ['The tide table is on the wall.'], {
    Ines: 'decider',
  });
  const [ines] = others as [Page];
  await sheet(tobias).click();
  await tobias.keyboard.press('Control+End');
  await tobias.keyboard.type(' Read it.');
  await expect(sheet(ines).locator('ins.insertion')).toHaveText(' Read it.');
  await ines.getByRole('button', { name: 'Ink', exact: true }).click();
  await expect(ines.locator('.edge.in-ink')).toBeVisible();
  await toPage(tobias, 'People');
  await tobias.getByRole('button', { name: 'Seal it …' }).click();
  await tobias.keyboard.type('slack water');
  await tobias.getByRole('button', { name: 'Seal it', exact: true }).click();
  // On every page of it, and on the desk.
  await expect(ines.getByText('Tobias Oyelaran has sealed this manuscript')).toBeVisible();
  await expect(ines.locator('.edge.in-pencil')).toBeVisible();
  await expect(ines.getByRole('button', { name: 'Ink', exact: true })).toBeDisabled();
  for (const page of ['Ledger', 'Talk', 'Text'] as const) {
    await toPage(ines, page);
    await expect(ines.getByRole('banner').getByRole('link', { name: 'Sealed' })).toBeVisible();
  }
  await sheet(ines).locator('ins.insertion').first().click();
  const slip = ines.getByRole('dialog');
  await expect(slip).toContainText('Sealed: nothing is decided until the seal is lifted.');
  await expect(slip.getByRole('button', { name: 'Accept' })).toHaveCount(0);
  await ines.keyboard.press('Escape');
  await ines.keyboard.press('F8');
  await ines.keyboard.press('y');
  await expect(ines.getByText('This manuscript is sealed: nothing is decided until the seal is lifted.')).toBeVisible();
  // What one has proposed oneself one may still withdraw; the seal says so.
  await toPage(tobias, 'Text');
  await sheet(tobias).locator('ins.insertion').first().click();
  await expect(tobias.getByRole('dialog').getByRole('button', { name: 'Accept' })).toHaveCount(0);
  await tobias.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(sheet(tobias).locator('ins.insertion')).toHaveCount(0);
  const desk = await comeIn(browser, 'Ines');
  await expect(desk.getByRole('row').filter({ hasText: 'Under wax' })).toContainText('sealed');
  await desk.context().close();
  await toPage(tobias, 'People');
  await tobias.getByRole('button', { name: 'Lift the seal' }).click();
  await tobias.keyboard.type('high water');
  await tobias.keyboard.press('Enter');
  await expect(tobias.getByText('This is not the passphrase of the seal. It stays.')).toBeVisible();
  await tobias.getByLabel('Passphrase of the seal').fill('slack water');
  await tobias.keyboard.press('Enter');
  await expect(ines.getByText('The seal is lifted')).toBeVisible();
  await expect(ines.getByRole('banner').getByText('Sealed')).toHaveCount(0);
  await expect(ines.getByRole('button', { name: 'Ink', exact: true })).toBeEnabled();
});

test('people and groups are invited, given more and less, and taken off, on all open screens at once', async ({
  browser,
}) => {
  const tobias = await signedIn(browser, 'Tobias');
  const id = await startWith(tobias, 'Who may do what', 'The log has two covers.');
  await toPage(tobias, 'People');
  await inviteThem(tobias, 'Ines Vega', 'may remark');
  const ines = await comeIn(browser, 'Ines', `/m/${id}`);
  await expect(kept(ines)).toBeVisible();
  await expect(ines.getByRole('button', { name: 'Bold' })).toBeDisabled();
  // What is chosen next stands on what was chosen last, however late the page hears of it; and so does what is taken back.
  await tobias.route(/\/sharing$/, async (route) => {
    await new Promise((done) => setTimeout(done, 1500));
    await route.continue();
  });
  await letThem(tobias, 'Ines Vega', 'may propose');
  await expect(ines.getByRole('button', { name: 'Bold' })).toBeEnabled();
  await tobias.getByRole('button', { name: 'What Ines Vega may do' }).click();
  await tobias.getByRole('menuitemcheckbox', { name: /may take files away/ }).click();
  await expect(tobias.getByRole('button', { name: 'What Ines Vega may do' })).toHaveText(
    'may propose, may not take away',
  );
  await expect(ines.getByRole('button', { name: 'Take away' })).toHaveCount(0);
  await tobias.getByRole('button', { name: 'What Ines Vega may do' }).click();
  await tobias.getByRole('menuitem', { name: 'Take off' }).click();
  await expect(ines.getByText('This manuscript cannot be opened')).toBeVisible();
  await tobias.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(tobias.getByRole('button', { name: 'What Ines Vega may do' })).toHaveText(
    'may propose, may not take away',
  );
  await tobias.unrouteAll({ behavior: 'wait' });
  await ines.getByRole('link', { name: 'To the desk' }).click();
  await expect(ines.getByRole('link', { name: 'Who may do what' })).toBeVisible();
  // A group: made, given something, changed.
  await tobias.getByRole('button', { name: 'Groups …' }).click();
  await tobias.getByRole('button', { name: 'New group' }).click();
  await tobias.getByLabel('Its name').fill('The readers');
  await tobias.getByLabel('Who is in it').fill('Maren');
  await tobias.getByRole('option', { name: 'Maren Holt' }).click();
  await tobias.getByRole('button', { name: 'Keep' }).click();
  await expect(tobias.getByRole('group', { name: 'The readers' })).toContainText('1 person');
  await tobias.getByRole('button', { name: 'Done' }).click();
  await tobias.getByRole('combobox', { name: 'Name or mail address' }).fill('The read');
  await tobias.getByRole('option', { name: /^The readers/ }).click();
  await tobias.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(tobias.getByRole('group', { name: 'The readers' })).toContainText('group of 1: Maren Holt');
  const maren = await comeIn(browser, 'Maren', `/m/${id}`);
  await expect(sheet(maren)).toContainText('The log has two covers.');
  await tobias.getByRole('button', { name: 'What The readers may do' }).click();
  await tobias.getByRole('menuitem', { name: 'Take off' }).click();
  await expect(maren.getByText('This manuscript cannot be opened')).toBeVisible();
});

test('the pages of people, one’s account, the house and the door: nothing that axe finds, no policy broken, nothing sideways at 390', async ({
  browser,
}) => {
  test.slow(); // axe goes over fourteen pages
  const tobias = await signedIn(browser, 'Tobias');
  const broken: string[] = [];
  tobias.on('console', (message) => message.type() === 'error' && broken.push(message.text()));
  const id = await startWith(tobias, 'Looked at', 'A line.');
  await share(tobias, id, { Ines: 'decider' });
  await tobias.request.post(`/api/manuscripts/${id}/links`, {
    data: { name: 'For the harbour', role: 'reader', passphrase: null, endsAt: null, mostUses: null },
  });
  const pages: [path: string, heading: string][] = [
    [`/m/${id}/people`, 'Who may do what'],
    ['/me', 'Where you are signed in'],
    ['/house', 'Invite into the house'],
    ['/', 'Manuscripts'],
    ['/password', 'A new password'],
    ['/come-in', 'Come in'],
    ['/sign-in', 'Tea Pencil'],
  ];
  for (const width of [1280, 390]) {
    await tobias.setViewportSize({ width, height: 800 });
    for (const [path, heading] of pages) {
      await tobias.goto(path);
      await expect(tobias.getByRole('heading', { name: heading }).first()).toBeVisible();
      expect([width, path, await axeFinds(tobias)]).toEqual([width, path, []]);
      const beyond = await tobias.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([width, path, beyond <= 0]).toEqual([width, path, true]);
    }
  }
  expect(broken).toEqual([]);
});

test('of what comes to one, two kinds chosen in a row both hold, however late the page hears of the first', async ({
  browser,
}) => {
  const harbour = await comeIn(browser, 'Harbour', '/post');
  await harbour.getByRole('button', { name: 'What comes to me' }).click();
  const of = (kind: string) => harbour.getByRole('combobox', { name: kind });
  const choose = async (kind: string, way: string) => {
    await of(kind).click();
    await harbour.getByRole('option', { name: way }).click();
  };
  await expect(of('Somebody mentions me')).toHaveText('here and by mail');
  await harbour.route(/\/api\/post$/, async (route) => {
    await new Promise((done) => setTimeout(done, 1500));
    await route.continue();
  });
  await choose('Somebody mentions me', 'here only');
  await choose('Somebody decides changes of mine', 'not at all');
  const both = async () => {
    await expect(of('Somebody mentions me')).toHaveText('here only');
    await expect(of('Somebody decides changes of mine')).toHaveText('not at all');
  };
  await both();
  await harbour.unrouteAll({ behavior: 'wait' });
  await harbour.reload();
  await harbour.getByRole('button', { name: 'What comes to me' }).click();
  await both();
  await harbour.request.patch('/api/post/kinds', { data: { mention: 'mail', decision: 'mail' } });
});
