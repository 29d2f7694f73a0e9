import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { freePort, startDatabase } from './database.mjs';
import { ensurePackages, Sentence } from './debian.mjs';
import { serve } from './serve.mjs';

/** `npm test`: types, lint, unit, server against a PostgreSQL of its own, the real interface in Chromium. */

const home = path.resolve(process.env.TEA_PENCIL_TEST_HOME ?? path.join(root, '.tea-pencil-test'));
const only = process.argv.slice(2);
const wants = (stage) => only.length === 0 || only.includes(stage);

const total = { passed: 0, failed: 0 };
const count = (stage, passed, failed, began) => {
  total.passed += passed;
  total.failed += failed;
  console.log(`${stage}: ${passed} passed, ${failed} failed (${Math.round((Date.now() - began) / 1000)} s)\n`);
};

/** Runs a program of ours and passes on what it prints; true when it ended well. */
const run = (program, args, env = {}) =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, [path.join(root, 'node_modules', program), ...args], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, FORCE_COLOR: '0', ...env },
    });
    child.once('exit', (code) => resolve(code === 0));
  });

/** A stage that either holds as a whole or does not. */
async function whole(stage, program, args) {
  if (!wants(stage.split(' ')[0])) return;
  const began = Date.now();
  const good = await run(program, args);
  count(stage, good ? 1 : 0, good ? 0 : 1, began);
}

const report = (name) => path.join(home, `${name}.json`);
const readReport = (name) => {
  try {
    return JSON.parse(readFileSync(report(name), 'utf8'));
  } catch {
    return null;
  }
};

async function jest(stage, folder, env = {}) {
  if (!wants(stage)) return;
  const began = Date.now();
  rmSync(report(stage), { force: true });
  const args = [
    '--rootDir',
    folder,
    '--config',
    path.join(root, 'jest.config.json'),
    '--json',
    `--outputFile=${report(stage)}`,
    '--verbose',
    '--runInBand',
  ];
  const good = await run('jest/bin/jest.js', args, env);
  const result = readReport(stage);
  const passed = result?.numPassedTests ?? 0;
  const failed = (result?.numFailedTests ?? 0) + (result?.numRuntimeErrorTestSuites ?? 0);
  // A run that tests nothing, or that ends badly without saying which test failed, has failed.
  count(stage, passed, Math.max(failed, good && passed ? 0 : 1), began);
}

async function screens(databaseUrl) {
  if (!wants('screens')) return;
  const began = Date.now();
  rmSync(report('screens'), { force: true });
  process.env.TEA_PENCIL_MAIL_PAUSE = '1'; // mail goes out when nothing has come for a second
  const served = await serve({ home, port: await freePort(), databaseUrl });
  const config = path.join(root, 'e2e/playwright.config.ts');
  const env = { TEA_PENCIL_ADDRESS: served.address, TEA_PENCIL_REPORT: report('screens') };
  const good = await run('@playwright/test/cli.js', ['test', '--config', config], env);
  await served.stop();
  const { expected = 0, unexpected = 0, flaky = 0 } = readReport('screens')?.stats ?? {};
  count('screens', expected, Math.max(unexpected + flaky, good && expected ? 0 : 1), began);
}

/** A new, empty database of that name in the cluster of the tests. */
async function freshDatabase(url, name) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  return url.replace(/\/postgres$/, `/${name}`);
}

async function test() {
  mkdirSync(home, { recursive: true });
  ensurePackages(['postgresql', 'chromium', 'pandoc', 'unicode-data']);
  ensureModules();
  build();
  await whole('types of the pages', 'typescript/bin/tsc', ['-p', 'web']);
  await whole('types of the tests', 'typescript/bin/tsc', ['-p', 'tsconfig.tests.json']);
  await whole('lint', 'eslint/bin/eslint.js', ['.', '--max-warnings', '0']);
  await whole('format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']);
  await jest('core', 'core');
  await jest('web', 'web');
  if (wants('server') || wants('screens') || wants('scripts')) {
    const database = await startDatabase(home);
    try {
      await jest('server', 'server', { TEA_PENCIL_TEST_DATABASE: await freshDatabase(database.url, 'server_tests') });
      await screens(await freshDatabase(database.url, 'screens'));
    } finally {
      database.stop();
    }
    await jest('scripts', 'scripts');
  }
}

test()
  .catch((problem) => {
    console.error(problem instanceof Sentence ? problem.message : problem);
    total.failed += 1;
  })
  .finally(() => {
    console.log(`${total.passed} passed, ${total.failed} failed`);
    process.exit(total.failed ? 1 : 0);
  });
