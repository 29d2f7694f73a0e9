import { build, ensureModules } from './build.mjs';

/**
 * `npm run mutants -- --runs N [--seed S] [--format F]`: damaged files of every format, a few bytes or some mark-up changed by
 * chance. Each is read or refused with a sentence, and what was read can be written; nothing else ever happens.
 */

const options = Object.fromEntries(
  [
    ...process.argv
      .slice(2)
      .join(' ')
      .matchAll(/--(runs|seed) (\d+)/g),
  ].map(([, name, value]) => [name, Number(value)]),
);
const { runs = 1000, seed = Date.now() % 1e9 } = options;
ensureModules();
build(['core']);
const { mutants } = await import('./mutating.mjs');
const { kinds } = await import('../core/dist/index.js');
const [, only] = /--format (\w+)/.exec(process.argv.slice(2).join(' ')) ?? [];
let failures = 0;
for (const format of only ? [only] : Object.keys(kinds)) {
  console.log(`${format}: ${runs.toLocaleString('en')} mutants, seed ${seed}`);
  const { read, refused, failed, slowest } = await mutants(format, runs, seed, (done) =>
    process.stdout.write(`\r${done.toLocaleString('en')} done`),
  );
  console.log(
    `\r${read} read and written again, ${refused} refused with a sentence, ${failed.length} otherwise; the slowest took ${slowest.toFixed(0)} ms`,
  );
  for (const one of failed.slice(0, 10)) console.log(one);
  failures += failed.length;
}
process.exit(failures ? 1 : 0);
