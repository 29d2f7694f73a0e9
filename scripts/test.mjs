import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { freePort, secretOf, startDatabase } from './database.mjs';
import { ensurePackages, Sentence } from './debian.mjs';
import { failuresOfJest, failuresOfScreens, failuresOfWhole } from './failures.mjs';
import { serve } from './serve.mjs';

/**
 * `npm test`: types, lint, format, the core, the pages, the server against a PostgreSQL of its own, the real interface in
 * Chromium. `npm test -- core`, `-- server threads`, `-- e2e talk` run one part, or of a part the files whose name holds a
 * word; `--watch` behind it runs the part anew whenever something changes.
 */

const home = path.resolve(process.env.TEA_PENCIL_TEST_HOME ?? path.join(root, '.tea-pencil-test'));
const [asked, ...words] = process.argv.slice(2).filter((word) => word !== '--watch');
const watching = process.argv.includes('--watch');
const part = asked === 'screens' ? 'e2e' : asked;
/** So many tests of a kind run side by side, each with a database and a server of its own. */
const hands = { server: 2, e2e: 3 };

const parts = ['types', 'lint', 'format', 'core', 'web', 'server', 'e2e', 'scripts'];
const wants = (name) => !part || part === name;

const total = { passed: 0, failed: 0 };
const failures = [];
const count = (stage, passed, failed, began) => {
  total.passed += passed;
  total.failed += failed;
  console.log(`${stage}: ${passed} passed, ${failed} failed (${Math.round((Date.now() - began) / 1000)} s)\n`);
};

/** Runs a program of ours: whether it ended well, and, where others run too, what it printed, passed on when it ends. */
const run = (program, args, { env = {}, aside = false } = {}) =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, [path.join(root, 'node_modules', program), ...args], {
      cwd: root,
      stdio: ['ignore', aside ? 'pipe' : 'inherit', aside ? 'pipe' : 'inherit'],
      env: { ...process.env, FORCE_COLOR: '0', ...env },
    });
    const said = [];
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (piece) => said.push(piece));
    child.once('exit', (code) => {
      const printed = Buffer.concat(said);
      process.stdout.write(printed);
      resolve({ good: code === 0, printed: String(printed) });
    });
  });

