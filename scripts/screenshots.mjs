import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { freePort } from './database.mjs';
import { chromium as executablePath, ensurePackages, Sentence } from './debian.mjs';
import { edits } from './screenshot-edits.mjs';
import { serve } from './serve.mjs';

/** `npm run screenshots`: one current picture of each main view, from fresh demo data, into docs/screenshots/. */

const folder = path.join(root, 'docs/screenshots');

async function enter(browser, address, name, options = {}) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB', ...options });
  const page = await context.newPage();
  await page.goto(`${address}/sign-in`);
  await page.getByRole('button', { name: new RegExp(name) }).click();
  await page.getByRole('heading', { name: 'Manuscripts' }).waitFor();
  return page;
}

async function open(page, title) {
  await page.getByRole('link', { name: title }).click();
  await page.locator('.ProseMirror').waitFor();
  await page.waitForTimeout(900);
}

/** Going through the revisions: read-through, ledger, drafts. */
async function reviewing(page, shot) {
  const settle = () => page.waitForTimeout(500);
  await page.keyboard.press('F8');
  for (const key of ['j', 'j', 's']) await page.keyboard.press(key);
  await page.getByRole('button', { name: /^Outline/ }).click();
  await page.getByRole('toolbar', { name: 'Read-through' }).focus();
  await settle();
  await shot(page, 'read-through');
  await page.getByRole('button', { name: /^Outline/ }).click();
  await page.getByRole('button', { name: 'End the read-through' }).click();
  await page.getByRole('link', { name: 'Ledger' }).click();
  await settle();
  await page.getByRole('checkbox', { name: 'Choose no. 2', exact: true }).check();
  await settle();
  await shot(page, 'ledger');
  await page.getByRole('link', { name: 'Drafts' }).click();
  await page.getByRole('button', { name: 'The next difference' }).click();
  await page.waitForTimeout(1200);
  await shot(page, 'drafts');
  await page.getByRole('link', { name: 'Text', exact: true }).click();
  await settle();
}

/** The last look beside the text and as a page, and the style of the press. */
async function lookingOver(page, shot, address) {
  await page.goto(`${address}/`);
  await open(page, '9 · Winter Tides');
  await page.keyboard.press('F6');
  await page.locator('.finding-card').waitFor();
  for (const key of ['j', 'j', 'j', 'j']) await page.keyboard.press(key);
  await page.getByRole('button', { name: 'enough', exact: true }).waitFor();
  await page.waitForTimeout(500);
  await shot(page, 'last-look');
  await page.getByRole('button', { name: 'Page' }).click();
  await page.getByRole('heading', { name: 'Still open' }).waitFor();
  await page.getByRole('button', { name: /in one bank/ }).click();
  await page.waitForTimeout(500);
  await shot(page, 'last-look-page');
  await page.getByRole('link', { name: 'Its rules' }).click();
  await page.getByText('› The wrack line is a ledger.').waitFor();
  await page.mouse.move(640, 790);
  await page.waitForTimeout(300);
  await shot(page, 'house-style');
}

