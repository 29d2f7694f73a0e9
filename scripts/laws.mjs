import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { ensureModules, root } from './build.mjs';

/** `npm run laws -- --runs N [--seed S [--path P]]`: the laws on many random scripts. */

const options = Object.fromEntries(
  [
    ...process.argv
      .slice(2)
      .join(' ')
      .matchAll(/--(runs|seed|path) (\S+)/g),
  ].map(([, name, value]) => [name, value]),
);
if (!options.runs && !options.seed) {
  console.error('Usage: npm run laws -- --runs N [--seed S [--path P]]   (N scripts for each law)');
  process.exit(1);
}
ensureModules();
const args = [
  '--rootDir',
  'core',
  '--config',
  path.join(root, 'jest.config.json'),
  'test/laws',
  '--testTimeout',
  '86400000',
];
const env = {
  ...process.env,
  LAWS_RUNS: options.runs ?? '700',
  LAWS_SEED: options.seed ?? 'any',
  LAWS_PATH: options.path ?? '',
};
process.exit(
  spawnSync(process.execPath, [path.join(root, 'node_modules/jest/bin/jest.js'), ...args], {
    cwd: root,
    stdio: 'inherit',
    env,
  }).status ?? 1,
);