/** A stage that either holds as a whole or does not. */
async function whole(stage, program, args) {
  if (!wants(stage.split(' ')[0])) return;
  const began = Date.now();
  const { good, printed } = await run(program, args, { aside: true });
  failures.push(...failuresOfWhole({ stage, good, printed }));
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

async function jest(stage, { env = {}, workers = 1, aside = false } = {}) {
  if (!wants(stage)) return;
  const began = Date.now();
  rmSync(report(stage), { force: true });
  const args = [
    // A test that was given up may leave connections open: the run ends all the same.
    ...['--rootDir', stage, '--config', path.join(root, 'jest.config.json'), '--verbose', '--forceExit'],
    ...['--json', `--outputFile=${report(stage)}`],
    workers === 1 ? '--runInBand' : `--maxWorkers=${workers}`,
    ...words,
  ];
  const { good } = await run('jest/bin/jest.js', args, { env, aside });
  countJest(stage, readReport(stage), good, began);
}

function countJest(stage, result, good, began) {
  const passed = result?.numPassedTests ?? 0;
  const failed = (result?.numFailedTests ?? 0) + (result?.numRuntimeErrorTestSuites ?? 0);
  countAll(stage, { passed, failed, good, named: failuresOfJest(result) }, began);
}

/** A run that tests nothing, or that ends badly without saying which test failed, has failed. */
function countAll(stage, { passed, failed, good, named }, began) {
  const holds = failed > 0 || (good && passed > 0);
  failures.push(...named, ...failuresOfWhole({ stage, good: holds, printed: `${passed} passed, and it ended badly` }));
  count(stage, passed, holds ? failed : 1, began);
}

/** The core's laws once more with cases that nobody has tried: the seed is said, so that they can be. */
async function lawsAnew(aside) {
  if (!wants('core') || words.length) return;
  const began = Date.now();
  const seed = String(Date.now() % 1_000_000);
  console.log(`The laws with seed ${seed} (again with: LAWS_SEED=${seed} npm test -- core laws)`);
  const file = report('laws');
  rmSync(file, { force: true });
  const args = ['--rootDir', 'core', '--config', path.join(root, 'jest.config.json'), '--runInBand', '/laws|/correct'];
  const { good } = await run('jest/bin/jest.js', [...args, '--json', `--outputFile=${file}`], {
    env: { LAWS_SEED: seed },
    aside,
  });
  countJest('laws, other cases', readReport('laws'), good, began);
}

/** As many servers as there are hands, each on a copy of one database. */
async function serversFor(stage, database) {
  process.env.TEA_PENCIL_API_DOCS = '1'; // the table of all routes is checked against it
  process.env.TEA_PENCIL_REQUESTS = '1000000'; // a few people are many here
  process.env.TEA_PENCIL_MAIL_PAUSE = '1'; // mail goes out when nothing has come for a second
  const template = await freshDatabase(database.url, stage);
  const first = await serve({ home, port: await freePort(), databaseUrl: template });
  await first.stop();
  const servers = [];
  for (let n = 0; n < hands[stage]; n++) {
    const databaseUrl = await freshDatabase(database.url, `${stage}_${n}`, stage);
    servers.push(await serve({ home, port: await freePort(), databaseUrl }));
  }
  return {
    addresses: servers.map(({ address }) => address).join(),
    databases: servers.map(({ url }) => url).join(),
    stop: () => Promise.all(servers.map(({ stop }) => stop())),
  };
}

/** The server's tests; files that change nothing of its environment share the servers. */
async function serverTests(database) {
  if (!wants('server')) return;
  const servers = await serversFor('server', database);
  const env = {
    TEA_PENCIL_TEST_ADDRESSES: servers.addresses,
    TEA_PENCIL_TEST_DATABASES: servers.databases,
    TEA_PENCIL_TEST_TEMPLATE: 'server',
    TEA_PENCIL_SECRET: secretOf(home, 'session-secret'),
  };
  await jest('server', { env, workers: hands.server });
  await servers.stop();
}

/** The real interface, in as many browsers as there are hands. */
async function screens(database) {
  if (!wants('e2e')) return;
  const began = Date.now();
  rmSync(report('e2e'), { force: true });
  const servers = await serversFor('e2e', database);
  // A house in which nobody is yet.
  const url = await freshDatabase(database.url, 'e2e_empty');
  const empty = await serve({ home, port: await freePort(), databaseUrl: url, demo: false });
  const config = path.join(root, 'e2e/playwright.config.ts');
  const env = {
    TEA_PENCIL_ADDRESSES: servers.addresses,
    TEA_PENCIL_EMPTY_ADDRESS: empty.address,
    TEA_PENCIL_REPORT: report('e2e'),
    TEA_PENCIL_TRACES: path.join(home, 'traces'),
    TEA_PENCIL_TRACE_PAGES: words.length ? '1' : '',
  };
  rmSync(env.TEA_PENCIL_TRACES, { recursive: true, force: true });
  const { good } = await run('@playwright/test/cli.js', ['test', '--config', config, ...words], { env });
  await Promise.all([servers.stop(), empty.stop()]);
  const result = readReport('e2e');
  const { expected = 0, unexpected = 0, flaky = 0 } = result?.stats ?? {};
  const failed = unexpected + flaky;
  countAll('e2e', { passed: expected, failed, good, named: failuresOfScreens(result) }, began);
  if (existsSync(env.TEA_PENCIL_TRACES) && failed) {
    console.log(`What a failing test saw is in ${env.TEA_PENCIL_TRACES}:`);
    for (const name of readdirSync(env.TEA_PENCIL_TRACES)) console.log(`  ${name}`);
  }
}

/** A new database of that name in the cluster of the tests: empty, or a copy of another. */
async function freshDatabase(url, name, template = 'template1') {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
  await client.query(`CREATE DATABASE ${name} TEMPLATE ${template}`);
  await client.end();
  return url.replace(/\/postgres$/, `/${name}`);
}

async function test() {
  if (part && !parts.includes(part)) throw new Sentence(`There is no part “${part}”; there are: ${parts.join(', ')}.`);
  mkdirSync(home, { recursive: true });
  ensurePackages([
    'postgresql',
    'chromium-headless-shell',
    'pandoc',
    'python3-docx',
    'python3-odf',
    'emacs-common',
    'jing',
    'unicode-data',
    'poppler-utils',
    'codespell',
    'hunspell',
  ]);
  ensureModules();
  build();
  const reading = async () => {
    await whole('types of the pages', 'typescript/bin/tsc', ['-p', 'web']);
    await whole('types of the tests', 'typescript/bin/tsc', ['-p', 'tsconfig.tests.json']);
    await whole('lint', 'eslint/bin/eslint.js', ['.', '--max-warnings', '0']);
    await whole('format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']);
    await jest('web', { aside: !part });
    await jest('scripts', { aside: !part });
    await lawsAnew(!part);
  };
  await Promise.all([jest('core', { aside: !part }), reading()]);
  const database = wants('server') || wants('e2e') ? await startDatabase(home) : null;
  try {
    if (database) {
      await serverTests(database);
      await screens(database);
    }
  } finally {
    database?.stop();
  }
}

/** Runs one part anew whenever one of its files, or of those it is made of, has changed. */
async function watch() {
  const { watch: look } = await import('node:fs');
  let waiting = false;
  let busy = false;
  const again = async () => {
    if (busy) return void (waiting = true);
    busy = true;
    Object.assign(total, { passed: 0, failed: 0 });
    await test().catch((problem) => console.error(problem instanceof Sentence ? problem.message : problem));
    console.log(`${total.passed} passed, ${total.failed} failed; waiting for changes …`);
    busy = false;
    if (waiting) {
      waiting = false;
      await again();
    }
  };
  let timer;
  for (const folder of ['core', 'wire', 'server', 'web', 'e2e'])
    for (const inside of ['src', 'test', 'tests', 'support'])
      if (existsSync(path.join(root, folder, inside)))
        look(path.join(root, folder, inside), { recursive: true }, () => {
          clearTimeout(timer);
          timer = setTimeout(again, 200);
        });
  await again();
}

if (watching) await watch();
else
  test()
    .catch((problem) => {
      console.error(problem instanceof Sentence ? problem.message : problem);
      total.failed += 1;
    })
    .finally(() => {
      // In a long run what failed has long gone by.
      for (const { title, message } of failures) console.log(`Failed: ${title.replace(`${root}/`, '')}\n${message}\n`);
      console.log(`${total.passed} passed, ${total.failed} failed`);
      process.exit(total.failed ? 1 : 0);
    });
