import fc from 'fast-check';
import { unzipSync } from 'fflate';
import type { Node } from 'prosemirror-model';
import {
  canonical,
  decide,
  formats,
  listChanges,
  proveMarked,
  squareTables,
  type Asset,
  type Manuscript,
  type Person,
} from '../src/index.js';
import { Transform } from 'prosemirror-transform';
import { authors, recorded, someDocument, someEdit } from './support/editing.js';

/** Law 6 for all that a manuscript can hold: what was written is read as it was, and written again as it was. */

const whole = ['docx', 'odt', 'fodt', 'html'] as const;
/** Those that keep the file they came in. */
const keeping = ['docx', 'odt', 'fodt'] as const;

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

/** The parts of a package; a file in one piece is one. */
const partsOf = (file: Uint8Array): Record<string, Uint8Array> =>
  file[0] === 0x50 ? unzipSync(file) : { whole: file };

const script = fc.array(someEdit(3), { maxLength: 6 });

test.each(whole)(
  '%s: what was written is read exactly as it was: tables, notes, pictures, looks, and all that is pending about them',
  async (name) => {
    const { read, write } = formats[name];
    await fc.assert(
      fc.asyncProperty(someDocument, script, async (doc, edits) => {
        const marked = settled(recorded(doc, edits));
        const { manuscript: again, losses } = await read(await write(manuscript(marked)));
        expect(losses).toEqual([]);
        expect(byContent(again.doc, again.assets)).toEqual(byContent(marked, assets));
      }),
      { numRuns: runs },
    );
  },
);

test.each([...whole, 'md'] as const)('%s: every marked copy is proved before it is given out', async (name) => {
  await fc.assert(
    fc.asyncProperty(someDocument, script, async (doc, edits) => {
      const marked = manuscript(settled(recorded(doc, edits)));
      await proveMarked(name)(marked, await formats[name].write(marked), { inside: 0 });
    }),
    { numRuns: runs },
  );
});

test.each(keeping)(
  '%s: read and written again, with no edit or with some decided, only what changed is changed',
  async (name) => {
    const { read, write } = formats[name];
    await fc.assert(
      fc.asyncProperty(someDocument, script, fc.nat(), async (doc, edits, which) => {
        const marked = settled(recorded(doc, edits));
        const file = await write(manuscript(marked));
        const { manuscript: came } = await read(file);
        const [before, after] = [partsOf(file), partsOf(await write(came))];
        for (const [part, bytes] of Object.entries(before))
          expect([part, !!after[part] && Buffer.from(after[part]).equals(bytes)]).toEqual([part, true]);
        expect(Object.keys(after)).toEqual(Object.keys(before));
        const changes = listChanges(came.doc);
        if (!changes.length) return;
        const { id } = changes[which % changes.length]!;
        const decided = decide(new Transform(came.doc), [id], which % 2 ? 'accept' : 'reject').doc;
        const again = await read(await write({ ...came, doc: decided }));
        expect(byContent(again.manuscript.doc, again.manuscript.assets)).toEqual(byContent(decided, came.assets));
      }),
      { numRuns: runs },
    );
  },
);
