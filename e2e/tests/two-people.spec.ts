import { expect } from '@playwright/test';
import { unzipSync } from 'fflate';
import { bytesOf, comeIn, inviteThem, kept, revisedFile, selectWords, sheet, toPage } from '../support/people';
import { test } from '../support/test';

test('a file is brought in, revised by two people at once, decided and taken away', async ({ browser }) => {
  const tobias = await comeIn(browser, 'Tobias');

  // A DOCX from disk, with the changes and comments of others in it.
  await tobias.getByLabel('File to bring in').setInputFiles({
    name: 'The Second Groyne.docx',
    mimeType: 'application/octet-stream',
    buffer: await revisedFile(),
  });
  await tobias.waitForURL(/\/m\//);
  await expect(tobias.getByText('The file came in whole')).toBeVisible();
  // The people it names are known by nobody here; the keeper is asked once who they are.
  const whoIsWho = tobias.getByRole('dialog', { name: 'Who is who?' });
  await expect(whoIsWho.getByRole('group', { name: 'Piet Sandner' })).toBeVisible();
  await whoIsWho.getByRole('button', { name: 'That is who they are' }).click();
  await expect(whoIsWho).toBeHidden();
  await expect(sheet(tobias).locator('del.deletion')).toHaveText('quick');
  await expect(sheet(tobias).locator('ins.insertion')).toHaveText(['quickly', ' in winter']);
  await expect(tobias.getByText('Which groyne is meant?')).toBeVisible();
  await expect(tobias.getByTestId('pending')).toHaveText('2');
  await sheet(tobias).locator('ins.insertion', { hasText: 'quickly' }).hover();
  await expect(tobias.getByRole('tooltip')).toContainText('Piet Sandner replaced one word');

  // Shared with a second person, in a browser of her own.
  await toPage(tobias, 'People');
  await inviteThem(tobias, 'Ines Vega', 'may decide');
  await toPage(tobias, 'Text');
  const address = new URL(tobias.url()).pathname;
  const ines = await comeIn(browser, 'Ines', address);
  await expect(sheet(ines)).toContainText('Nobody has ever been lost');
  await expect(tobias.getByText('IV', { exact: true })).toBeVisible();

  // In pencil: insertion, deletion, replacement, each seen by the other at once.
  await selectWords(tobias, 'by heart');
  await tobias.keyboard.type('and the moon');
  await expect(sheet(ines).locator('del.deletion', { hasText: 'by heart' })).toBeVisible();
  await expect(sheet(ines).locator('ins.insertion', { hasText: 'and the moon' })).toBeVisible();
  await selectWords(ines, ', and look back often');
  await ines.keyboard.press('Backspace');
  await expect(sheet(tobias).locator('del.deletion', { hasText: ', and look back often' })).toBeVisible();
  await expect(tobias.getByTestId('pending')).toHaveText('4');
  await expect(kept(tobias)).toBeVisible();

  // Ink, plain to see, and back.
  await ines.keyboard.press('F2');
  await expect(ines.locator('.edge.in-ink')).toBeVisible();
  await expect(ines.getByRole('button', { name: 'Ink', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await selectWords(ines, 'Nobody');
  await ines.keyboard.type('No one');
  await expect(sheet(tobias)).toContainText('No one has ever');
  await expect(tobias.getByTestId('pending')).toHaveText('4');
  await ines.keyboard.press('F2');
  await expect(ines.locator('.edge.in-pencil')).toBeVisible();

  // A comment on a selection, answered by the other.
  await selectWords(ines, 'the high sand');
  await ines.keyboard.press('F4');
  await ines.getByLabel('Your comment').fill('Is there a name for it on the map?');
  await ines.getByRole('button', { name: 'Comment', exact: true }).last().click();
  await tobias.getByText('Is there a name for it on the map?').click();
  await tobias.getByLabel('Reply').fill('Gull Bank.');
  await tobias.getByRole('button', { name: 'Reply' }).click();
  await expect(ines.getByText('Gull Bank.')).toBeVisible();
  await expect(sheet(ines).locator('.anchor', { hasText: 'the high sand' })).toBeVisible();

  // One change accepted, another rejected.
  await sheet(ines).locator('ins.insertion', { hasText: 'quickly' }).click();
  const slip = ines.getByRole('dialog', { name: /Change by Piet Sandner/ });
  await expect(slip).toContainText('replaced one word');
  await slip.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(sheet(tobias).locator('del.deletion', { hasText: 'quick' })).toHaveCount(0);
  await sheet(tobias).locator('ins.insertion', { hasText: ' in winter' }).click();
  await tobias.getByRole('dialog').getByRole('button', { name: 'Reject', exact: true }).click();
  await expect(sheet(ines)).not.toContainText('in winter');
  await expect(ines.getByTestId('pending')).toHaveText('2');

  // Both load the page again and find everything as it was.
  const before = await sheet(ines).innerHTML();
  for (const page of [ines, tobias]) {
    await page.reload();
    await expect(sheet(page)).toContainText('No one has ever been lost');
    await expect(page.getByTestId('pending')).toHaveText('2');
    await expect(page.getByText('1 answer, the last by Tobias Oyelaran')).toBeVisible();
  }
  // Where the others are is of the moment only.
  const stripped = (html: string) =>
    html.replace(/ (draggable|contenteditable)="\w+"/g, '').replace(/<span class="other-caret[^>]*><\/span>/g, '');
  expect(stripped(await sheet(ines).innerHTML())).toBe(stripped(before));

  await ines.getByText('1 answer, the last by Tobias Oyelaran').click();
  await expect(ines.getByText('Gull Bank.')).toBeVisible();

  // The copies.
  const take = async (name: string, format = 'DOCX') => {
    await ines.getByRole('button', { name: 'Take away' }).click();
    await ines.getByRole('menuitemradio', { name: format, exact: true }).click();
    const [download] = await Promise.all([ines.waitForEvent('download'), ines.getByRole('menuitem', { name }).click()]);
    return { name: download.suggestedFilename(), bytes: await bytesOf(download) };
  };
  const text = await take('Fair copy, plain text', 'Text');
  expect(text.name).toBe('The Second Groyne (fair copy).txt');
  expect(text.bytes.toString()).toBe(
    'The Second Groyne\nThe tide comes in quickly behind the groyne. Walk on the high sand.\nNo one has ever been lost here who knew the table and the moon.\n',
  );
  const fair = new TextDecoder().decode(unzipSync((await take('Fair copy, DOCX')).bytes)['word/document.xml']);
  expect(fair).toContain('and the moon');
  expect(fair).not.toMatch(/<w:(ins|del) |commentReference/);
  const marked = unzipSync((await take('Marked copy, DOCX')).bytes);
  expect(new TextDecoder().decode(marked['word/document.xml'])).toMatch(/<w:del [^>]*w:author="Tobias Oyelaran"/);
  expect(new TextDecoder().decode(marked['word/comments.xml'])).toContain('Gull Bank.');
});
