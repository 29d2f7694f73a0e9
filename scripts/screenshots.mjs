import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { freePort } from './database.mjs';
import { ensurePackages, Sentence } from './debian.mjs';
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

/** Two people at work in one paragraph: what each of them sees, side by side. */
async function hands(browser, [left, right]) {
  const put = (page, words, whole) =>
    page.evaluate(
      ([wanted, all]) => {
        const walker = document.createTreeWalker(document.querySelector('.ProseMirror'), NodeFilter.SHOW_TEXT);
        for (let node = walker.nextNode(); node; node = walker.nextNode()) {
          const at = node.textContent.indexOf(wanted);
          if (at < 0) continue;
          document.querySelector('.ProseMirror').focus();
          const end = at + wanted.length;
          return getSelection().setBaseAndExtent(node, all ? at : end, node, end);
        }
      },
      [words, whole],
    );
  await put(left, 'Give them a minute', false);
  await left.waitForTimeout(300);
  await left.keyboard.type(' or two');
  await put(right, 'each into a hole', true);
  await right.waitForTimeout(800);
  const shots = [];
  for (const page of [left, right]) {
    const image = await page.screenshot({ clip: { x: 0, y: 0, width: 1280, height: 560 } });
    shots.push(`<img width="640" src="data:image/png;base64,${image.toString('base64')}">`);
  }
  const page = await (await browser.newContext({ viewport: { width: 1290, height: 280 } })).newPage();
  await page.setContent(`<body style="margin:0;display:flex;gap:10px;background:#888">${shots.join('')}</body>`);
  await page.waitForTimeout(300);
  await page.screenshot({ path: path.join(folder, 'two-people.png') });
  await left.keyboard.press('Control+z');
  await left.waitForTimeout(500);
  await put(right, 'Turn the weed', false);
}

/** Going through the revisions: readings, flow, lens, read-through, ledger. */
async function reviewing(page, shot, end) {
  const settle = () => page.waitForTimeout(500);
  const named = (name) => page.getByRole('button', { name, exact: true });
  if (!end) {
    await page.getByRole('button', { name: /^Flow/ }).click();
    await named('as fair').click();
    await page.keyboard.press('Escape');
    await page.mouse.move(640, 780);
    await settle();
    await shot(page, 'flow-as-fair');
    await page.getByRole('button', { name: /^Flow/ }).click();
    await named('both').click();
    await page.keyboard.press('Escape');
    await named('Fair').click();
    await settle();
    await shot(page, 'reading-fair');
    await named('Before').click();
    await settle();
    await shot(page, 'reading-before');
    await named('Marked').click();
    await page.getByRole('button', { name: /^Lens/ }).click();
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /Ines|You/ })
      .first()
      .click();
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /replacements/ })
      .click();
    await settle();
    await shot(page, 'lens');
    await named('Done').click();
    await page.keyboard.press('F9');
  }
  await page.keyboard.press('F8');
  for (const key of ['j', 'j', 's']) await page.keyboard.press(key);
  await page.getByRole('button', { name: /^Outline/ }).click();
  await page.getByRole('toolbar', { name: 'Read-through' }).focus();
  await settle();
  await shot(page, `read-through${end}`);
  await page.getByRole('button', { name: /^Outline/ }).click();
  await page.getByRole('button', { name: 'End the read-through' }).click();
  await page.getByRole('link', { name: 'Ledger' }).click();
  await settle();
  await page.getByRole('checkbox', { name: 'Choose no. 2', exact: true }).check();
  await settle();
  await shot(page, `ledger${end}`);
}

async function pictures(browser, address) {
  const shot = (page, name) => page.screenshot({ path: path.join(folder, `${name}.png`) });

  const visitor = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await visitor.goto(address);
  await visitor.getByRole('button', { name: /Ines Vega/ }).waitFor();
  await shot(visitor, 'sign-in');

  const ines = await enter(browser, address, 'Ines');
  await ines.waitForTimeout(500);
  await shot(ines, 'desk');
  const maren = await enter(browser, address, 'Maren');
  await open(maren, '3 · The Wrack Line');
  await open(ines, '3 · The Wrack Line');
  await hands(browser, [maren, ines]);
  await ines.getByText('Talitrus or Orchestia').click();
  await ines.waitForTimeout(400);
  await shot(ines, 'manuscript');
  await ines.locator('ins.insertion', { hasText: 'the shore’s own' }).click();
  await ines.waitForTimeout(400);
  await shot(ines, 'manuscript-slip');
  await ines.keyboard.press('Escape');
  await ines.keyboard.press('F2');
  await ines.waitForTimeout(300);
  await shot(ines, 'manuscript-ink');
  await ines.keyboard.press('F2');
  await ines.getByRole('button', { name: 'People' }).click();
  await ines.waitForTimeout(400);
  await shot(ines, 'people');

  await ines.keyboard.press('Escape');
  await reviewing(ines, shot, '');
  await edits(ines, shot, address);

  const night = await enter(browser, address, 'Tobias', { colorScheme: 'dark' });
  await open(night, '3 · The Wrack Line');
  await night.locator('ins.insertion', { hasText: 'mermaid’s' }).first().click();
  await night.waitForTimeout(400);
  await shot(night, 'manuscript-dark');
  await night.keyboard.press('Escape');
  await reviewing(night, shot, '-dark');
}

async function main() {
  ensurePackages(['postgresql', 'chromium']);
  ensureModules();
  build();
  mkdirSync(folder, { recursive: true });
  const { chromium } = await import('@playwright/test');
  const home = mkdtempSync(path.join(tmpdir(), 'tea-pencil-'));
  const served = await serve({ home, port: await freePort() });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
  });
  try {
    await pictures(browser, served.address);
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
