import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { Transform } from 'prosemirror-transform';
import {
  decide,
  fairReading,
  fatesOf,
  fates,
  formats,
  isOfProperties,
  kinds,
  listChanges,
  plainText,
  remainingOf,
  remarkOf,
  tracesIn,
  type FormatName,
  type Manuscript,
  type Person,
} from '../src/index.js';
import { authors, documentOf, recorded, someTextEdit } from './support/editing.js';
import { docxOf, p, r } from './support/package.js';
import { odtNames, odtOf, tp } from './support/odt-package.js';

const people: Person[] = authors.map((id) => ({ id, name: `${id} Author`, initials: id[0]!.toUpperCase() }));
const texts = documentOf('the tide x y', 'ab the tide, ab', 'x y ab');
const script = fc.array(someTextEdit(3), { minLength: 1, maxLength: 8 });

test('what becomes of each kind of change is said of every change once, and only of what has been seen', () => {
  fc.assert(
    fc.property(script, fc.array(fc.constantFrom(...fates), { minLength: 21, maxLength: 21 }), (edits, verdicts) => {
      const changes = listChanges(recorded(texts, edits));
      const remaining = remainingOf(changes);
      expect(remaining.reduce((n, { many }) => n + many, 0)).toBe(changes.length);
      const chosen = remaining.map((group, i) => ({ ...group, fate: verdicts[i]! }));
      const all = fatesOf(changes, chosen)!;
      expect(Object.values(all).flat().sort()).toEqual(changes.map(({ id }) => id).sort());
      for (const { id, author, kind } of changes)
        expect(all[chosen.find((one) => one.author === author && one.kind === kind)!.fate]).toContain(id);
      if (!chosen.length) return;
      // One more than was seen, one kind that was not: nothing is said then.
      expect(fatesOf([...changes, { ...changes[0]!, id: 'new' }], chosen)).toBeNull();
      expect(fatesOf(changes, chosen.slice(1))).toBeNull();
      expect(fatesOf(changes.slice(1), chosen)).toBeNull();
    }),
  );
});

/** A text with changes and a comment in it. */
function marked(edits: readonly Parameters<typeof recorded>[1][number][]): Manuscript {
  const comment = { id: 'c1', author: 'ann', date: '2026-11-02T09:00:00Z', body: remarkOf('Is this so?') };
  return {
    doc: recorded(texts, edits),
    people,
    assets: [],
    threads: [
      { id: 't1', author: 'ann', date: comment.date, quote: '', whole: true, resolved: false, comments: [comment] },
    ],
  };
}

const holding = Object.values(kinds)
  .filter(({ holds, name }) => holds.changes && name !== 'md')
  .map(({ name }) => name);

test.each(holding)(
  'a marked copy tells of changes, comments and people; a clean one of none of them: %s',
  async (name) => {
    await fc.assert(
      fc.asyncProperty(script, async (edits) => {
        const whole = marked(edits);
        const told = tracesIn(name, await formats[name].write(whole));
        const has = listChanges(whole.doc).length > 0;
        expect(told.some(({ what }) => what === 'change')).toBe(has);
        expect(told.some(({ what, says }) => what === 'name' && says.includes('Author'))).toBe(true);
        const fair = { ...whole, doc: fairReading(whole.doc), threads: [] };
        const clean = await formats[name].write(fair, { clean: true, nameless: true });
        expect(tracesIn(name, clean)).toEqual([]);
        const again = await formats[name].read(clean);
        expect(plainText(again.manuscript.doc)).toBe(plainText(fair.doc));
      }),
      { numRuns: 15 },
    );
  },
);

const head = '<?xml version="1.0" encoding="UTF-8"?>';
const core =
  `${head}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" ` +
  'xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>The Wrack Line</dc:title><dc:creator>Alba Renwick</dc:creator>' +
  '<cp:lastModifiedBy>Ines Vega</cp:lastModifiedBy></cp:coreProperties>';
const extended = 'http://schemas.openxmlformats.org/officeDocument/2006/extended-properties';
const custom = 'http://schemas.openxmlformats.org/officeDocument/2006/custom-properties';
const rels =
  `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">` +
  '<Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/>' +
  '<Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/>' +
  '</Relationships>';
const types =
  `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">` +
  '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>' +
  '<Default Extension="xml" ContentType="application/xml"/>' +
  '<Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/>' +
  '<Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>';

