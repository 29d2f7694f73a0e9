import { mkdirSync, statSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { Piscina } from 'piscina';
import { build, ensureModules } from './build.mjs';
import { convertFile } from './converting.mjs';
import { Sentence } from './debian.mjs';

/** `npm run --silent convert`: the core's formats without server or screen, one file or many. */

const listed = (endings) =>
  `${endings
    .slice(0, -1)
    .map((one) => `.${one}`)
    .join(', ')} and .${endings.at(-1)}`;

const usage = (endings) => `Usage: npm run --silent convert -- IN OUT [--accept all [--fair]|--reject all] [--losses]
       npm run --silent convert -- IN … --to FOLDER [--as ENDING] [--accept all [--fair]|--reject all] [--losses]
With --fair the copy names nobody, holds no comment, and nothing in it runs or reaches outside; it is read again first.
Files are of the kinds ${listed(endings)}. What OUT’s kind cannot hold is said; with --losses as JSON, a line a file.
The exit code is 0 where all went well, 1 where the command cannot be understood, 2 where a file could not be converted.`;

/** The arguments as files and options. */
function asked(args, endings) {
  const files = [];
  const options = {};
  const list = [...args];
  while (list.length) {
    const one = list.shift();
    if (one === '--losses' || one === '--fair') options[one.slice(2)] = true;
    else if (['--accept', '--reject', '--to', '--as'].includes(one)) options[one.slice(2)] = list.shift();
    else if (one.startsWith('--')) throw new Sentence(usage(endings));
    else files.push(one);
  }
  const isWrong =
    (options.accept ?? options.reject ?? 'all') !== 'all' ||
    (options.accept && options.reject) ||
    (options.fair && !options.accept) ||
    ('to' in options ? !options.to || !files.length : files.length !== 2) ||
    (options.as !== undefined && !('to' in options));
  if (isWrong) throw new Sentence(usage(endings));
  return { files, options };
}

async function run(args) {
  ensureModules();
  build(['core']);
  const { kindOf, kinds } = await import('../core/dist/index.js');
  const endings = Object.values(kinds).flatMap((kind) => kind.endings);
  const { files, options } = asked(args, endings);
  for (const file of options.to ? [] : files)
    if (!kindOf(file)) throw new Sentence(`${file}: only ${listed(endings)} can be read and written.`);
  const verdict = options.accept ? 'accept' : options.reject ? 'reject' : undefined;

  if (!options.to) {
    const { losses, problem } = await convertFile({ from: files[0], to: files[1], verdict, fair: options.fair });
    if (problem) throw new Sentence(problem);
    say(files[0], losses, options);
    return 0;
  }
  mkdirSync(options.to, { recursive: true });
  if (!statSync(options.to).isDirectory()) throw new Sentence(`${options.to} is no folder.`);
  const taken = new Map();
  const jobs = files.map((file) => {
    const name = options.as ? `${path.basename(file, path.extname(file))}.${options.as}` : path.basename(file);
    const to = path.join(options.to, name);
    if (taken.has(name))
      return { file, problem: `${file} and ${taken.get(name)} would both become ${to}; the second was left out.` };
    if (path.resolve(to) === path.resolve(file)) return { file, problem: `${file} would be written over itself.` };
    taken.set(name, file);
    return { file, to };
  });
  // Several at once, each in a thread with a limit of memory; what one cannot be stops none of the others.
  const pool = new Piscina({
    filename: new URL('./converting.mjs', import.meta.url).href,
    maxThreads: Math.min(availableParallelism(), files.length),
    resourceLimits: { maxOldGenerationSizeMb: 1536 },
  });
  let done = 0;
  const tell = () => process.stderr.isTTY && process.stderr.write(`\r${++done} of ${files.length} files …`);
  const outcomes = await Promise.all(
    jobs.map(async ({ file, to, problem }) => {
      if (problem) return { problem };
      const outcome = await pool
        .run({ from: file, to, verdict, fair: options.fair }, { name: 'convertFile' })
        .catch(() => ({ problem: `${file} is too large or too tangled to be converted.` }));
      tell();
      return outcome;
    }),
  );
  await pool.destroy();
  if (process.stderr.isTTY) process.stderr.write('\n');
  outcomes.forEach(({ losses, problem }, i) => (problem ? console.error(problem) : say(files[i], losses, options)));
  const failed = outcomes.filter(({ problem }) => problem).length;
  if (failed) console.error(`${failed} of ${files.length} files were not converted.`);
  return failed ? 2 : 0;
}

/** What was not held: as sentences, or as JSON for programs. */
function say(file, losses, { losses: asJson }) {
  if (asJson) console.log(JSON.stringify({ file, losses }));
  else
    for (const { what, where, howMany } of losses) console.error(`${file}: not held: ${what} (${where}), ${howMany}`);
}

run(process.argv.slice(2)).then(
  (code) => process.exit(code),
  (problem) => {
    const isSentence = problem instanceof Sentence;
    console.error(isSentence ? problem.message : problem);
    process.exit(isSentence && !/^Usage/.test(problem.message) ? 2 : 1);
  },
);
