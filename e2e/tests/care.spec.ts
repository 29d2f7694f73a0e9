import { expect } from '@playwright/test';
import { comeIn, kept, selectWords, sheet, toPage } from '../support/people';
import { axeFindsInBothThemes } from '../support/axe';
import { test } from '../support/test';

test('the ordinary form: a wrong password is answered in words, the right one leads where one wanted to go', async ({
  page,
}) => {
  await page.goto('/m/nowhere');
  await page.getByLabel('Name to sign in with').fill('tobias');
  await page.getByLabel('Password').fill('high water');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('do not belong together');
  await page.getByLabel('Password').fill('low water');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'This manuscript cannot be opened' })).toBeVisible();
  await expect(page.getByText('There is no such manuscript, or you are not one of its people.')).toBeVisible();
  await page.getByRole('link', { name: 'To the desk' }).click();
  await expect(page.getByRole('heading', { name: 'Manuscripts' })).toBeVisible();
  await page.goto('/no/such/page');
  await expect(page.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible();
});

test('a file that cannot be read is refused with its name and the reason, and leaves nothing', async ({ browser }) => {
  const page = await comeIn(browser, 'Alba');
  const rows = page.getByRole('row');
  await expect(rows.first()).toBeVisible();
  const before = await rows.count();
  const chooser = page.getByLabel('File to bring in');
  await chooser.setInputFiles({
    name: 'holiday.docx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('no such thing'),
  });
  await expect(page.getByRole('alert')).toContainText('“holiday.docx” is not what its name says');
  await expect(page.getByRole('alert')).toContainText('DOCX files, ODT files');
  await chooser.setInputFiles({
    name: 'cut short.docx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('PK\u0003\u0004rest'),
  });
  await expect(page.getByRole('alert')).toContainText('“cut short.docx” is damaged or cut short');
  await page.reload();
  await expect(rows).toHaveCount(before);
});

test('a file dropped on the desk comes in', async ({ browser }) => {
  const page = await comeIn(browser, 'Alba');
  await expect(page.getByRole('row').first()).toBeVisible(); // the desk is there, not what stands for it while it comes
  const data = await page.evaluateHandle(() => {
    const transfer = new DataTransfer();
    transfer.items.add(new File(['First line.\nSecond line.\n'], 'Dropped.txt', { type: 'text/plain' }));
    return transfer;
  });
  await page.getByRole('main').dispatchEvent('drop', { dataTransfer: data });
  await page.waitForURL(/\/m\//);
  await expect(sheet(page).locator('.paragraph')).toHaveText(['First line.', 'Second line.']);
});

test('without a connection one goes on writing; the words are kept when it is back', async ({ browser }) => {
  const page = await browser.newPage();
  await page.goto('/sign-in?to=/');
  await page.getByRole('button', { name: /Alba/ }).click();
  await page.getByRole('button', { name: 'New manuscript' }).click();
  await page.getByLabel('Its title').fill('Offline');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(kept(page)).toBeVisible();
  await expect(page.getByText('you write in ink, and nothing is recorded')).toBeVisible();
  await page.getByRole('button', { name: 'Write in pencil' }).click();
  await sheet(page).click();
  await page.keyboard.type('Before. ');
  await expect(kept(page)).toBeVisible();
  await page.context().setOffline(true);
  await expect(page.getByText('The connection to the server is lost.')).toBeVisible();
  await page.keyboard.type('Meanwhile.');
  await expect(page.getByRole('status')).toHaveText('No connection');
  await page.context().setOffline(false);
  await expect(kept(page)).toBeVisible();
  await page.reload();
  await expect(sheet(page)).toContainText('Before. Meanwhile.');
  await expect(page.getByTestId('pending')).toHaveText('1');
});

test('three Backspaces are one change and one step back; one’s own letters really go', async ({ browser }) => {
  const page = await comeIn(browser, 'Tobias');
  await page.getByText('1 · Before You Set Out').click();
  await selectWords(page, 'looking twice');
  await page.keyboard.press('ArrowRight');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Backspace');
  await expect(sheet(page).locator('del.deletion')).toHaveText('ice');
  await expect(page.getByTestId('pending')).toHaveText('1');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('pending')).toHaveText('0');
  await expect(sheet(page)).toContainText('the habit of looking twice.');
  await page.keyboard.type('!!');
  await expect(sheet(page).locator('ins.insertion')).toHaveText('!!');
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Backspace');
  await expect(page.getByTestId('pending')).toHaveText('0');
  await expect(kept(page)).toBeVisible();
});

test('a word that goes takes one of its spaces along, and one step back returns just that', async ({ browser }) => {
  const page = await comeIn(browser, 'Tobias');
  await page.getByText('1 · Before You Set Out').click();
  await selectWords(page, 'nowhere');
  await page.keyboard.press('Delete');
  await expect(sheet(page).locator('del.deletion')).toHaveText('nowhere ');
  await expect(page.getByTestId('pending')).toHaveText('1');
  await page.keyboard.press('Control+z');
  await expect(sheet(page).locator('del.deletion')).toHaveText('nowhere');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('pending')).toHaveText('0');
  await expect(kept(page)).toBeVisible();
});

