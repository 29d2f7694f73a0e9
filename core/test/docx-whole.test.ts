import fc from 'fast-check';
import { unzipSync } from 'fflate';
import type { Node } from 'prosemirror-model';
import {
  canonical,
  decide,
  listChanges,
  readDocx,
  squareTables,
  writeDocx,
  type Asset,
  type Manuscript,
  type Person,
} from '../src/index.js';
import { Transform } from 'prosemirror-transform';
import { authors, recorded, someDocument, someEdit } from './support/editing.js';

/** Law 6 for all that a manuscript can hold: what was written is read as it was, and written again as it was. */

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));
// The smallest PNG there is: one pixel (PNG, 2nd edition, clause 5; made by hand).
const pixel = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (sign) => sign.charCodeAt(0),
);
const assets: Asset[] = ['one', 'two'].map((id, i) => ({
  id,
  type: 'image/png',
  // Two pictures that are not the same file.
  bytes: Uint8Array.from([...pixel, ...(i ? [0] : [])]),
}));
const manuscript = (doc: Node): Manuscript => ({ doc, people, threads: [], assets });
const runs = Number(process.env.LAWS_FILES ?? 150);

/** The document with pictures by what is in them, whatever they are called. */
function byContent(doc: Node, all: readonly Asset[]): unknown {
  const said = JSON.stringify(canonical(doc));
  return all.reduce(
    (text, { id, bytes }) =>
      text
        .replaceAll(`asset:"${id}"`, `asset:${bytes.length}`)
        .replaceAll(`asset:\\"${id}\\"`, `asset:${bytes.length}`),
    said,
  );
}

/** The document as the server keeps it, its tables filled up. */
function settled(doc: Node): Node {
  const tr = new Transform(doc);
  squareTables(tr);
  return tr.doc;
}

const script = fc.array(someEdit(3), { maxLength: 6 });

test('what was written is read exactly as it was: tables, notes, pictures, looks, and all that is pending about them', async () => {
  await fc.assert(
    fc.asyncProperty(someDocument, script, async (doc, edits) => {
      const marked = settled(recorded(doc, edits));
      const { manuscript: read, losses } = await readDocx(await writeDocx(manuscript(marked)));
      expect(losses).toEqual([]);
      expect(byContent(read.doc, read.assets)).toEqual(byContent(marked, assets));
    }),
    { numRuns: runs },
  );
});

test('read and written again, with no edit or with some decided, only what changed is changed', async () => {
  await fc.assert(
    fc.asyncProperty(someDocument, script, fc.nat(), async (doc, edits, which) => {
      const marked = settled(recorded(doc, edits));
      const file = await writeDocx(manuscript(marked));
      const { manuscript: read } = await readDocx(file);
      const [before, after] = [unzipSync(file), unzipSync(await writeDocx(read))];
      for (const [name, bytes] of Object.entries(before)) expect([name, after[name]]).toEqual([name, bytes]);
      expect(Object.keys(after)).toEqual(Object.keys(before));
      const changes = listChanges(read.doc);
      if (!changes.length) return;
      const { id } = changes[which % changes.length]!;
      const decided = decide(new Transform(read.doc), [id], which % 2 ? 'accept' : 'reject').doc;
      const again = await readDocx(await writeDocx({ ...read, doc: decided }));
      expect(byContent(again.manuscript.doc, again.manuscript.assets)).toEqual(byContent(decided, read.assets));
    }),
    { numRuns: runs },
  );
});
