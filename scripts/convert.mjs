import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules } from './build.mjs';
import { Sentence } from './debian.mjs';

/** `npm run --silent convert -- IN OUT [--accept all|--reject all]`: the core's formats without server or screen. */

const usage = `Usage: npm run --silent convert -- IN OUT [--accept all|--reject all]
IN and OUT are files of the kinds docx or txt; what OUT’s kind cannot hold is said.`;

async function convert(args) {
  const [from, to, ...options] = args;
  if (!from || !to) throw new Sentence(usage);
  const verdict = { '--accept': 'accept', '--reject': 'reject' }[options[0]];
  if (options.length && (!verdict || options[1] !== 'all' || options.length > 2)) throw new Sentence(usage);
  ensureModules();
  build(['core']);
  const core = await import('../core/dist/index.js');
  const formats = {
    '.docx': { read: core.readDocx, write: core.writeDocx, marks: true },
    '.txt': { read: core.readText, write: core.writeText, marks: false },
  };
  const formatOf = (file) => {
    const format = formats[path.extname(file).toLowerCase()];
    if (!format) throw new Sentence(`${file}: only ${Object.keys(formats).join(' and ')} can be read and written.`);
    return format;
  };
  const [source, target] = [formatOf(from), formatOf(to)];
  let bytes;
  try {
    bytes = readFileSync(from);
  } catch (problem) {
    throw new Sentence(`${from} cannot be read (${problem.code}).`);
  }
  const { manuscript, losses } = await source.read(new Uint8Array(bytes)).catch((problem) => {
    throw problem instanceof core.UnreadableFile ? new Sentence(`${from} ${problem.reason}.`) : problem;
  });
  const readings = { accept: core.fairReading, reject: core.beforeReading };
  if (verdict) manuscript.doc = readings[verdict](manuscript.doc);
  const pending = core.listChanges(manuscript.doc).length;
  if (pending && !target.marks) {
    throw new Sentence(
      `${from} has ${pending} pending changes, and ${path.extname(to)} cannot hold them: say --accept all or --reject all.`,
    );
  }
  writeFileSync(to, await target.write(manuscript));
  for (const { what, where, howMany } of losses) console.error(`Not held: ${what} (${where}), ${howMany}`);
  if (manuscript.threads.length && !target.marks)
    console.error(`Not held: threads of comments, ${manuscript.threads.length}`);
}

convert(process.argv.slice(2)).catch((problem) => {
  console.error(problem instanceof Sentence ? problem.message : problem);
  process.exit(1);
});
