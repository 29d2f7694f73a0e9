import { build, ensureModules } from './build.mjs';

/**
 * `npm run mutants -- --runs N [--seed S]`: damaged files, a few bytes of the package or some XML of its parts changed by
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
console.log(`${runs.toLocaleString('en')} mutants, seed ${seed}`);
const { read, refused, failed, slowest } = await mutants(runs, seed, (done) =>
  process.stdout.write(`\r${done.toLocaleString('en')} done`),
);
console.log(
  `\r${read} read and written again, ${refused} refused with a sentence, ${failed.length} otherwise; the slowest took ${slowest.toFixed(0)} ms`,
);
for (const one of failed.slice(0, 10)) console.log(one);
process.exit(failed.length ? 1 : 0);
