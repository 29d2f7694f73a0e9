import { canonical, sameManuscript, schema } from '../src/index.js';

const entry = (was: unknown, now: unknown, more = {}) =>
  schema.marks.formatting!.create({
    change: 'c1',
    author: 'ann',
    date: '2026-11-01T09:00:00Z',
    order: 1,
    was,
    now,
    ...more,
  });
const marked = (...marks: ReturnType<typeof entry>[]) =>
  schema.nodes.doc!.create(null, schema.nodes.paragraph!.create(null, schema.text('a', marks)));

test('the order of marks and of keys has no meaning', () => {
  const other = entry({ bold: null }, { bold: true }, { change: 'c2' });
  const one = entry({ list: { kind: 'bullet', level: 1 } }, {});
  const same = entry({ list: { level: 1, kind: 'bullet' } }, {});
  expect(sameManuscript(marked(one, other), marked(other, same))).toBe(true);
});

test('everything else has, what stands deep inside an attribute too', () => {
  const doc = marked(entry({ bold: null }, { bold: true }));
  for (const different of [
    marked(entry({ bold: null }, { bold: null })),
    marked(entry({ italic: null }, { bold: true })),
    marked(entry({ bold: null }, { bold: true }, { order: 2 })),
    marked(),
  ]) {
    expect(sameManuscript(doc, different)).toBe(false);
    expect(canonical(doc)).not.toEqual(canonical(different));
  }
});

/** The same text with one mark on its letter, or on its paragraph where the mark belongs there. */
function wearing(name: string, attrs: Record<string, unknown>) {
  const mark = schema.mark(name, attrs);
  const inline = schema.nodes.paragraph.allowsMarkType(mark.type);
  const letter = schema.text('a', inline ? [mark] : []);
  return schema.nodes.doc.create(null, schema.nodes.paragraph.create(null, letter, inline ? [] : [mark]));
}

const date = '2026-11-01T09:00:00Z';
const later = '2026-11-01T09:01:00Z';
const link = 'https://tide.example/';
const candidates = [
  'one',
  'another',
  date,
  later,
  link,
  `${link}two`,
  'super',
  'sub',
  'tea',
  'plum',
  9,
  12,
  1,
  2,
  true,
];
const objects = [{ bold: null }, { bold: true }, { style: 'body' }, { style: 'title' }];

/** Two values that an attribute may have. */
function twoValues(validate: unknown): [unknown, unknown] {
  const may = (value: unknown) => {
    if (typeof validate === 'string') return validate.split('|').includes(typeof value);
    try {
      (validate as ((value: unknown) => void) | undefined)?.(value);
      return true;
    } catch {
      return false;
    }
  };
  const [one, another] = [...candidates, ...objects].filter(may);
  return [one, another];
}

test.each(Object.entries(schema.marks))('a mark %s and each of its attributes have a meaning', (name, type) => {
  const attributes = Object.entries(type.spec.attrs ?? {}).map(
    ([attribute, { validate }]) => [attribute, twoValues(validate)] as const,
  );
  const plain = Object.fromEntries(attributes.map(([attribute, [one]]) => [attribute, one]));
  const doc = wearing(name, plain);
  expect(sameManuscript(doc, wearing(name, { ...plain }))).toBe(true);
  expect(sameManuscript(doc, marked())).toBe(false);
  for (const [attribute, [, another]] of attributes) {
    // A mark that says yes alone has no other value.
    if (another === undefined) expect([name, attribute, plain[attribute]]).toEqual([name, 'value', true]);
    else {
      const other = wearing(name, { ...plain, [attribute]: another });
      expect([attribute, sameManuscript(doc, other)]).toEqual([attribute, false]);
    }
  }
});
