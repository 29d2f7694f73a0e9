import { expect, type Page } from '@playwright/test';
import { comeIn, kept, sheet, signedIn } from '../support/people';
import { caret, startWith } from '../support/texts';
import { test } from '../support/test';

/** The desk: arranged by what waits, found by words, renamed, copied, put away, labelled, deleted and brought back. */

const row = (page: Page, title: string) =>
  page.getByRole('row').filter({ has: page.getByRole('link', { name: title, exact: true }) });
async function act(page: Page, title: string, what: string): Promise<void> {
  await page.getByRole('button', { name: `What can be done with ${title}`, exact: true }).click();
  await page.getByRole('menuitem', { name: what }).click();
}

test('a manuscript is found by its words, renamed, labelled, put away and back', async ({ browser }) => {
  const page = await signedIn(browser, 'Maren');
  await startWith(page, 'Limpets', 'The keyhole limpet grazes at night.');
  await page.goto('/');
  const find = page.getByRole('searchbox', { name: 'Find manuscripts by their words' });
  await find.fill('keyhole lim');
  await expect(row(page, 'Limpets')).toContainText('The keyhole limpet grazes at night.');
  await expect(page.getByRole('row').filter({ has: page.getByRole('link') })).toHaveCount(1);
  await find.fill('keyhole mermaid');
  await expect(page.getByText('No manuscript of yours has these words')).toBeVisible();
  await find.press('Escape');
  await act(page, 'Limpets', 'Rename …');
  await page.getByLabel('Its title').fill('Limpets and others');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Limpets and others')).toBeVisible();
  await act(page, 'Limpets and others', 'Labels …');
  await page.keyboard.type('molluscs');
  await page.keyboard.press('Enter');
  await page.keyboard.type('to read');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(row(page, 'Limpets and others')).toContainText('molluscs');
  await page.getByRole('button', { name: 'to read 1' }).click();
  await expect(page.getByRole('row').filter({ has: page.getByRole('link') })).toHaveCount(1);
  await page.getByRole('button', { name: 'to read 1' }).click();
  await act(page, 'Limpets and others', 'Put away');
  await expect(row(page, 'Limpets and others')).toHaveCount(0);
  await page.getByRole('button', { name: '1 put away' }).click();
  await act(page, 'Limpets and others', 'Back on the desk');
  await page.getByRole('button', { name: 'Back to the desk' }).click();
  await expect(row(page, 'Limpets and others')).toBeVisible();
  await page.reload();
  await expect(row(page, 'Limpets and others')).toContainText('to read');
});

test('a copy opens with all that was in it; what is deleted closes for others, and comes back', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await startWith(page, 'Barnacles', 'Barnacles stand on their heads.');
  await page.keyboard.type(' All their lives.');
  await expect(kept(page)).toBeVisible();
  await page.goto('/');
  await act(page, 'Barnacles', 'Copy');
  await page.getByRole('button', { name: 'Open it' }).click();
  await expect(sheet(page).locator('ins.insertion')).toHaveText(' All their lives.');
  await expect(page.getByRole('banner')).toContainText('Barnacles (copy)');
  const other = await signedIn(browser, 'Tobias');
  await other.goto(`/m/${id}`);
  await expect(kept(other)).toBeVisible();
  await page.goto('/');
  await expect(row(page, 'Barnacles (copy)')).toContainText('1 to decide');
  await act(page, 'Barnacles', 'Delete for everyone');
  await expect(row(page, 'Barnacles')).toHaveCount(0);
  await expect(other.getByText('Tobias Oyelaran has deleted this manuscript')).toBeVisible();
  await page.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(row(page, 'Barnacles')).toBeVisible();
  await act(page, 'Barnacles', 'Delete for everyone');
  const gone = page.getByRole('region', { name: 'Deleted' }).getByRole('group', { name: 'Barnacles', exact: true });
  await expect(gone).toContainText('goes in');
  await gone.getByRole('button', { name: 'Bring back' }).click();
  await expect(row(page, 'Barnacles')).toBeVisible();
});

