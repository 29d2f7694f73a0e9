import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { build, ensureModules } from './build.mjs';
import { ensurePackages, Sentence } from './debian.mjs';

/** `npm run --silent print`: a file on pages, as a tagged PDF, without server or screen. */

const usage = `Usage: npm run --silent print -- IN OUT.pdf [--accept all|--reject all] [--notes foot|side]
         [--paper a4|letter] [--large] [--line-numbers] [--grey]
What is pending in IN is printed with its marks, unless it is accepted or rejected first.`;

const options = {
  accept: { type: 'string' },
  reject: { type: 'string' },
  notes: { type: 'string', default: 'none' },
  paper: { type: 'string', default: 'a4' },
  large: { type: 'boolean', default: false },
  'line-numbers': { type: 'boolean', default: false },
  grey: { type: 'boolean', default: false },
};

/** The arguments as two files and options. */
function asked(args) {
  let read;
  try {
    read = parseArgs({ args, options, allowPositionals: true });
  } catch {
    throw new Sentence(usage);
  }
  const { values, positionals } = read;
  const isWrong =
    positionals.length !== 2 ||
    !/\.pdf$/i.test(positionals[1]) ||
    (values.accept ?? values.reject ?? 'all') !== 'all' ||
    (values.accept && values.reject) ||
    !['none', 'foot', 'side'].includes(values.notes) ||
    !['a4', 'letter'].includes(values.paper);
  if (isWrong) throw new Sentence(usage);
  return { from: positionals[0], to: positionals[1], values };
}

async function read(from) {
  const { formats, kindOf, UnreadableFile } = await import('../core/dist/index.js');
  const kind = kindOf(from);
  if (!kind) throw new Sentence(`${from} is of a kind that cannot be read.`);
  try {
    return (await formats[kind.name].read(new Uint8Array(readFileSync(from)))).manuscript;
  } catch (problem) {
    if (problem instanceof UnreadableFile) throw new Sentence(`${from} ${problem.reason}.`);
    if (problem.code) throw new Sentence(`${from} cannot be read (${problem.code}).`);
    throw problem;
  }
}

async function run(args) {
  const { from, to, values } = asked(args);
  ensurePackages(['chromium-headless-shell']);
  ensureModules();
  build();
  const { beforeReading, fairReading, listChanges } = await import('../core/dist/index.js');
  const { addressOfPicture, NotPrinted, printPages } = await import('../server/dist/printing/press.js');
  const { doc: whole, people, threads, assets, title } = await read(from);
  const doc = values.accept ? fairReading(whole) : values.reject ? beforeReading(whole) : whole;
  const isMarked = listChanges(doc).length > 0;
  const pictures = new Map(assets.map(({ id, type, bytes }) => [id, { type, bytes }]));
  const job = {
    title: title ?? path.basename(from, path.extname(from)),
    kind: isMarked ? 'marked' : 'clean',
    language: 'en-GB',
    doc: doc.toJSON(),
    people: people.map(({ id, name, initials }, hue) => ({ id, name, initials, hue })),
    threads: isMarked || values.notes !== 'none' ? threads : [],
    pictures: Object.fromEntries([...pictures.keys()].map((asset) => [asset, addressOfPicture(asset)])),
    how: {
      paper: values.paper,
      large: values.large,
      lineNumbers: values['line-numbers'],
      notes: values.notes,
      hues: !values.grey,
    },
  };
  try {
    const { pdf, pages } = await printPages(job, pictures);
    writeFileSync(to, pdf);
    console.error(`${to}: ${pages} ${pages === 1 ? 'page' : 'pages'}.`);
  } catch (problem) {
    throw problem instanceof NotPrinted ? new Sentence(problem.message) : problem;
  }
}

run(process.argv.slice(2)).then(
  () => process.exit(0),
  (problem) => {
    const isSentence = problem instanceof Sentence;
    console.error(isSentence ? problem.message : problem);
    process.exit(isSentence && !/^Usage/.test(problem.message) ? 2 : 1);
  },
);
