import { Transform } from 'prosemirror-transform';
import { fairReading, plainText, remarkOf, schema, writeAnnotations, type Person, type Thread } from '../src/index.js';
import { documentOf, recorded } from './support/editing.js';

/**
 * Checked against the Web Annotation Data Model (W3C Recommendation, 23 February 2017): what an annotation must have
 * (3.1), bodies and targets (3.2), agents (3.3.1), motivations (3.3.5), selectors (4.2.4, 4.2.5), collections (5).
 */

const at = '2026-11-20T08:00:00Z';
const people: Person[] = ['ann', 'ben', 'cyd'].map((id) => ({ id, name: `${id} <Author>`, initials: 'X' }));
const source = 'urn:tea-pencil:manuscript:m1';

const motivations = new Set(
  (
    'assessing bookmarking classifying commenting describing editing highlighting identifying linking moderating ' +
    'questioning replying tagging'
  ).split(' '),
);

interface Annotation {
  id: string;
  type: string;
  motivation: string;
  creator: { id: string; type: string; name: string };
  created: string;
  modified?: string;
  body?: Body | Body[];
  target: string | { type: string; source: string; selector: Record<string, unknown>[] };
}
interface Body {
  type: string;
  value: string;
  purpose: string;
  format?: string;
}

const base = recorded(documentOf('Turn the weed over with a stick.', 'Never with a spade.'), [
  { by: 0, kind: 'cut', from: 1, to: 6, text: '', which: 0 },
]);
const doc = new Transform(base).addMark(6, 14, schema.marks.anchor!.create({ thread: 't1' })).doc;
const about = { author: 'ann', date: at, quote: 'the weed' };
const threads: Thread[] = [
  {
    id: 't1',
    ...about,
    resolved: true,
    turned: { by: 'cyd', date: at },
    comments: [
      { id: 'k1', author: 'ann', date: at, body: remarkOf('Which <weed>?'), query: { to: 'ben' } },
      { id: 'k2', author: 'ben', date: at, body: remarkOf('Wrack.'), edited: at, proposal: { words: 'the wrack' } },
      { id: 'k3', author: 'cyd', date: at, body: remarkOf(''), deleted: at },
    ],
  },
  {
    id: 't2',
    ...about,
    whole: true,
    resolved: false,
    comments: [{ id: 'k4', author: 'cyd', date: at, body: remarkOf('Good.') }],
  },
  {
    id: 't3',
    ...about,
    toSelf: true,
    resolved: false,
    comments: [{ id: 'k5', author: 'ann', date: at, body: remarkOf('Mine.') }],
  },
  {
    id: 't4',
    ...about,
    quote: 'the sand',
    resolved: false,
    place: { version: 0, from: 3, to: 3 },
    comments: [{ id: 'k6', author: 'ann', date: at, body: remarkOf('Gone.') }],
  },
  { id: 't5', ...about, tint: 'sky', resolved: false, comments: [] },
];
const collection = writeAnnotations({ doc, people, threads }, source, 'Tides');
const items = collection.first.items as Annotation[];
const of = (id: string) => items.find((item) => item.id === `${source}#${id}`)!;
const bodies = ({ body }: Annotation) => (body === undefined ? [] : Array.isArray(body) ? body : [body]);

test('every annotation has what the model asks of one', () => {
  expect(collection).toMatchObject({
    '@context': 'http://www.w3.org/ns/anno.jsonld',
    type: 'AnnotationCollection',
    total: items.length,
    first: { type: 'AnnotationPage' },
  });
  expect(items).toHaveLength(6);
  expect(new Set(items.map(({ id }) => id)).size).toBe(items.length);
  for (const item of items) {
    expect(() => new URL(item.id)).not.toThrow();
    expect(item.type).toBe('Annotation');
    expect(motivations).toContain(item.motivation);
    expect(item.creator).toMatchObject({ type: 'Person' });
    expect(() => new URL(item.creator.id)).not.toThrow();
    expect(new Date(item.created).toISOString().slice(0, 19)).toBe(item.created.slice(0, 19));
    expect(item.target).toBeTruthy();
    for (const body of bodies(item)) {
      expect(body.type).toBe('TextualBody');
      expect(motivations).toContain(body.purpose);
      expect(typeof body.value).toBe('string');
    }
  }
});

test('words are selected by themselves and by where they stand in the fair reading', () => {
  const text = plainText(fairReading(doc));
  const { target, motivation } = of('k1');
  expect(motivation).toBe('questioning');
  const { selector } = target as Exclude<Annotation['target'], string>;
  const [quote, position] = selector as [
    { exact: string; prefix: string; suffix: string },
    { start: number; end: number },
  ];
  expect(quote.exact).toBe('the weed');
  expect(text.slice(position.start, position.end)).toBe('the weed');
  expect(text).toContain(quote.prefix + quote.exact + quote.suffix);
  expect(of('k6').target).toMatchObject({ selector: [{ type: 'TextQuoteSelector', exact: 'the sand' }] });
  expect(of('k4').target).toBe(source);
  expect(of('t5')).toMatchObject({ motivation: 'highlighting' });
  expect(bodies(of('t5'))).toEqual([]);
});

test('replies answer the first comment; state, edits and proposals are told; notes to oneself are not', () => {
  expect(of('k2')).toMatchObject({ motivation: 'replying', target: `${source}#k1`, modified: at });
  expect(bodies(of('k2'))).toContainEqual(expect.objectContaining({ purpose: 'editing', value: 'the wrack' }));
  expect(bodies(of('k1'))).toContainEqual({ type: 'TextualBody', purpose: 'tagging', value: 'resolved' });
  expect(bodies(of('k1'))[0]).toMatchObject({ format: 'text/html', value: '<p>Which &lt;weed&gt;?</p>' });
  expect(bodies(of('k3'))).toEqual([]);
  expect(JSON.stringify(collection)).not.toContain('Mine.');
});
