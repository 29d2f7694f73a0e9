import { execFileSync } from 'node:child_process';
import { unzipSync } from 'fflate';
import { Transform } from 'prosemirror-transform';
import { beforeReading, fairReading, listChanges, plainText, readDocx, schema, writeDocx } from '../src/index.js';
import { anew } from './support/anew.js';
import { blocks, handout } from './support/handout.js';
import { partOf } from './support/package.js';

/** The way back of a file that other programs made: what nobody changed is as it was (law 6, the other way). */

/** What pandoc (Debian), a reader of the standard that is not ours, makes of a file. */
const seenBy = (file: Uint8Array, mode: 'all' | 'accept' | 'reject'): unknown =>
  JSON.parse(
    execFileSync('pandoc', ['-f', 'docx', '-t', 'json', `--track-changes=${mode}`], {
      input: file,
      stdio: ['pipe', 'pipe', 'ignore'],
    }).toString(),
  );
const wordsOf = (tree: unknown) =>
  [...JSON.stringify(tree).matchAll(/"c":"([^"]*)"|"t":"Str","c":"([^"]*)"/g)].map((m) => m[1] ?? m[2]).join('');
const modes = ['all', 'accept', 'reject'] as const;

test('unedited, the file is the same byte for byte, and so is what others see', async () => {
  const { manuscript, losses } = await readDocx(handout);
  expect(losses).toEqual([]);
  const back = await writeDocx(manuscript);
  expect(back).toEqual(handout);
  for (const mode of modes) expect(seenBy(back, mode)).toEqual(seenBy(handout, mode));
});

test('what is written anew throughout is the same to others: all, accepted, rejected', async () => {
  const { manuscript } = await readDocx(handout);
  const again = await writeDocx(anew(manuscript));
  expect(partOf(again, 'word/document.xml')).not.toBe(partOf(handout, 'word/document.xml'));
  for (const mode of modes) expect(seenBy(again, mode)).toEqual(seenBy(handout, mode));
});

test('the fair copy and the copy before are what others make of the file when they accept and reject', async () => {
  const { manuscript } = await readDocx(handout);
  const of = (doc: typeof manuscript.doc) => writeDocx({ ...manuscript, doc, threads: [] });
  const fair = await of(fairReading(manuscript.doc));
  expect(seenBy(fair, 'all')).toEqual(seenBy(handout, 'accept'));
  const before = await of(beforeReading(manuscript.doc));
  // When pandoc rejects, it leaves changed looks and inserted rows; its words are those of the file before.
  expect(wordsOf(seenBy(before, 'all'))).toEqual(wordsOf(seenBy(handout, 'reject')));
  expect(listChanges((await readDocx(fair)).manuscript.doc)).toEqual([]);
});

test('with an edit in one paragraph the XML of every other is the same, and all other parts', async () => {
  const { manuscript } = await readDocx(handout);
  const { doc } = manuscript;
  expect(doc.childCount).toBe(blocks.length);
  let pos = 0;
  for (let k = 0; k < doc.childCount; k++) {
    const block = doc.child(k);
    const place = block.isTextblock ? pos + 1 : pos + 4;
    const edited = new Transform(doc).insert(place, schema.text(`(${k}) `)).doc;
    const back = await writeDocx({ ...manuscript, doc: edited });
    const main = partOf(back, 'word/document.xml');
    // Both ends of a move are one change.
    const alone = blocks.filter(
      (xml, i) => i !== k && !(/moveFrom|moveTo/.test(blocks[k]!) && /moveFrom|moveTo/.test(xml)),
    );
    let from = 0;
    for (const xml of alone) {
      const at = main.indexOf(xml, from);
      expect([k, xml, at >= from]).toEqual([k, xml, true]);
      from = at + xml.length;
    }
    expect(main).not.toContain(blocks[k]);
    const others = (file: Uint8Array) => {
      const { 'word/document.xml': _, ...rest } = unzipSync(file);
      return rest;
    };
    expect(others(back)).toEqual(others(handout));
    expect(plainText((await readDocx(back)).manuscript.doc)).toBe(plainText(edited));
    pos += block.nodeSize;
  }
});