/** A file of somebody else, whose properties and lists name people. */
const named: Record<'docx' | 'odt', Uint8Array> = {
  docx: docxOf(p(r('The weed lies in a line.')), {
    others: {
      '[Content_Types].xml': types,
      '_rels/.rels': rels,
      'docProps/core.xml': core,
      'docProps/app.xml': `${head}<Properties xmlns="${extended}"><Company>The Harrow Press</Company><Pages>1</Pages></Properties>`,
      'docProps/custom.xml': `${head}<Properties xmlns="${custom}"><property name="editor"><v>Maren</v></property></Properties>`,
      'word/styles.xml': `${head}<w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:style w:styleId="a"><w:rPr><w:b/><w:rPrChange w:id="1" w:author="Maren" w:date="2026-11-02T09:00:00Z"><w:rPr/></w:rPrChange></w:rPr></w:style></w:styles>`,
      'customXml/item1.xml': `${head}<log><change author="a program"/><comment/></log>`,
      'word/people.xml': `${head}<w15:people xmlns:w15="urn:x"><w15:person w15:author="Tobias Oyelaran"/></w15:people>`,
    },
  }),
  odt: odtOf(tp('The weed lies in a line. <text:creator>Alba Renwick</text:creator>'), {
    others: {
      'META-INF/manifest.xml':
        `${head}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">` +
        ['/', 'content.xml', 'styles.xml', 'meta.xml']
          .map((path) => {
            const type = path === '/' ? 'application/vnd.oasis.opendocument.text' : 'text/xml';
            return `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${type}"/>`;
          })
          .join('') +
        '</manifest:manifest>',
      'meta.xml':
        `${head}<office:document-meta ${odtNames}><office:meta>` +
        '<dc:title>The Wrack Line</dc:title>' +
        '<meta:initial-creator>Alba Renwick</meta:initial-creator><dc:creator>Ines Vega</dc:creator>' +
        '<meta:user-defined meta:name="editor">Maren</meta:user-defined></office:meta></office:document-meta>',
    },
  }),
};

// Outside check: python-docx and odfpy (Debian) read the properties.
const asked: Record<'docx' | 'odt', string> = {
  docx:
    'import sys, io, json, docx; c = docx.Document(io.BytesIO(sys.stdin.buffer.read())).core_properties; ' +
    'print(json.dumps([c.title, c.author, c.last_modified_by]))',
  odt:
    'import sys, io, json; from odf.opendocument import load; from odf import dc, meta; ' +
    'd = load(io.BytesIO(sys.stdin.buffer.read())).meta; ' +
    'say = lambda kind: "".join(str(e) for e in d.getElementsByType(kind)); ' +
    'print(json.dumps([say(dc.Title), say(meta.InitialCreator), say(dc.Creator)]))',
};
const properties = (name: 'docx' | 'odt', file: Uint8Array) =>
  JSON.parse(execFileSync('/usr/bin/python3', ['-c', asked[name]], { input: file }).toString()) as string[];

test.each(['docx', 'odt'] as const)(
  'the properties of a file that came in name nobody if that is wished: %s',
  async (name) => {
    const { manuscript } = await formats[name].read(named[name]);
    const fair = await formats[name].write(manuscript, { clean: true });
    expect(properties(name, fair)).toEqual(['The Wrack Line', 'Alba Renwick', 'Ines Vega']);
    expect(tracesIn(name, fair).every(isOfProperties)).toBe(true);
    const nameless = await formats[name].write(manuscript, { clean: true, nameless: true });
    expect(properties(name, nameless)).toEqual(['The Wrack Line', '', '']);
    expect(tracesIn(name, nameless)).toEqual([]);
    // A marked copy as well, whose words say who changed what all the same.
    expect(tracesIn(name, await formats[name].write(manuscript, { nameless: true })).filter(isOfProperties)).toEqual(
      [],
    );
  },
);

test('a part that is kept pending is read as accepted in the clean file, and stays in the marked copy', async () => {
  await fc.assert(
    fc.asyncProperty(script, fc.constantFrom<FormatName>('docx', 'odt', 'html'), async (edits, name) => {
      const { doc } = marked(edits);
      const changes = listChanges(doc);
      const { accept, reject, keep } = fatesOf(
        changes,
        remainingOf(changes).map((group, i) => ({ ...group, fate: fates[i % 3]! })),
      )!;
      const decided = decide(decide(new Transform(doc), accept, 'accept'), reject, 'reject').doc;
      const left = listChanges(decided).map(({ id }) => id);
      expect(left.every((id) => keep.includes(id))).toBe(true);
      const manuscript = { doc: fairReading(decided), people, assets: [], threads: [] };
      const { manuscript: again } = await formats[name].read(await formats[name].write(manuscript, { clean: true }));
      expect(listChanges(again.doc)).toEqual([]);
      expect(plainText(again.doc)).toBe(plainText(decide(new Transform(decided), 'all', 'accept').doc));
    }),
    { numRuns: 20 },
  );
});
