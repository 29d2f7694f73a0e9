import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Sentence } from './debian.mjs';

export const root = path.resolve(fileURLToPath(import.meta.url), '../..');

/** Builds what has changed since the last build. */

function* files(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const file = path.join(folder, entry.name);
    if (entry.isDirectory()) {
      if (!['node_modules', 'dist', 'test'].includes(entry.name)) yield* files(file);
    } else yield file;
  }
}

function fingerprint(places) {
  const hash = createHash('sha256');
  for (const place of places) {
    const full = path.join(root, place);
    const all = /\.\w+$/.test(place) ? [full] : [...files(full)].sort();
    for (const file of all) hash.update(file.slice(root.length)).update(readFileSync(file));
  }
  return hash.digest('hex');
}

/** Runs the work unless it has been done for these very files. */
function onceFor(name, places, result, work) {
  const stamp = path.join(root, 'node_modules', `.${name}-stamp`);
  const now = fingerprint(places);
  if (existsSync(path.join(root, result)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  work();
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, now);
}

function run(what, program, args) {
  console.error(`${what} …`);
  try {
    execFileSync(program, args, {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, NODE_ENV: undefined },
    });
  } catch (problem) {
    throw new Sentence(`${what} failed:\n${String(problem.stdout)}${String(problem.stderr)}`.trimEnd());
  }
}

/** Installs the packages of the lock file, if they are not those that are there. */
export function ensureModules() {
  onceFor('modules', ['package-lock.json'], 'node_modules/typescript', () => {
    run('Installing packages', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  });
}

const tsc = (folder) => ['node_modules/typescript/bin/tsc', '-p', folder];
const shared = ['tsconfig.base.json', 'package-lock.json'];
const parts = {
  core: { what: 'Building the core', places: ['core/src', 'core/tsconfig.json'], args: tsc('core') },
  wire: {
    what: 'Building the wire',
    places: ['core/src', 'wire/src', 'wire/tsconfig.json'],
    args: tsc('wire'),
  },
  server: {
    what: 'Building the server',
    places: ['core/src', 'wire/src', 'server/src', 'server/tsconfig.json'],
    args: tsc('server'),
  },
  web: {
    what: 'Building the pages',
    places: ['core/src', 'wire/src', 'web'],
    args: ['node_modules/vite/bin/vite.js', 'build', 'web'],
  },
};

/** Builds those of the parts whose files have changed. Without a progress note where nothing is to be done. */
export function build(names = Object.keys(parts)) {
  for (const name of names) {
    const { what, places, args } = parts[name];
    onceFor(name, [...places, ...shared], `${name}/dist`, () => run(what, process.execPath, args));
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  try {
    ensureModules();
    build();
  } catch (problem) {
    console.error(problem instanceof Sentence ? problem.message : problem);
    process.exit(1);
  }
}
