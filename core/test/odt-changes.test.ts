import { Transform } from 'prosemirror-transform';
import {
  beforeReading,
  decide,
  fairReading,
  listChanges,
  plainText,
  readOdt,
  remarkText,
  writeOdt,
} from '../src/index.js';
import { anew } from './support/anew.js';
import { end, gone, odtOf, region, start, tp, tracked } from './support/odt-package.js';
import { partOf } from './support/package.js';

/** Each kind of change of the standard (OpenDocument 1.3 part 3, 5.5), in a file made by hand for it. */

const table = (text: string) =>
  `<table:table table:name="T"><table:table-column/><table:table-row><table:table-cell office:value-type="string">${tp(text)}</table:table-cell></table:table-row></table:table>`;
const item = (text: string) => `<text:list-item>${tp(text)}</text:list-item>`;

type Told = [kind: string, author: string, before: string, after: string];
const cases: [what: string, body: string, told: Told[], fair: string, before: string][] = [
  [
    'words inserted',
    tracked(region('a', 'insertion')) + tp(`sand ${start('a')}hopper${end('a')}`),
    [['insertion', 'Ines Vega', '', 'hopper']],
    'sand hopper',
    'sand',
  ],
  [
    'words deleted',
    tracked(region('a', 'deletion', tp('tiny'))) + tp(`a ${gone('a')} hopper`),
    [['deletion', 'Ines Vega', 'tiny ', '']],
    'a hopper',
    'a tiny hopper',
  ],
  [
    'a word replaced: neighbours of one author and date are one change',
    tracked(region('a', 'deletion', tp('weed')), region('b', 'insertion')) +
      tp(`the ${gone('a')}${start('b')}wrack${end('b')}`),
    [['replacement', 'Ines Vega', 'weed', 'wrack']],
    'the wrack',
    'the weed',
  ],
  [
    'a break inserted',
    tracked(region('a', 'insertion')) + tp(`high water${start('a')}`) + tp(`${end('a')}low water`),
    [['paragraph', 'Ines Vega', '', '\n']],
    'high water\nlow water',
    'high waterlow water',
  ],
  [
    'a whole paragraph inserted',
    tracked(region('a', 'insertion')) + tp(`one${start('a')}`) + tp('two') + tp(`${end('a')}three`),
    [['insertion', 'Ines Vega', '', '\ntwo\n']],
    'one\ntwo\nthree',
    'onethree',
  ],
  [
    'a break deleted',
    tracked(region('a', 'deletion', tp('') + tp('', 'Text_20_body'))) + tp(`high water${gone('a')}low water`),
    [['paragraph', 'Ines Vega', '\n', '']],
    'high waterlow water',
    'high water\nlow water',
  ],
  [
    'a stretch over three paragraphs deleted',
    tracked(region('a', 'deletion', tp('the end') + tp('all of it') + tp('a beginning'))) +
      tp(`keep (${gone('a')}) this`),
    [['deletion', 'Ines Vega', 'the end\nall of it\na beginning', '']],
    'keep () this',
    'keep (the end\nall of it\na beginning) this',
  ],
  [
    'items of a list deleted',
    tracked(region('a', 'deletion', `<text:list>${item('s')}${item('boots')}</text:list>`)) +
      `<text:list>${item(`glove${gone('a')}`)}${item('hat')}</text:list>`,
    [['deletion', 'Ines Vega', 's\nboots', '']],
    'glove\nhat',
    'gloves\nboots\nhat',
  ],
  [
    'a deletion in an insertion of another',
    tracked(region('a', 'insertion', '', 'Maren Holt'), region('b', 'deletion', tp('very '))) +
      tp(`a ${start('a')}(${gone('b')}small) ${end('a')}thing`),
    [
      ['insertion', 'Maren Holt', '', '(very small) '],
      ['deletion', 'Ines Vega', 'very ', ''],
    ],
    'a (small) thing',
    'a thing',
  ],
  [
    'a deletion of two',
    tracked(region('a', 'deletion', tp(gone('b'))), region('b', 'deletion', tp('old'), 'Maren Holt')) +
      tp(`an ${gone('a')}(hat)`),
    [
      ['deletion', 'Maren Holt', 'old', ''],
      ['deletion', 'Ines Vega', 'old', ''],
    ],
    'an (hat)',
    'an old(hat)',
  ],
  [
    'a table inserted',
    tracked(region('a', 'insertion')) + tp(`above${start('a')}`) + table('06:12') + tp(`${end('a')}below`),
    [['table', 'Ines Vega', '', '06:12\n']],
    'above\n06:12\nbelow',
    'abovebelow',
  ],
  [
    'a table deleted with what is around it',
    tracked(region('a', 'deletion', tp(' the tides:') + table('06:12') + tp('and so'))) + tp(`Mind${gone('a')} on.`),
    [['table', 'Ines Vega', ' the tides:06:12\nand so', '']],
    'Mind on.',
    'Mind the tides:\n06:12\nand so on.',
  ],
  [
    'paragraphs deleted between two',
    tracked(region('a', 'deletion', tp('gone') + tp('and gone'))) + tp('first') + gone('a') + tp('last'),
    [['deletion', 'Ines Vega', '\ngone\nand gone', '']],
    'first\nlast',
    'first\ngone\nand gone\nlast',
  ],
];

