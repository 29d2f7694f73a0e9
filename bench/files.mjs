import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { readDocx, schema, writeDocx } from '@tea-pencil/core';
import { authors, book } from './book.mjs';
import { timed } from './live/timed.mjs';

/** A book as a file: read and written by us, and read by pandoc (Debian) in the same run. */

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

export async function run() {
  const doc = book(80_000, 5_000);
  const people = authors.map((id) => ({ id, name: `${id} Author`, initials: 'A' }));
  // As another program writes it: without what only we know.
  const own = await writeDocx({ doc, people, threads: [], assets: [] });
  const folder = mkdtempSync(path.join(tmpdir(), 'files-'));
  const file = path.join(folder, 'book.docx');
  writeFileSync(file, own);
  const unpacked = Object.values(unzipSync(own)).reduce((sum, bytes) => sum + bytes.length, 0);
  const pandoc = await timed(
    () => execFileSync('pandoc', ['-f', 'docx', '-t', 'json', '--track-changes=all', file, '-o', '/dev/null']),
    3,
  );
  const read = await timed(() => readDocx(own), 7);
  const { manuscript } = await readDocx(own);
  const write = await timed(() => writeDocx(manuscript), 7);
  const edited = manuscript.doc.replace(1, 1, schema.nodes.paragraph.create(null, schema.text('New. ')).slice(0));
  const rewrite = await timed(() => writeDocx({ ...manuscript, doc: edited }), 7);
  const memory = leastHeap(file);
  rmSync(folder, { recursive: true });
  console.log(
    `80,000 words, 5,000 changes, ${(unpacked / 1e6).toFixed(1)} MB of XML; pandoc reads it in ${pandoc.toFixed(0)} ms.\n`,
  );
  console.log('| act | median | ratio |\n|---|--:|--:|');
  const line = (what, time, ratio) => console.log(`| ${what} | ${time.toFixed(0)} ms | ${ratio} |`);
  line('read, with all that writing wants to know', read, `${(read / pandoc).toFixed(2)} of pandoc`);
  line('written as it came', write, `${(write / read).toFixed(2)} of reading`);
  line('written with one edit', rewrite, `${(rewrite / read).toFixed(2)} of reading`);
  console.log(
    `| the least heap it can be read in | ${memory} MB | ${((memory * 1048576) / unpacked).toFixed(1)} times the XML |`,
  );
}