/** The end of the work: the fair copy, pages to print, the report, and figures. */
async function finishing(page, shot, address) {
  await page.goto(`${address}/`);
  await open(page, '3 · The Wrack Line');
  const at = page.url();
  await page.goto(`${at}/fair-copy`);
  await page.getByRole('link', { name: /finding/ }).waitFor();
  const fate = (whose, choice) =>
    page
      .getByRole('group', { name: `What becomes of ${whose}` })
      .getByRole('button', { name: choice })
      .click();
  await page.getByRole('button', { name: 'by person' }).click();
  await fate('maren holt', 'Accept');
  await fate('ines vega', 'Accept');
  await page.getByRole('button', { name: 'Make the fair copy' }).click();
  await page.getByRole('article').waitFor();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await page.getByText('Taken back by').waitFor();
  await fate('maren holt', 'Accept');
  await fate('tobias oyelaran', 'Reject');
  await page.mouse.move(640, 790);
  await page.waitForTimeout(10_000);
  await shot(page, 'fair-copy');
  await page.goto(`${at}/report`);
  await page.getByRole('article').waitFor();
  await page.waitForTimeout(500);
  await shot(page, 'report');
  await page.goto(`${at}/print`);
  await page.getByRole('button', { name: 'Marked', exact: true }).click();
  await page.getByRole('button', { name: 'beside the lines' }).click();
  await page.getByRole('checkbox', { name: /Numbers of lines/ }).check();
  await page.locator('.printed-side .note').first().waitFor();
  await page.mouse.move(640, 790);
  await page.waitForTimeout(1500);
  await shot(page, 'print');
  await page.goto(`${at}/figures`);
  await page.locator('.figure').first().waitFor();
  await page.waitForTimeout(800);
  await shot(page, 'figures');
}

/** Talk: a comment being written, the thread of a change, the list, Post and its outbox. */
async function talking(page, other, shot) {
  const settle = (pause = 700) => page.waitForTimeout(pause);
  await page
    .locator('.ProseMirror p', { hasText: 'Turn the weed' })
    .first()
    .dblclick({ position: { x: 250, y: 12 } });
  await page.keyboard.press('F4');
  const field = page.getByRole('textbox', { name: 'Your comment' });
  await field.pressSequentially('Something softer, so that nothing is torn. @mar');
  await page.keyboard.press('Enter');
  await field.pressSequentially('would you agree?');
  await page.getByRole('button', { name: 'wording' }).click();
  await page.getByRole('textbox', { name: 'Proposed wording' }).fill('a piece of driftwood');
  await settle();
  await page.getByRole('button', { name: 'Comment', exact: true }).last().click();
  await settle();

  const change = page.locator('ins.insertion', { hasText: 'the shore’s own' });
  // The other's caret will stand in the middle of these words, and divide them.
  const piece = `ins.insertion[data-change="${await change.getAttribute('data-change')}"]`;
  await change.click();
  await page.getByRole('dialog').getByRole('button', { name: 'Comment', exact: true }).click();
  await page.keyboard.type('I miss “a kind of”, but this is truer.');
  await page.keyboard.press('Control+Enter');
  await settle();
  await page.keyboard.press('Escape');
  await other.locator(piece).last().click();
  await other.getByRole('dialog').getByRole('textbox', { name: 'Reply' }).pressSequentially('It is also shorter.');
  await other.keyboard.press('Control+Enter');
  await settle();
  await page.locator(piece).last().click();
  await settle();
  await page.keyboard.press('Escape');

  await page.getByRole('link', { name: 'Talk', exact: true }).click();
  await page.getByTestId('threads').waitFor();
  await page.mouse.move(640, 790);
  await settle();
  await shot(page, 'threads');
  await page.getByRole('link', { name: /^Post/ }).click();
  await page.getByTestId('unread').waitFor();
  await settle();
  await shot(page, 'post');
}

async function pictures(browser, address) {
  const shot = (page, name) => page.screenshot({ path: path.join(folder, `${name}.png`) });

  const ines = await enter(browser, address, 'Ines');
  await ines.waitForTimeout(500);
  await shot(ines, 'desk');
  const maren = await enter(browser, address, 'Maren');
  await open(maren, '3 · The Wrack Line');
  await open(ines, '3 · The Wrack Line');
  await ines.getByText('Talitrus or Orchestia').click();
  await ines.waitForTimeout(400);
  await shot(ines, 'manuscript');
  await reviewing(ines, shot);
  await edits(ines, shot, address);
  await lookingOver(ines, shot, address);

  const night = await enter(browser, address, 'Tobias', { colorScheme: 'dark' });
  await open(night, '3 · The Wrack Line');
  await night.getByText('Talitrus or Orchestia').click();
  await night.waitForTimeout(500);
  await shot(night, 'manuscript-dark');

  const phone = await enter(browser, address, 'Tobias', { viewport: { width: 390, height: 844 } });
  await open(phone, '3 · The Wrack Line');
  await phone.getByRole('button', { name: /Read through/ }).click();
  await phone.getByRole('button', { name: 'Next' }).click();
  await phone.waitForTimeout(500);
  await shot(phone, 'phone');

  const tobias = await enter(browser, address, 'Tobias');
  await open(tobias, '3 · The Wrack Line');
  await talking(tobias, maren, shot);
  await sharing(browser, address, shot);
  await finishing(await enter(browser, address, 'Ines'), shot, address);
}

