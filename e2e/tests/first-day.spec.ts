import { expect, type Page } from '@playwright/test';
import type { Outbox } from '@tea-pencil/wire';
import { kept, sheet, toPage } from '../support/people';
import { test } from '../support/test';

/** The first day of an empty house: from its first account to an invited person's first change. */

const house = process.env.TEA_PENCIL_EMPTY_ADDRESS ?? 'http://localhost:4871';
test.use({ baseURL: house });
test.describe.configure({ mode: 'serial' });

/** The address a letter leads to, as whoever wrote it finds it in their outbox where no mail is sent. */
async function linkTo(page: Page, mail: string): Promise<string> {
  const { mails } = (await (await page.request.get('/api/outbox')).json()) as Outbox;
  const { plain } = mails.find(({ recipient }) => recipient.includes(mail))!;
  return /https?:\/\/\S+\/invitation\/(\S+)/.exec(plain)![1]!;
}

test('somebody begins an empty house by keyboard, writes, invites; who is invited comes in and proposes', async ({
  browser,
}) => {
  const odile = await (await browser.newContext({ baseURL: house })).newPage();
  await odile.goto('/');
  await expect(odile.getByRole('heading', { name: 'Begin' })).toBeVisible();
  // The keyboard is where one begins, and goes on from there.
  await odile.keyboard.type('Odile Marsh');
  await odile.keyboard.press('Tab');
  await odile.keyboard.type('odile@harrow-press.example');
  await odile.keyboard.press('Tab');
  await odile.keyboard.type('short');
  await odile.keyboard.press('Enter');
  await expect(odile.getByText('A password has at least 8 letters.')).toBeVisible();
  await odile.keyboard.type(' and some more');
  await odile.keyboard.press('Enter');
  await expect(odile.getByText('Your desk is empty')).toBeVisible();
  // Nobody begins it a second time.
  const late = await (await browser.newContext({ baseURL: house })).newPage();
  await late.goto('/');
  await expect(late.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
  await late.context().close();

  await odile.getByRole('button', { name: 'New manuscript' }).click();
  await odile.keyboard.type('Winter Tides');
  await odile.keyboard.press('Enter');
  await expect(odile.getByText('This manuscript is new and yours alone: you write in ink')).toBeVisible();
  await sheet(odile).click();
  await odile.keyboard.type('The tide comes in behind you.');
  await expect(kept(odile)).toBeVisible();
  await toPage(odile, 'People');
  await odile.getByRole('combobox', { name: 'Name or mail address' }).fill('piet@sandner.example');
  await odile.getByRole('button', { name: 'What they may do' }).click();
  await odile.getByRole('menuitemradio', { name: 'may propose' }).click();
  await odile.getByRole('button', { name: 'with a message' }).click();
  await odile.keyboard.type('Please look at the first line.');
  await odile.getByRole('button', { name: 'Invite', exact: true }).click();
  const invited = odile.getByRole('group', { name: 'piet@sandner.example' });
  await expect(invited).toContainText('runs out in 7 days');
  await expect(invited).toContainText('may propose');

  const piet = await (await browser.newContext({ baseURL: house })).newPage();
  await piet.goto(`/invitation/${await linkTo(odile, 'piet@')}`);
  await expect(piet.getByText('Odile Marsh invites you to “Winter Tides”: you may propose.')).toBeVisible();
  await piet.keyboard.type('Piet Sandner');
  await piet.keyboard.press('Tab');
  await piet.keyboard.type('neap and spring');
  await piet.keyboard.press('Enter');
  await expect(sheet(piet)).toHaveText('The tide comes in behind you.');
  await sheet(piet).click();
  await piet.keyboard.press('Control+End');
  await piet.keyboard.type(' Look back often.');
  await expect(kept(piet)).toBeVisible();
  await expect(odile.getByRole('group', { name: 'Piet Sandner' })).toContainText('may propose');
  await expect(invited).toBeHidden();
  await toPage(odile, 'Text');
  await expect(sheet(odile).locator('ins.insertion')).toHaveText(' Look back often.');
  await sheet(odile).locator('ins.insertion').click();
  await expect(odile.getByRole('dialog')).toContainText('Piet Sandner');
  // A letter works once.
  await piet.goto(`/invitation/${await linkTo(odile, 'piet@')}`);
  await expect(piet.getByText('This invitation has been used already')).toBeVisible();
});

test('a forgotten password is set anew by letter; one’s sessions are listed and ended; who leaves is gone', async ({
  browser,
}) => {
  const context = await browser.newContext({ baseURL: house });
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByRole('link', { name: 'I have forgotten my password' }).click();
  // The door before it has a field of that name too.
  await expect(page.getByRole('button', { name: 'Send the letter' })).toBeVisible();
  await page.getByLabel('Mail address').fill('odile@harrow-press.example');
  await page.getByRole('button', { name: 'Send the letter' }).click();
  await expect(page.getByRole('status')).toContainText('If somebody here signs in with odile@harrow-press.example');
  // Whoever looks after the house has it, where no mail is sent; here that is herself, signed in elsewhere.
  const elsewhere = await browser.newContext({ baseURL: house });
  const signIn = (password: string) =>
    elsewhere.request.post('/api/sign-in', { data: { login: 'odile@harrow-press.example', password } });
  expect((await signIn('short and some more')).ok()).toBe(true);
  let token: string | undefined;
  await expect(async () => {
    const { mails } = (await (await elsewhere.request.get('/api/outbox')).json()) as Outbox;
    token = mails.map(({ plain }) => /\/password\/(\S+)/.exec(plain)?.[1]).find(Boolean);
    expect(token).toBeTruthy();
  }).toPass();
  await page.goto(`/password/${token}`);
  await page.getByLabel('New password').fill('neap and spring');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Manuscripts' })).toBeVisible();
  expect((await (await elsewhere.request.get('/api/me')).json()) as object).toEqual({ me: null });
  expect((await signIn('neap and spring')).ok()).toBe(true);
  await page.goto('/me');
  const other = page.getByRole('group').filter({ hasText: 'last used' });
  await other.getByRole('button', { name: /^End the session/ }).click();
  await expect(other).toBeHidden();
  expect((await (await elsewhere.request.get('/api/me')).json()) as object).toEqual({ me: null });
  await page.getByRole('button', { name: 'Leave the house …' }).click();
  await page.getByLabel('Your password', { exact: true }).fill('neap and spring');
  await page.getByRole('button', { name: 'Leave for good' }).click();
  await expect(page.getByRole('alert')).toContainText('You alone keep “Winter Tides”');
});