test('what waits for me comes first; who has a manuscript open is told; a new one can begin in pencil', async ({
  browser,
}) => {
  const maren = await comeIn(browser, 'Maren');
  const titles = () => maren.getByRole('row').getByRole('link').allTextContents();
  await expect(maren.getByRole('link', { name: '3 · The Wrack Line' })).toBeVisible();
  // Maren owes an answer there, and decides nothing anywhere.
  expect((await titles())[0]).toBe('3 · The Wrack Line');
  await maren.getByRole('combobox', { name: 'Order of the manuscripts' }).click();
  await maren.getByRole('option', { name: 'by title' }).click();
  const sorted = await titles();
  expect(sorted).toEqual([...sorted].sort((a, b) => a.localeCompare(b, undefined, { numeric: true })));
  const ines = await comeIn(browser, 'Ines');
  await ines.getByRole('link', { name: '3 · The Wrack Line' }).click();
  await expect(kept(ines)).toBeVisible();
  await maren.reload();
  await expect(row(maren, '3 · The Wrack Line')).toContainText('Ines Vega is in it now');
  await ines.context().close();
  await maren.getByRole('button', { name: 'New manuscript' }).click();
  await maren.getByLabel('Its title').fill('In pencil from the first word');
  await maren.getByLabel('In pencil: every change is recorded').click();
  await maren.getByRole('button', { name: 'Begin' }).click();
  await expect(kept(maren)).toBeVisible();
  await expect(sheet(maren)).toBeFocused();
  await expect(maren.getByRole('button', { name: 'Pencil', exact: true })).toHaveAttribute('aria-pressed', 'true');
});

test('who goes on while a file is brought in stays where they are, and is told; what is dropped meanwhile comes after it', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Written meanwhile', 'The tide is out.');
  let come = () => {};
  const coming = new Promise<void>((done) => (come = done));
  await page.route('**/api/manuscripts/import', async (route) => {
    await coming;
    await route.continue();
  });
  await page.getByRole('link', { name: /Desk/ }).first().click();
  const file = (name: string, words: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(words) });
  await page.getByLabel('File to bring in').setInputFiles(file('Log of the pier.txt', 'Two ships.'));
  await page.getByLabel('File to bring in').setInputFiles(file('Tides.txt', 'High at four.'));
  await expect(page.getByText('Sending “Log of the pier.txt” …')).toBeVisible();
  await page.getByRole('link', { name: 'Written meanwhile' }).click();
  await caret(page, 'behind', 'is out.');
  await page.keyboard.type(' It comes');
  come();
  const told = (name: string) => page.getByRole('alert').filter({ hasText: `“${name}” is on your desk.` });
  await expect(told('Log of the pier.txt')).toBeVisible();
  await expect(told('Tides.txt')).toBeVisible();
  await page.keyboard.type(' back.');
  await expect(sheet(page)).toHaveText('The tide is out. It comes back.');
  await told('Log of the pier.txt').getByRole('button', { name: 'Open it' }).click();
  await expect(sheet(page)).toHaveText('Two ships.');
  await page.unrouteAll({ behavior: 'wait' });
});

test('texts that have nothing in common are laid together when one says so, of these texts and no others', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Tobias');
  const file = (name: string, words: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(words) });
  const words = 'The tide comes in over the flats, and the crabs go with it.';
  await page.getByRole('button', { name: 'Collate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Collate two texts' });
  await dialog.getByLabel('File: The earlier text').setInputFiles(file('Tides.txt', words));
  await dialog.getByLabel('File: The later text').setInputFiles(file('Barnacles.txt', 'Limpets graze at night.'));
  await dialog.getByRole('button', { name: 'Collate', exact: true }).click();
  await expect(dialog.getByRole('alert')).toContainText('next to nothing in common');
  await expect(dialog.getByRole('button', { name: 'Collate all the same' })).toBeVisible();
  await dialog
    .getByLabel('File: The later text')
    .setInputFiles(file('Tides, later.txt', words.replace('flats', 'sands')));
  await expect(dialog.getByRole('alert')).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Collate', exact: true }).click();
  await expect(page.getByText('1 difference is a change now.')).toBeVisible();
  await expect(page.locator('.sheet')).toContainText('sands');
});