async function told(file: Uint8Array) {
  const { manuscript } = await readOdt(file);
  const name = (id: string) => manuscript.people.find((person) => person.id === id)!.name;
  return {
    manuscript,
    changes: listChanges(manuscript.doc).map(({ kind, author, before, after }): Told => [
      kind,
      name(author),
      before,
      after,
    ]),
  };
}

test.each(cases)('%s', async (_, body, changes, fair, before) => {
  const { manuscript, changes: found } = await told(odtOf(body));
  expect(plainText(fairReading(manuscript.doc)).trim()).toBe(fair);
  expect(plainText(beforeReading(manuscript.doc)).trim()).toBe(before);
  expect(found).toEqual(changes);
  // Written anew, nothing of it is lost.
  const again = await told(await writeOdt(anew(manuscript)));
  expect(again.changes).toEqual(changes);
  expect(plainText(beforeReading(again.manuscript.doc)).trim()).toBe(before);
  // Decided, nothing is pending.
  for (const verdict of ['accept', 'reject'] as const) {
    const { doc } = decide(new Transform(manuscript.doc), 'all', verdict);
    const file = await writeOdt({ ...manuscript, doc }, { clean: true });
    expect(partOf(file, 'content.xml')).not.toMatch(/tracked-changes|text:change/);
    expect(plainText((await readOdt(file)).manuscript.doc)).toBe(plainText(doc));
  }
});

test('one change is decided, and the others stay on the list as they stood', async () => {
  const body =
    tracked(
      region('ct1', 'insertion'),
      region('ct2', 'deletion', tp('weed')),
      region('ct3', 'insertion', '', 'Maren Holt'),
    ) +
    tp(`one ${start('ct1')}new${end('ct1')} word`) +
    tp(`the ${gone('ct2')} line`) +
    tp(`and ${start('ct3')}so ${end('ct3')}on`);
  const { manuscript } = await readOdt(odtOf(body));
  const [first] = listChanges(manuscript.doc);
  const { doc } = decide(new Transform(manuscript.doc), [first!.id], 'accept');
  const content = partOf(await writeOdt({ ...manuscript, doc }), 'content.xml');
  expect(content).toContain(
    tracked(region('ct2', 'deletion', tp('weed')), region('ct3', 'insertion', '', 'Maren Holt')),
  );
  expect(content).toContain(tp('one new word'));
  expect(content).toContain(tp(`the ${gone('ct2')} line`) + tp(`and ${start('ct3')}so ${end('ct3')}on`));
});

test('annotations: a range over paragraphs, a reply, one that is resolved, one without words', async () => {
  const note = (name: string, text: string, more = '') =>
    `<office:annotation office:name="${name}"${more}><dc:creator>Maren Holt</dc:creator><dc:date>2026-11-03T08:00:00</dc:date>${tp(text)}</office:annotation>`;
  const stop = (name: string) => `<office:annotation-end office:name="${name}"/>`;
  const body =
    tp(`Look ${note('a', 'Where?')}under the`) +
    tp(
      `wrack${stop('a')}${note('b', 'Here.', ' xmlns:x="urn:x" x:parent-name="a"')} and${note('c', 'A full stop?', ' xmlns:x="urn:x" x:resolved="true"')}.`,
    );
  const { manuscript } = await readOdt(odtOf(body));
  const seen = ({ threads, doc }: typeof manuscript) =>
    threads.map((t) => [
      t.quote,
      t.resolved,
      t.place && doc.textBetween(1, t.place.from, '|'),
      t.comments.map(({ body: said }) => remarkText(said, String)),
    ]);
  expect(seen(manuscript)).toEqual([
    ['under the wrack', false, undefined, ['Where?', 'Here.']],
    ['', true, 'Look under the|wrack and', ['A full stop?']],
  ]);
  expect(
    seen((await readOdt(await writeOdt(anew(manuscript)))).manuscript).map(([quote, , , said]) => [quote, said]),
  ).toEqual([
    ['under the wrack', ['Where?', 'Here.']],
    ['', ['A full stop?']],
  ]);
});

test('what is said in a change itself is not dropped in silence', async () => {
  const said = region('a', 'insertion').replace(
    '</office:change-info>',
    '<text:p>As agreed.</text:p></office:change-info>',
  );
  const { losses } = await readOdt(odtOf(tracked(said) + tp(`${start('a')}new${end('a')}`)));
  expect(losses).toEqual([{ what: 'comment that a change bears', where: 'changes', howMany: 1 }]);
});
