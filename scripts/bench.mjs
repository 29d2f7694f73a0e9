import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';

/** `npm run bench -- NAME`: measures and prints ratios; nothing here passes or fails. */

const names = readdirSync(path.join(root, 'bench')).flatMap((file) =>
  file.endsWith('.mjs') && file !== 'book.mjs' ? [file.slice(0, -4)] : [],
);
const name = process.argv[2];
if (!name || !existsSync(path.join(root, 'bench', `${name}.mjs`))) {
  console.error(`Usage: npm run bench -- NAME, where NAME is one of: ${names.join(', ')}`);
  process.exit(1);
}
ensureModules();
build(['core']);
const { run } = await import(`../bench/${name}.mjs`);
await run();
