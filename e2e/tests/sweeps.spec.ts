import { expect, type Page } from '@playwright/test';
import { sheet, signedIn } from '../support/people';
import { caret, held, press, startWith, together } from '../support/texts';
import { test } from '../support/test';

/** The same edit in many places at once. */

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signedIn(browser, 'Tobias');
});
test.afterAll(() => page.context().close());

test('what is found is replaced as one sweep, in pencil or in ink, and decided as one or place by place', async () => {
  const lines = ['The shoar is long.', 'A Shoar, and shoars again.'];
  await startWith(page, 'Sweep', ...lines);
  await press(page, 'F3');
  await page.getByLabel('Find', { exact: true }).fill('shoar');
  await expect(page.getByText('3 places found')).toBeVisible();
  await page.getByLabel('Same case').check();
  await expect(page.getByText('2 places found')).toBeVisible();
  await page.getByLabel('Whole words').check();
  await expect(page.getByText('1 place found')).toBeVisible();
  await page.getByLabel('Same case').uncheck();
  await page.getByLabel('Whole words').uncheck();
  await page.getByLabel('Expression').check();
  await page.getByLabel('Find', { exact: true }).fill('(');
  await expect(page.getByText('This is not a regular expression')).toBeVisible();
  await page.getByLabel('Find', { exact: true }).fill('([Ss])hoar');
  await page.getByLabel('Replace with').fill('$1hore');
  await expect(page.getByText('3 places found')).toBeVisible();
  await page.getByRole('button', { name: 'Replace 3 in pencil' }).click();
  const swept = await held(page);
  expect(swept).toMatchObject({ before: lines.join('\n'), fair: 'The shore is long.\nA Shore, and shores again.' });
  expect(swept.kinds).toEqual(['replacement', 'replacement', 'replacement']);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await sheet(page).locator('ins.insertion').first().click();
  const slip = page.getByRole('dialog');
  await expect(slip.getByRole('group', { name: 'All 3 of this sweep' })).toBeVisible();
  await slip.getByRole('button', { name: 'Reject', exact: true }).click();
  await expect(page.getByTestId('pending')).toHaveText('2');
  await sheet(page).locator('ins.insertion').first().click();
  await page.getByRole('group', { name: 'All 2 of this sweep' }).getByRole('button', { name: 'Accept' }).click();
  await expect(page.getByTestId('pending')).toHaveText('0');
  await expect.poll(async () => (await held(page)).fair).toBe('The shoar is long.\nA Shore, and shores again.');
  await press(page, 'F3');
  await page.getByLabel('Find', { exact: true }).fill('shores?');
  await page.getByLabel('Expression').check();
  await page.getByLabel('Replace with').fill('beach');
  await page.getByRole('button', { name: 'Replace 2 in ink' }).click();
  await expect
    .poll(() => held(page))
    .toMatchObject({ fair: 'The shoar is long.\nA beach, and beach again.', kinds: [] });
});

test('others write all the while: what is found stays left out where it was, and is replaced in its place', async ({
  browser,
}) => {
  const lines = ['A shoar.', 'The shoar.', 'No shoar here.'];
  const { tobias, others } = await together(browser, 'Sweep beside', lines, { Ines: 'proposer' });
  const ines = others[0]!;
  await caret(ines, 'before', 'A shoar');
  /** Ines writes, a letter after the other and a line after the other, until the returned function is called. */
  const writing = () => {
    let on = true;
    const written = (async () => {
      for (let i = 1; on; i++) await ines.keyboard.press(i % 6 ? 'q' : 'Enter', { delay: 60 });
    })();
    return async () => {
      on = false;
      await written;
    };
  };
  let rest = writing();
  await press(tobias, 'F3');
  await tobias.getByLabel('Find', { exact: true }).fill('shoar');
  await expect(tobias.getByText('3 places found')).toBeVisible();
  await tobias.getByLabel('Replace with').fill('beach');
  await tobias.getByRole('checkbox', { name: 'Replace shoar' }).nth(1).uncheck();
  await rest();
  // A place above those that are chosen: they have other numbers from now on.
  await ines.keyboard.type(' shoar ');
  rest = writing();
  await expect(tobias.getByText('4 places found, 1 left out')).toBeVisible();
  await tobias.getByRole('button', { name: 'Replace 3 in pencil' }).click();
  await expect(tobias.getByText('Recorded as one sweep: 3 places.')).toBeVisible();
  await rest();
  await expect
    .poll(async () => (await held(tobias)).fair.replace(/[q\s]+/g, ' ').trim())
    .toBe('beach A beach. The shoar. No beach here.');
});

test('only within paragraphs of a style, and without the places that are ticked off', async () => {
  await startWith(page, 'Sweep in headings', 'Tides', 'Tides come. Tides go.');
  await caret(page, 'before', 'Tides');
  await press(page, 'F2');
  await page.getByRole('combobox', { name: 'Paragraph style' }).click();
  await page.getByRole('option', { name: 'Heading 1' }).click();
  await press(page, 'F2');
  await press(page, 'F3');
  await page.getByLabel('Find', { exact: true }).fill('Tides');
  await page.getByRole('combobox', { name: 'In paragraphs of this style' }).click();
  await page.getByRole('option', { name: 'in body text' }).click();
  await expect(page.getByText('2 places found')).toBeVisible();
  await page.getByLabel('Replace with').fill('Currents');
  await page.getByLabel('Replace Tides in paragraph 2').first().uncheck();
  await page.getByRole('button', { name: 'Replace 1 in pencil' }).click();
  await expect.poll(async () => (await held(page)).fair).toBe('Tides\nTides come. Currents go.');
});

test('a search that is slow to begin is waited for; an expression that could try for ever is answered at once', async () => {
  const slow = await signedIn(page.context().browser()!, 'Tobias');
  await slow.route(/search-worker/, async (route) => {
    await new Promise((done) => setTimeout(done, 5000));
    await route.continue();
  });
  await startWith(slow, 'Slow to begin', `${'a'.repeat(60)}!`, 'The tide.');
  await press(slow, 'F3');
  await slow.getByLabel('Find', { exact: true }).fill('tide');
  await expect(slow.getByText('1 place found')).toBeVisible();
  await slow.unroute(/search-worker/);
  await slow.getByLabel('Expression').check();
  await slow.getByLabel('Find', { exact: true }).fill('(a+)+$');
  await expect(slow.getByText('Not in this text')).toBeVisible();
  await slow.getByLabel('Find', { exact: true }).fill('tide(?=.)');
  await expect(slow.getByText('it may not look ahead')).toBeVisible();
  await slow.getByLabel('Find', { exact: true }).fill('(a+)+b');
  await slow.getByLabel('Find', { exact: true }).fill('t.de');
  await expect(slow.getByText('1 place found')).toBeVisible();
});
