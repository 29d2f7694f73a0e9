import { readFile } from 'node:fs/promises';
import { parse } from 'csv-parse/sync';
import { expect, type Locator } from '@playwright/test';
import { listChanges } from '@tea-pencil/core';
import { comeIn, kept, sheet, signedIn } from '../support/people';
import { bringIn } from '../support/revised';
import { caret, heldText, press, startWith } from '../support/texts';
import { test } from '../support/test';

test('the ledger lists, groups, chooses and decides; decided changes stay; rows lead to their words and back', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await bringIn(page, 'The ledger', 60);
  const doc = await heldText(page);
  await page.getByRole('link', { name: 'Ledger' }).click();
  const states = page.getByTestId('states');
  await expect(states).toHaveText('60 to decide, 0 accepted, 0 rejected');
  const rows = page.locator('[data-row]');
  await expect(rows.first()).toContainText('very0');

  // Groups: the same replacement by the same author is together.
  await page.getByRole('group', { name: 'Together by' }).getByRole('button', { name: 'alike' }).click();
  const group = page.locator('.ledger-group').first();
  await expect(group).toContainText('mermaids → mermaid’s, 3 alike');
  await group.getByRole('checkbox').check();
  await expect(page.getByTestId('chosen')).toHaveText('3');
  await page.getByRole('button', { name: 'Accept 3' }).click();
  await expect(states).toHaveText('57 to decide, 3 accepted, 0 rejected');
  // One of them alone is taken back in its row, all that were decided then by their number, or those that are chosen.
  const accepted = page.locator('[data-row]', { hasText: 'accepted by you' });
  await accepted.first().getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(states).toHaveText('58 to decide, 2 accepted, 0 rejected');
  await expect(accepted).toHaveCount(2);
  await accepted.first().getByRole('button', { name: 'all 2', exact: true }).click();
  await expect(states).toHaveText('60 to decide, 0 accepted, 0 rejected');
  await group.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Accept 3' }).click();
  await expect(states).toHaveText('57 to decide, 3 accepted, 0 rejected');
  await expect(accepted).toHaveCount(3);
  for (const row of await accepted.all()) await row.getByRole('checkbox').check();
  await accepted.first().getByRole('checkbox').uncheck();
  await page.getByRole('button', { name: 'Take back 2', exact: true }).click();
  await expect(states).toHaveText('59 to decide, 1 accepted, 0 rejected');
  await expect(accepted.getByRole('button', { name: /^all/ })).toHaveCount(0);
  await accepted.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(states).toHaveText('60 to decide, 0 accepted, 0 rejected');

  await page.getByRole('group', { name: 'Together by' }).getByRole('button', { name: 'nothing' }).click();
  await page.getByRole('checkbox', { name: 'Choose no. 2', exact: true }).check();
  await page.getByRole('button', { name: 'Reject 1', exact: true }).click();
  await expect(states).toHaveText('59 to decide, 0 accepted, 1 rejected');
  await page.reload();
  const rejected = page.locator('[data-row]', { hasText: 'rejected by you' });
  await expect(rejected).toContainText('quite1');

  // A decided change leads to where its words are, and back to the ledger.
  await rejected.getByTitle('Go to its words').click();
  await expect(page).toHaveURL(/\/m\/[^/]+$/);
  await expect(sheet(page)).toContainText('quite1');
  await page.goBack();
  await expect(states).toBeVisible();

  // The same lens, and the columns sort.
  await page.getByRole('button', { name: /^Lens/ }).click();
  await page.getByRole('dialog', { name: 'Lens' }).getByRole('button', { name: 'decided', exact: true }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(rows).toHaveCount(1);
  await page.keyboard.press('F9');
  await page.getByRole('button', { name: /^Author/ }).click();
  await expect(page.getByRole('columnheader', { name: /Author/ })).toHaveAttribute('aria-sort', 'ascending');
  await expect(rows.first()).toContainText('Hob Carrow');

  // Taken away: what a reader of the standard finds is what the core lists.
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Take away as CSV' }).click(),
  ]);
  const [head, ...lines] = parse(await readFile(await download.path(), 'utf8')) as string[][];
  const column = (name: string) => lines.map((line) => line[head!.indexOf(name)]!);
  expect(lines).toHaveLength(60);
  const words = (list: string[]) => [...list].sort();
  expect(words(column('Words after'))).toEqual(words(listChanges(doc).map(({ after }) => after)));
  expect(column('State').filter((state) => state === 'rejected')).toHaveLength(1);
  expect(new Set(column('Author')).size).toBe(5);
});

test('one who may not decide reads the ledger and chooses nothing', async ({ browser }) => {
  const page = await comeIn(browser, 'Maren');
  await page.getByText('3 · The Wrack Line').click();
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(page.getByTestId('states')).toContainText('to decide');
  await expect(page.getByRole('checkbox')).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^(Accept|Reject)/ })).toHaveCount(0);
});

test('an empty ledger says what would stand in it', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  const answer = await page.request.post('/api/manuscripts', { data: { title: 'Nothing yet' } });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(`/m/${id}/ledger`);
  await expect(page.getByText('No change has been made in this manuscript yet.')).toBeVisible();
});

test('a space that went is seen wherever a change is told: in the bar, in its slip, in the ledger, side by side', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Two spaces', 'The tide  comes in over the flats.');
  await caret(page, 'behind', 'The tide');
  await press(page, 'Delete');
  await expect(kept(page)).toBeVisible();
  await press(page, 'Control+End');
  const isSeen = async (inside: Locator) => {
    const sides = inside.locator('.serif');
    // As it is rendered (WHATWG HTML, innerText): spaces that run into one another are not there.
    await expect
      .poll(() => sides.allInnerTexts())
      .toEqual(['The tide  comes in over the flats.', 'The tide comes in over the flats.']);
    const frame = (await inside.locator('.piece-space').boundingBox())!;
    const line = (await sides.first().boundingBox())!;
    expect(frame.width).toBeGreaterThan(6);
    expect(frame.y).toBeGreaterThanOrEqual(line.y);
    expect(frame.y + frame.height).toBeLessThanOrEqual(line.y + line.height);
  };
  // As a hand clicks: the caret is there, and the frame gone, before the button is let go.
  const framed = (await sheet(page).locator('.small-edit').boundingBox())!;
  await page.mouse.move(framed.x + framed.width / 2, framed.y + framed.height / 2);
  await page.mouse.down();
  await expect(sheet(page).locator('.small-edit')).toHaveCount(0);
  await page.mouse.up();
  await isSeen(page.locator('.slip'));
  await press(page, 'F8');
  await isSeen(page.getByRole('toolbar', { name: 'Read-through' }));
  await page.getByRole('link', { name: 'Ledger' }).click();
  await isSeen(page.locator('[data-row]'));
  await page.getByRole('link', { name: 'Drafts' }).click();
  const struck = page.locator('.beside .small-edit.of-space');
  await expect(struck).toHaveCount(1);
  expect((await struck.boundingBox())!.width).toBeGreaterThan(10);
});
