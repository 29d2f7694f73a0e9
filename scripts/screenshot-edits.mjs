/** Every kind of edit as it looks in pencil, in a manuscript of its own. */
export async function edits(page, shot, address) {
  const sheet = page.getByRole('textbox', { name: 'The manuscript' });
  const kept = page.getByRole('status').filter({ hasText: 'All kept' });
  const begin = async (title, lines) => {
    const { id } = await (await page.request.post(`${address}/api/manuscripts`, { data: { title } })).json();
    await page.goto(`${address}/m/${id}`);
    await kept.waitFor();
    await page.getByRole('button', { name: 'Write in pencil' }).waitFor(); // what is new begins in ink
    await sheet.click();
    for (const [i, line] of lines.entries()) {
      if (i) await page.keyboard.press('Enter');
      await page.keyboard.insertText(line);
    }
    await page.keyboard.press('F2');
    await page.waitForTimeout(300);
  };
  /** A sheet that has just got the focus puts its own selection back, so the words are selected until they stay so. */
  const select = async (words) => {
    for (let i = 0; i < 10; i++) {
      await sheet.focus();
      await page.waitForTimeout(120);
      await page.evaluate((wanted) => {
        const walker = document.createTreeWalker(document.querySelector('.ProseMirror'), NodeFilter.SHOW_TEXT);
        for (let node = walker.nextNode(); node; node = walker.nextNode()) {
          const at = node.textContent.indexOf(wanted);
          if (at >= 0) return getSelection().setBaseAndExtent(node, at, node, at + wanted.length);
        }
      }, words);
      await page.waitForTimeout(200);
      if ((await page.evaluate(() => String(getSelection()))) === words) return;
    }
    throw new Error(`“${words}” cannot be selected`);
  };
  const press = async (...keys) => {
    for (const key of keys) await page.keyboard.press(key);
  };
  const look = async (words, choice) => {
    await select(words);
    await page.getByRole('button', { name: 'Colour and size' }).click();
    await page.getByRole('button', { name: choice, exact: true }).click();
    await page.keyboard.press('Escape');
  };

  await begin('Edits of words', [
    'The tide comes in quick over the flats, and the gulls follow it.',
    'Crabs walk sideways. Worms do not walk at all, they are pulled.',
    'Bold, italic, underline, struck, raised 2 and lowered 2, plum words, sea behind, and large.',
    'The map of the shore is kept at the harbour office.',
    'A shoar is a shoar, and the Harrow Shoar is long.',
  ]);
  await select('quick');
  await page.keyboard.type('quickly');
  await select(', and the gulls follow it');
  await press('Delete');
  await select('tide ');
  await press('ArrowRight');
  await page.keyboard.type('always ');
  await select('Crabs walk sideways. ');
  await press('Control+x');
  await select('Worms do not walk at all, they are pulled.');
  await press('ArrowRight', 'Control+v');
  for (const [words, key] of [
    ['Bold', 'b'],
    ['italic', 'i'],
    ['underline', 'u'],
  ]) {
    await select(words);
    await press(`Control+${key}`);
  }
  await look('struck', 'Look: Strike');
  await look('2', 'Look: Superscript');
  await look('plum words', 'Colour: plum');
  await look('sea behind', 'Highlight: sea');
  await look('large', 'Size: large');
  await select('The map');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Address').fill('https://harrow.example/map');
  await page.getByRole('button', { name: 'Set' }).click();
  await press('F3');
  await page.getByLabel('Find', { exact: true }).fill('shoar');
  await page.getByLabel('Replace with').fill('shore');
  await page.waitForTimeout(600);
  await page.getByLabel('Same case').check();
  await page.waitForTimeout(400);
  await page.getByRole('button', { name: /in pencil/ }).click();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.waitForTimeout(6000); // until the note about the sweep has gone
  await shot(page, 'edits-of-words');
}
