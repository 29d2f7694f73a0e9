import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { formats, schema } from '@tea-pencil/core';
import { authors, book } from './book.mjs';
import { timed } from './live/timed.mjs';

/** A book as a file of every format: read and written by us, and read by pandoc (Debian) in the same run. */

/** Whether a file can be read in a process whose heap may grow to so many megabytes. */
function fits(file, megabytes) {
  const script = `
    import { readFileSync } from 'node:fs';
    const { readDocx } = await import('@tea-pencil/core');
    const bytes = process.argv[1] ? new Uint8Array(readFileSync(process.argv[1])) : null;
    if (bytes) await readDocx(bytes);
    console.log('read');`;
  const { stdout } = spawnSync(
    process.execPath,
    [`--max-old-space-size=${megabytes}`, '--input-type=module', '-e', script, file],
    { cwd: import.meta.dirname },
  );
  return stdout.toString().includes('read');
}

/** The least heap in which a file can be read, in megabytes, beyond what the code itself takes. */
function leastHeap(file) {
  const least = (what) => {
    let [low, high] = [1, 512];
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (fits(what, middle)) high = middle;
      else low = middle;
    }
    return high;
  };
  return least(file) - least('');
}

/** What pandoc calls the formats it reads; it knows no other. */
const pandocNames = { docx: 'docx', odt: 'odt', html: 'html', md: 'markdown' };

/** How large a file is, unpacked. */
const unpackedSize = (bytes) =>
  bytes[0] === 0x50 ? Object.values(unzipSync(bytes)).reduce((sum, part) => sum + part.length, 0) : bytes.length;

export async function run() {
  const doc = book(80_000, 5_000);
  const people = authors.map((id) => ({ id, name: `${id} Author`, initials: 'A' }));
  const folder = mkdtempSync(path.join(tmpdir(), 'files-'));
  console.log('80,000 words, 5,000 changes. Reading as a part of what pandoc takes; writing as a part of reading.\n');
  console.log('| | size | pandoc reads | read | written as it came | with one edit |\n|---|--:|--:|--:|--:|--:|');
  for (const name of Object.keys(pandocNames).concat('fodt')) {
    const { read, write } = formats[name];
    // As another program writes it: without the file it came from.
    const bytes = await write({ doc, people, threads: [], assets: [] });
    const file = path.join(folder, `book.${name}`);
    writeFileSync(file, bytes);
    const from = pandocNames[name];
    const tracked = name === 'docx' ? ['--track-changes=all'] : [];
    const pandoc = from
      ? await timed(() => execFileSync('pandoc', ['-f', from, '-t', 'json', ...tracked, file, '-o', '/dev/null']), 3)
      : null;
    const reading = await timed(() => read(bytes), 5);
    const { manuscript } = await read(bytes);
    const writing = await timed(() => write(manuscript), 5);
    const edited = manuscript.doc.replace(1, 1, schema.nodes.paragraph.create(null, schema.text('New. ')).slice(0));
    const rewriting = await timed(() => write({ ...manuscript, doc: edited }), 5);
    const ms = (time) => `${time.toFixed(0)} ms`;
    const ratio = (time, of) => (of ? `${ms(time)}, ${(time / of).toFixed(2)}` : ms(time));
    console.log(
      `| ${name} | ${(unpackedSize(bytes) / 1e6).toFixed(1)} MB | ${pandoc ? ms(pandoc) : '–'} | ${ratio(reading, pandoc)} | ${ratio(writing, reading)} | ${ratio(rewriting, reading)} |`,
    );
    if (name !== 'docx') continue;
    const memory = leastHeap(file);
    console.log(
      `| docx: the least heap | ${memory} MB, ${((memory * 1048576) / unpackedSize(bytes)).toFixed(1)} times the XML | | | | |`,
    );
  }
  rmSync(folder, { recursive: true });
}
