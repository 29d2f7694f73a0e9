import { expect, type Locator, type Page } from '@playwright/test';
import { selectWords, sheet, signedIn } from '../support/people';
import { held, press, startWith } from '../support/texts';
import { test } from '../support/test';

/** Links, and what else is chosen in what opens over the page. */

const given = 'The tide comes in quickly over the flats.';

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
});
test.afterAll(() => page.context().close());

test('a link that stands in the text is changed, and taken away', async () => {
  await startWith(page, 'Links', given);
  await press(page, 'F2');
  const link = async (button: string, address?: string) => {
    await selectWords(page, 'the flats');
    await page.getByRole('button', { name: 'Link', exact: true }).click();
    if (address) await page.getByLabel('Address').fill(address);
    await page.getByRole('dialog', { name: 'Link' }).getByRole('button', { name: button }).click();
  };
  await link('Set', 'https://harrow.example');
  await press(page, 'F2');
  await link('Set', 'https://harrow.example/map');
  await expect.poll(async () => (await held(page)).words).toEqual(['link to https://harrow.example/map']);
  await press(page, 'Control+z');
  await link('Remove');
  // What is held is asked for once the page has done what the button said.
  await expect(sheet(page).locator('a')).toHaveCount(0);
  await expect.poll(async () => (await held(page)).words).toEqual(['no longer a link']);
});

test('what is chosen over the page goes in by the hand of that moment, though F2 follows in the same breath', async () => {
  await startWith(page, 'In one breath', given);
  const inOneBreath = (button: Locator) =>
    button.evaluate((element: HTMLElement) => {
      element.click();
      element.click(); // pressed twice it is done once
      (document.activeElement ?? document.body).dispatchEvent(
        new KeyboardEvent('keydown', { key: 'F2', bubbles: true }),
      );
    });
  const pencil = (pressed: 'true' | 'false') =>
    expect(page.getByRole('button', { name: 'Pencil', exact: true })).toHaveAttribute('aria-pressed', pressed);
  await press(page, 'F2');
  await pencil('false');
  await selectWords(page, 'the flats');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Address').fill('https://harrow.example');
  await inOneBreath(page.getByRole('dialog', { name: 'Link' }).getByRole('button', { name: 'Set' }));
  await expect(sheet(page).locator('a')).toHaveText(['the flats']);
  await pencil('true');
  await page.getByRole('button', { name: 'List', exact: true }).click();
  await inOneBreath(page.getByRole('menuitem', { name: 'Bulleted', exact: true }));
  await pencil('false');
  await page.getByRole('button', { name: 'Insert', exact: true }).click();
  await page.getByRole('menuitem', { name: /^Table/ }).click();
  await inOneBreath(page.getByRole('dialog', { name: 'Table' }).getByRole('button', { name: 'Put in' }));
  await expect(sheet(page).locator('table')).toBeVisible();
  await pencil('true');
  // In pencil the list alone.
  await expect.poll(async () => (await held(page)).words).toEqual(['bulleted list, was no list']);
});

test('Control+K opens the link; of one that a part is selected of, all is meant; an address pasted over words makes one', async () => {
  await startWith(page, 'Links by key', given);
  const links = sheet(page).locator('a');
  await selectWords(page, 'tide comes');
  await press(page, 'Control+k');
  await expect(page.getByLabel('Address')).toBeFocused();
  await page.keyboard.type('https://harrow.example');
  await press(page, 'Enter');
  await expect(links).toHaveText(['tide comes']);
  await selectWords(page, 'tide');
  await press(page, 'Control+k');
  await expect(page.getByLabel('Address')).toHaveValue('https://harrow.example');
  await press(page, 'Control+a');
  await page.keyboard.type('https://harrow.example/tides');
  await press(page, 'Enter');
  await expect(links).toHaveText(['tide comes']);
  await expect(links).toHaveAttribute('href', 'https://harrow.example/tides');

  await selectWords(page, 'flats');
  await sheet(page).evaluate((field) => {
    const data = new DataTransfer();
    data.setData('text/plain', 'https://harrow.example/flats');
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(links.filter({ hasText: 'flats' })).toHaveAttribute('href', 'https://harrow.example/flats');
  await expect.poll(async () => (await held(page)).words).toContain('now a link to https://harrow.example/flats');
});
