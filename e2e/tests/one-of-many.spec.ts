import { expect, type Page } from '@playwright/test';
import { remarkOf } from '@tea-pencil/core';
import { signedIn } from '../support/people';
import { bringIn } from '../support/revised';
import { test } from '../support/test';

/** One change or thread that cannot be drawn takes none of the others down. */

/** Has the server answer with something that no screen reckons with. */
async function spoil<T>(page: Page, at: RegExp, change: (answer: T) => void): Promise<void> {
  await page.route(at, async (route) => {
    const response = await route.fetch();
    const answer = (await response.json()) as T;
    change(answer);
    await route.fulfill({ response, json: answer });
  });
}

// What cannot be read is made so on purpose.
test.use({ stumbles: true });

test('a change in the ledger and a thread that cannot be read leave all others in sight', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const id = await bringIn(page, 'One of many', 12);
  for (const [thread, words] of [
    ['one', 'First.'],
    ['two', 'Second.'],
  ]) {
    const comment = { id: `${id}-${thread}`, body: remarkOf(words!) };
    const data = { id: `${id}-${thread}-t`, whole: true, comment };
    expect((await page.request.post(`/api/manuscripts/${id}/threads`, { data })).ok()).toBe(true);
  }
  await page.getByRole('link', { name: 'Ledger' }).click();
  for (const number of [1, 2]) await page.getByRole('checkbox', { name: `Choose no. ${number}`, exact: true }).check();
  await page.getByRole('button', { name: 'Reject 2', exact: true }).click();
  await expect(page.getByTestId('states')).toHaveText('10 to decide, 0 accepted, 2 rejected');

  await spoil<{ decided: { sentence: unknown }[] }>(
    page,
    /\/api\/.*\/ledger$/,
    ({ decided }) => (decided[0]!.sentence = null),
  );
  await spoil<{ comments: { body: unknown }[] }[]>(
    page,
    /\/api\/.*\/threads$/,
    ([first]) => (first!.comments[0]!.body = null),
  );
  await page.reload();
  await expect(page.getByText('This change cannot be shown. What was kept is safe.')).toHaveCount(1);
  await expect(page.locator('[data-row]')).toHaveCount(11);
  await page.getByRole('link', { name: 'Talk' }).click();
  await expect(page.getByText('This thread cannot be shown. What was kept is safe.')).toHaveCount(1);
  await expect(page.getByRole('listitem').filter({ hasText: 'Second.' })).toBeVisible();
  // What is asked again just now would be answered when nobody is there any more.
  await page.unrouteAll({ behavior: 'ignoreErrors' });
});