/** The people of a manuscript, and a guest of it. */
async function sharing(browser, address, shot) {
  const page = await enter(browser, address, 'Tobias');
  await open(page, '3 · The Wrack Line');
  const manuscript = `${address}/api${new URL(page.url()).pathname.replace('/m/', '/manuscripts/')}`;
  const ask = (method, to, data) => page.request.fetch(to, { method, data });
  const people = await (await ask('GET', `${address}/api/people`)).json();
  const readers = people.filter(({ name }) => /^(Maren|Harbour)/.test(name)).map(({ id }) => id);
  const group = await ask('POST', `${address}/api/groups`, { name: 'The readers of the series', people: readers });
  const rights = { role: 'remarker', takesAway: false, invites: false };
  await ask('PUT', `${manuscript}/groups/${(await group.json()).id}`, rights);
  await ask('POST', `${manuscript}/invitations`, { ...rights, mail: 'odile@harrow-press.example', message: '' });
  const until = new Date(Date.now() + 4 * 24 * 3600_000).toISOString();
  const made = await ask('POST', `${manuscript}/links`, {
    ...{ name: 'For the harbour office', role: 'proposer', passphrase: 'slack water', endsAt: until, mostUses: null },
  });
  const guest = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' })).newPage();
  await guest.goto((await made.json()).address.replace(/^https?:\/\/[^/]+/, address));
  await guest.getByLabel('Your name').fill('Jo at the harbour');
  await guest.getByLabel('Passphrase of the link').fill('slack water');
  await guest.getByRole('button', { name: 'Come in' }).click();
  await guest.locator('.ProseMirror').waitFor();
  await guest.getByText('Ask at the office before you').first().click();
  await guest.waitForTimeout(1200);
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByRole('heading', { name: 'Links for guests' }).waitFor();
  await page.mouse.move(640, 790);
  await page.waitForTimeout(800);
  await shot(page, 'people');
}

/** The first page of a house in which nobody is yet. */
async function beginning(browser) {
  const home = mkdtempSync(path.join(tmpdir(), 'tea-pencil-'));
  const served = await serve({ home, port: await freePort(), demo: false });
  try {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(served.address);
    await page.getByRole('heading', { name: 'Begin' }).waitFor();
    await page.getByLabel('Your name').fill('Odile Marsh');
    await page.waitForTimeout(500);
    await page.screenshot({ path: path.join(folder, 'begin.png') });
  } finally {
    await served.stop();
    rmSync(home, { recursive: true, force: true });
  }
}

async function main() {
  ensurePackages(['postgresql', 'chromium-headless-shell']);
  ensureModules();
  build();
  mkdirSync(folder, { recursive: true });
  const { chromium } = await import('@playwright/test');
  const home = mkdtempSync(path.join(tmpdir(), 'tea-pencil-'));
  const served = await serve({ home, port: await freePort() });
  const browser = await chromium.launch({
    executablePath,
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
  });
  try {
    await pictures(browser, served.address);
    await beginning(browser);
  } finally {
    await browser.close();
    await served.stop();
    rmSync(home, { recursive: true, force: true });
  }
}

main().catch((problem) => {
  console.error(problem instanceof Sentence ? problem.message : problem);
  process.exit(1);
});
