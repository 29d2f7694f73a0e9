import { Transform } from 'prosemirror-transform';
import type { Mark, Node } from 'prosemirror-model';
import {
  beforeReading,
  changeIds,
  decide,
  describeChange,
  fairReading,
  isSound,
  listChanges,
  mended,
  plainText,
  reviewMarks,
  schema,
  type MarkName,
  type NodeName,
} from '../src/index.js';
import { documentOf, footnote, image, paragraph, table } from './support/editing.js';

/** Every node of the schema, bearing every mark that says something of a change: sound, and then decidable, or not sound. */

const now = '2026-11-10T10:00:00Z';
const signed = { change: 'c1', author: 'ann', date: '2026-11-01T09:00:00Z' };
const things: Partial<Record<NodeName, Node>> = {
  text: schema.text('tide'),
  line_break: schema.nodes.line_break.create(),
  image: image('one'),
  footnote: footnote('a note'),
  carried_thing: schema.nodes.carried_thing.create({ carried: 'x', what: 'formula' }),
};
const property: Partial<Record<NodeName, object>> = {
  paragraph: { style: 'title' },
  table: { carried: 'x' },
  table_row: { carried: 'x' },
  table_cell: { header: true },
  text: { bold: true },
};

/** A document in which a node of that type bears the marks; it stands behind the first paragraph, or in it. */
function bearing(name: NodeName, marks: readonly Mark[]): Node {
  const inline = things[name];
  const blocks = (block: Node) => schema.nodes.doc.create(null, [paragraph('first'), block, paragraph('last')]);
  if (inline) return blocks(schema.nodes.paragraph.create(null, [schema.text('the '), inline.mark(marks)]));
  if (name === 'paragraph') return blocks(paragraph('second').mark(marks));
  const { table: tableType, table_row: row } = schema.nodes;
  const whole = table(['a', 'b'], ['c', 'd']);
  if (name === 'table') return blocks(whole.mark(marks));
  const [first, second] = whole.children as [Node, Node];
  if (name === 'table_row') return blocks(tableType.create(null, [first, second.mark(marks)]));
  const cells = (one: Node) => row.create(null, [one.child(0), one.child(1).mark(marks)]);
  return blocks(tableType.create(null, [cells(first), cells(second)]));
}

const names = Object.keys(schema.nodes).filter((name) => name !== 'doc') as NodeName[];
const pairs = names.flatMap((name) => ([...reviewMarks] as MarkName[]).map((mark) => [name, mark] as const));

test.each(pairs)('%s with %s: every function handles it, or it is not sound and is mended', (name, type) => {
  const values = property[name] ?? (type === 'formatting' ? { bold: true } : { alt: 'a crab' });
  const was = Object.fromEntries(
    Object.keys(values).map((one) => [one, { style: 'body', header: false, alt: '' }[one] ?? null]),
  );
  const mark = schema.marks[type].create({ ...signed, was, now: values });
  const doc = bearing(name, [mark]);
  const whole = mended(doc, now).doc;
  expect(isSound(whole, now)).toBe(true);
  expect(plainText(whole)).toBe(plainText(doc));
  // A mark that is left is one that can be listed, told and decided, and nothing of it is left then.
  for (const change of listChanges(whole)) expect(describeChange(change)).not.toBe('');
  for (const read of [fairReading, beforeReading]) expect([...changeIds(read(whole))]).toEqual([]);
  for (const verdict of ['accept', 'reject'] as const)
    expect([...changeIds(decide(new Transform(whole), ['c1'], verdict).doc)]).toEqual([]);
});

test('what is sound of them is what recording makes, and no more', () => {
  const sound = pairs
    .filter(([name, type]) => {
      const mark = schema.marks[type].create({ ...signed, was: { carried: null }, now: { carried: 'x' } });
      const looks = schema.marks[type].create({ ...signed, was: { bold: null }, now: { bold: true } });
      return isSound(bearing(name, [mark]), now) || isSound(bearing(name, [looks]), now);
    })
    .map((pair) => pair.join(' '));
  const inline = ['text', 'line_break', 'image', 'footnote', 'carried_thing'];
  expect(sound.sort()).toEqual(
    [
      ...['openingInserted', 'openingDeleted', 'restyled'].map((type) => `paragraph ${type}`),
      ...['table', 'table_row', 'table_cell'].flatMap((name) =>
        ['insertion', 'deletion', 'restyled'].map((type) => `${name} ${type}`),
      ),
      ...inline.flatMap((name) => ['insertion', 'deletion', 'formatting'].map((type) => `${name} ${type}`)),
    ].sort(),
  );
  expect(isSound(documentOf('the tide'), now)).toBe(true);
});
