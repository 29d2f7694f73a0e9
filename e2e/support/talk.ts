import { expect, type Locator, type Page } from '@playwright/test';

/** Talk on the sheet, and a text to talk of. */

export const margin = (page: Page): Locator => page.getByRole('complementary', { name: 'Talk margin' });
export const comment = (page: Page): Locator => page.getByRole('textbox', { name: 'Your comment' });
/** A thread that has been kept; one that is being written is none yet. */
export const thread = (page: Page, words: string): Locator =>
  margin(page).locator('.thread-card:not(.begun)').filter({ hasText: words });
export const say = async (page: Page, words: string): Promise<void> => {
  await comment(page).pressSequentially(words);
  await page.keyboard.press('Control+Enter');
  await expect(comment(page)).toBeHidden();
};

export const text = 'The lime kiln stands above the shore. Nobody has burned lime in it since the war.';

/** Sends the comment that is being written as a query to somebody. */
export async function ask(page: Page, whom: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Who is asked for an answer' }).click();
  await page.getByRole('option', { name: `asks ${whom}` }).click();
  await page.getByRole('button', { name: 'Comment', exact: true }).last().click();
}
