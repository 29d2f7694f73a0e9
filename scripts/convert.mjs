import { mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules } from './build.mjs';
import { Sentence } from './debian.mjs';

/** `npm run --silent convert`: the core's formats without server or screen, one file or many. */

const usage = (endings) => `Usage: npm run --silent convert -- IN OUT [--accept all|--reject all] [--losses]
       npm run --silent convert -- IN … --to FOLDER [--as ENDING] [--accept all|--reject all] [--losses]
Files are of the kinds ${endings.join(' and ')}. What OUT’s kind cannot hold is said; with --losses as JSON, a line a file.
The exit code is 0 where all went well, 1 where the command cannot be understood, 2 where a file could not be converted.`;

/** The arguments as files and options. */
function asked(args, endings) {
  const files = [];
  const options = {};
  const list = [...args];
  while (list.length) {
    const one = list.shift();
    if (one === '--losses') options.losses = true;
    else if (['--accept', '--reject', '--to', '--as'].includes(one)) options[one.slice(2)] = list.shift();
    else if (one.startsWith('--')) throw new Sentence(usage(endings));
    else files.push(one);
  }
  const isWrong =
    (options.accept ?? options.reject ?? 'all') !== 'all' ||
    (options.accept && options.reject) ||
    ('to' in options ? !options.to || !files.length : files.length !== 2) ||
    (options.as !== undefined && !('to' in options));
  if (isWrong) throw new Sentence(usage(endings));
  return { files, options };
}

async function run(args) {
  ensureModules();
  build(['core']);
  const core = await import('../core/dist/index.js');
  const endings = Object.keys(core.formats);
  const { files, options } = asked(args, endings);
  const formatOf = (file) => {
    const format = core.formatOf(file);
    if (!format)
      throw new Sentence(`${file}: only ${endings.map((one) => `.${one}`).join(' and ')} can be read and written.`);
    return format;
  };
  const verdict = options.accept ? 'accept' : options.reject ? 'reject' : undefined;

  /** @returns what was not held */
  const convert = async (from, to) => {
    const [source, target] = [formatOf(from), formatOf(to)];
    let bytes;
    try {
      bytes = readFileSync(from);
    } catch (problem) {
      throw new Sentence(`${from} cannot be read (${problem.code}).`);
    }
    const { manuscript, losses, carried } = await source.read(new Uint8Array(bytes)).catch((problem) => {
      throw problem instanceof core.UnreadableFile ? new Sentence(`${from} ${problem.reason}.`) : problem;
    });
    const readings = { accept: core.fairReading, reject: core.beforeReading };
    if (verdict) manuscript.doc = readings[verdict](manuscript.doc);
    const pending = core.listChanges(manuscript.doc).length;
    if (pending && !target.holds.changes) {
      throw new Sentence(
        `${from} has ${pending} pending changes, and .${target.name} cannot hold them: say --accept all or --reject all.`,
      );
    }
    writeFileSync(to, await target.write(manuscript, { clean: verdict !== undefined }));
    const left = source.name === target.name ? [] : carried;
    const threads = manuscript.threads.length && !target.holds.threads;
    return [
      ...losses,
      ...left,
      ...(threads ? [{ what: 'threads of comments', where: 'text', howMany: manuscript.threads.length }] : []),
    ];
  };

  if (!options.to) {
    say(files[0], await convert(files[0], files[1]), options);
    return 0;
  }
  mkdirSync(options.to, { recursive: true });
  if (!statSync(options.to).isDirectory()) throw new Sentence(`${options.to} is no folder.`);
  const taken = new Map();
  let failed = 0;
  for (const file of files) {
    const name = options.as ? `${path.basename(file, path.extname(file))}.${options.as}` : path.basename(file);
    const to = path.join(options.to, name);
    try {
      if (taken.has(name))
        throw new Sentence(`${file} and ${taken.get(name)} would both become ${to}; the second was left out.`);
      if (path.resolve(to) === path.resolve(file)) throw new Sentence(`${file} would be written over itself.`);
      taken.set(name, file);
      say(file, await convert(file, to), options);
    } catch (problem) {
      if (!(problem instanceof Sentence)) throw problem;
      console.error(problem.message);
      failed++;
    }
  }
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
