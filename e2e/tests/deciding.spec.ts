import { expect } from '@playwright/test';
import { listChanges } from '@tea-pencil/core';
import { kept, selectWords, sheet, signedIn } from '../support/people';
import { heldText, startWith, putInTable } from '../support/texts';
import { test } from '../support/test';

test('alike changes are decided in one act, and taken back in one', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Alike', 'A crab. Another crab. No crabs.');
  for (const before of ['A ', 'Another ']) {
    await selectWords(page, `${before}crab`);
    await page.keyboard.press('ArrowRight');
    for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowLeft');
    await page.keyboard.type('prawn');
  }
  await expect(page.getByTestId('pending')).toHaveText('2');
  await sheet(page).locator('ins.insertion').first().click();
  const slip = page.getByRole('dialog');
  await expect(slip).toContainText('This and 1 alike');
  await slip.getByRole('button', { name: 'Accept 2' }).click();
  await expect(page.getByTestId('pending')).toHaveText('0');
  await expect(sheet(page)).toHaveText('A prawn. Another prawn. No crabs.');
  await page.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(page.getByTestId('pending')).toHaveText('2');
  await expect(sheet(page).locator('del.deletion')).toHaveText(['crab', 'crab']);
  await expect(kept(page)).toBeVisible();
  await page.reload();
  await expect(page.getByTestId('pending')).toHaveText('2');

  // What can be taken back is offered in its own manuscript only.
  await sheet(page).locator('ins.insertion').first().click();
  await slip.getByRole('button', { name: 'Accept 2' }).click();
  await expect(page.getByRole('button', { name: 'Take back', exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Desk' }).click();
  await expect(page.getByRole('button', { name: 'Take back', exact: true })).toHaveCount(0);
});

test('rows and columns of a table are recorded and decided', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Low waters', 'Low waters');
  const menu = async (name: string, item: string) => {
    await page.getByRole('button', { name, exact: true }).click();
    await page.getByRole('menuitem', { name: item }).click();
    await expect(sheet(page)).toBeFocused();
  };
  await page.keyboard.press('F2');
  await putInTable(page, 3, 3);
  for (const word of ['Day', 'Time', 'Height', 'Mon', '06:12', '0.4', 'Tue', '06:55', '0.3']) {
    await page.keyboard.type(word);
    if (word !== '0.3') await page.keyboard.press('Tab');
  }
  await page.keyboard.press('F2');
  await expect(page.getByTestId('pending')).toHaveText('0');
  await page.locator('td', { hasText: '06:12' }).click();
  await menu('Table', 'Delete this row');
  await menu('Table', 'Column behind');
  await expect(page.getByTestId('pending')).toHaveText('2');
  await page.locator('.block-deletion td', { hasText: 'Mon' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Accept' }).first().click();
  await expect(page.locator('tr')).toHaveCount(2);
  await page.locator('.block-insertion td').first().click();
  await page.getByRole('dialog').getByRole('button', { name: 'Reject' }).first().click();
  await expect(page.locator('td')).toHaveText(['Day', 'Time', 'Height', 'Tue', '06:55', '0.3']);
  await expect(kept(page)).toBeVisible();
});

test('composed input is one change, and goes in whole', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Composed');
  // The browser's own protocol for input methods.
  const input = await page.context().newCDPSession(page);
  for (const text of ['に', 'にほ', '日本']) {
    await input.send('Input.imeSetComposition', { text, selectionStart: text.length, selectionEnd: text.length });
  }
  await input.send('Input.insertText', { text: '日本' });
  await page.keyboard.type(' ok');
  await expect(sheet(page).locator('ins.insertion')).toHaveText('日本 ok');
  await expect(page.getByTestId('pending')).toHaveText('1');
  await expect(kept(page)).toBeVisible();
});

test('a decision whose answer is lost on the way is made once, and can be taken back', async ({ browser }) => {
  const page = await signedIn(browser, 'Tobias');
  let [asked, lost] = [0, 0];
  await page.routeWebSocket(/\/api\/live/, (window) => {
    const server = window.connectToServer();
    window.onMessage((message) => {
      if (String(message).includes('["decide"')) asked++;
      server.send(message);
    });
    server.onMessage((message) => {
      // Between the asking and the answer, which Socket.IO's packets call 43, nothing comes any more.
      if (lost === 0 && asked === 1) {
        if (!String(message).startsWith('43')) return;
        lost++;
        void window.close();
        void server.close();
      } else window.send(message);
    });
  });
  await startWith(page, 'Lost on the way', 'The weed is dry.');
  await page.keyboard.type(' Two ships.');
  await expect(kept(page)).toBeVisible();
  await page.keyboard.press('F8');
  await expect(page.getByRole('toolbar', { name: 'Read-through' })).toBeFocused();
  await page.keyboard.press('y');
  await expect(sheet(page).locator('ins.insertion')).toHaveCount(0);
  await expect(kept(page)).toBeVisible();
  const back = page.getByRole('toolbar', { name: 'Read-through' }).getByRole('button', { name: 'Take back' });
  await expect(back).toBeEnabled();
  expect([asked, lost]).toEqual([2, 1]);
  await back.click();
  await expect(sheet(page).locator('ins.insertion')).toHaveText(' Two ships.');
});

test('who decides without a connection and goes is asked, and told before long that nothing was decided', async ({
  browser,
}) => {
  const page = await signedIn(browser, 'Tobias');
  await startWith(page, 'Not decided', 'The weed is dry.');
  await page.keyboard.type(' Two ships.');
  await expect(kept(page)).toBeVisible();
  await page.keyboard.press('F8');
  await expect(page.getByRole('toolbar', { name: 'Read-through' })).toBeFocused();
  await page.context().setOffline(true);
  await expect(page.getByText('The connection to the server is lost.')).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.keyboard.press('y');
  await page.close({ runBeforeUnload: true });
  const question = await asked;
  expect(question.type()).toBe('beforeunload');
  await question.dismiss();
  await expect(page.getByText('The decision did not reach the server. Nothing was decided')).toBeVisible();
  await expect(sheet(page).locator('ins.insertion')).toHaveText(' Two ships.');
  await page.context().setOffline(false);
  await expect(kept(page)).toBeVisible();
  await page.keyboard.press('y');
  await expect(sheet(page).locator('ins.insertion')).toHaveCount(0);
  // Nor is it forgotten that it can be taken back, when that does not arrive.
  const back = page.getByRole('toolbar', { name: 'Read-through' }).getByRole('button', { name: 'Take back' });
  await expect(back).toBeEnabled();
  const decided = page.getByRole('status', { name: 'How far' });
  await expect.poll(async () => listChanges(await heldText(page)).length).toBe(0);
  await page.context().setOffline(true);
  await expect(page.getByText('The connection to the server is lost.')).toBeVisible();
  await back.click();
  await expect(page.getByText('This did not reach the server. The decision stands')).toBeVisible();
  await expect(decided).toHaveText('1 of 1 to decide');
  await page.context().setOffline(false);
  await expect(kept(page)).toBeVisible();
  await back.click();
  await expect(sheet(page).locator('ins.insertion')).toHaveText(' Two ships.');
});
