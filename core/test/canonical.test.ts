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
