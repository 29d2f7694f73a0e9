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
  await edits(ines, shot, address);

  const night = await enter(browser, address, 'Tobias', { colorScheme: 'dark' });
  await open(night, '3 · The Wrack Line');
  await night.locator('ins.insertion', { hasText: 'mermaid’s' }).first().click();
  await night.waitForTimeout(400);
  await shot(night, 'manuscript-dark');
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