test('one who may only propose has no ink, withdraws their own, and decides nothing', async ({ browser }) => {
  const page = await comeIn(browser, 'Maren');
  await page.getByText('3 · The Wrack Line').click();
  await expect(page.getByRole('button', { name: 'Ink', exact: true })).toBeDisabled();
  await page.keyboard.press('F2');
  await expect(page.locator('.edge.in-pencil')).toBeVisible();
  await sheet(page).locator('ins.insertion', { hasText: 'the shore’s own' }).click();
  await expect(page.getByRole('dialog')).toContainText('Someone who may decide');
  await expect(page.getByRole('button', { name: 'Accept' })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await sheet(page).locator('ins.insertion', { hasText: 'They feed at night' }).click();
  await page.getByRole('button', { name: 'Withdraw' }).click();
  await expect(sheet(page)).not.toContainText('They feed at night');
});

test('every screen passes axe in both themes', async ({ browser }) => {
  test.setTimeout(180_000);
  const page = await comeIn(browser, 'Ines');
  /** @param part what has opened over a page that was looked at before */
  const violations = (part?: string) => axeFindsInBothThemes(page, part);
  expect(await violations()).toEqual([]);
  await page.getByText('3 · The Wrack Line').click();
  await expect(page.getByText('Talitrus or Orchestia')).toBeVisible();
  expect(await violations()).toEqual([]);
  await sheet(page).locator('ins.insertion').first().click();
  await expect(page.getByRole('dialog')).toBeVisible();
  expect(await violations('[role=dialog]')).toEqual([]);
  await page.getByText('Talitrus or Orchestia').click();
  await expect(page.getByLabel('Reply')).toBeVisible();
  expect(await violations('aside')).toEqual([]);
  await toPage(page, 'People');
  await expect(page.getByRole('heading', { name: 'Who may do what' })).toBeVisible();
  expect(await violations()).toEqual([]);
  await toPage(page, 'Text');
  for (const name of [/^Lens/, /^Flow/]) {
    await page.getByRole('button', { name }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    expect([name, await violations('[role=dialog]')]).toEqual([name, []]);
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: /^Outline/ }).click();
  for (const reading of ['Fair', 'Before', 'Marked']) {
    await page.getByRole('button', { name: reading, exact: true }).click();
    expect([reading, await violations()]).toEqual([reading, []]);
  }
  await sheet(page).locator('ins.insertion').first().click({ button: 'right' });
  await expect(page.getByRole('menu')).toBeVisible();
  expect(await violations('[role=menu]')).toEqual([]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('F8');
  await expect(page.getByRole('toolbar', { name: 'Read-through' })).toBeFocused();
  expect(await violations()).toEqual([]);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  expect(await violations('[role=dialog]')).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(page.getByTestId('states')).toBeVisible();
  await page.getByRole('button', { name: 'alike', exact: true }).click();
  expect(await violations()).toEqual([]);
  await page.getByRole('link', { name: 'Talk', exact: true }).click();
  await expect(page.getByTestId('threads')).toBeVisible();
  await page.getByRole('button', { name: 'Answer' }).first().click();
  expect(await violations()).toEqual([]);
  await page.getByRole('button', { name: 'Reread mine' }).click();
  expect(await violations()).toEqual([]);
  await page.getByRole('link', { name: 'Text', exact: true }).click();
  await selectWords(page, 'Sandhoppers');
  await page.keyboard.press('F4');
  await page.getByRole('textbox', { name: 'Your comment' }).pressSequentially('@');
  await expect(page.getByRole('listbox')).toBeVisible();
  expect(await violations('aside')).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'wording' }).click();
  expect(await violations('aside')).toEqual([]);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('link', { name: /^Post/ }).click();
  await expect(page.getByTestId('unread')).toBeVisible();
  expect(await violations()).toEqual([]);
  await page.getByRole('button', { name: 'What comes to me' }).click();
  await expect(page.getByRole('heading', { name: 'What comes to me' })).toBeVisible();
  expect(await violations()).toEqual([]);
  await page.getByRole('button', { name: 'Outbox' }).click();
  // Into a mail as it would arrive no script comes, axe included.
  await page.getByRole('button', { name: 'plain' }).click({ timeout: 40_000 });
  await expect(page.getByLabel('The mail, plain')).toBeVisible();
  expect(await violations()).toEqual([]);
  await page.context().clearCookies();
  await page.goto('/sign-in');
  await expect(page.getByRole('button', { name: /Ines Vega/ })).toBeVisible();
  expect(await violations()).toEqual([]);
});
