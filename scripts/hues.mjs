import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { format, resolveConfig } from 'prettier';
import { build, ensureModules, root } from './build.mjs';

/**
 * `npm run hues`: searches author hues for both themes anew and keeps them in core/src/hues/table.ts; with `--check` it
 * only says whether those that are kept are the ones that the search finds.
 */

ensureModules();
build(['core']);
const { searchHues } = await import('../core/dist/hues/search.js');
const { grounds } = await import('../core/dist/hues/grounds.js');

const light = searchHues(grounds.light);
const dark = searchHues(grounds.dark);
const file = path.join(root, 'core/src/hues/table.ts');
const text = `/** An author's hue: of lines and of text in it, and of the faint ground under inserted words (sRGB, #RRGGBB). */
export interface Hue {
  line: string;
  wash: string;
}

/** Hues that eight people can be told apart by, in both themes. Made by \`npm run hues\` (search.ts), not by hand. */
export const authorHues: { readonly light: readonly Hue[]; readonly dark: readonly Hue[] } = ${JSON.stringify({ light, dark })};
`;
const found = await format(text, { ...(await resolveConfig(file)), parser: 'typescript' });
const where = path.relative(root, file);
if (process.argv.includes('--check')) {
  const same = readFileSync(file, 'utf8') === found;
  console.log(same ? `${where} is what the search finds.` : `${where} is not what the search finds.`);
  process.exitCode = same ? 0 : 1;
} else {
  writeFileSync(file, found);
  console.log(`Written: ${where}`);
}
