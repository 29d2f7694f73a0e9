import { unnamed } from '../../manuscript/people.js';
import { type Comment, type Thread } from '../../manuscript/threads.js';
import { type Manuscript } from '../../manuscript/manuscript.js';
import { fairReading, plainText } from '../../reading/readings.js';
import { anchors } from '../../threads/anchors.js';
import { listChanges } from '../../changes/list.js';
import { placeInReading } from '../../reading/place.js';
import { escapeHtml, remarkHtml } from '../html/remark.js';

/**
 * Writes threads in the Web Annotation Data Model (W3C Recommendation, 23 February 2017), as JSON-LD: one annotation a
 * comment; a reply has the comment before all others as its target (3.1.5, motivation "replying").
 */

/** The name of the model's context (section 3.1); it names, and is not fetched. */
const context = 'http://www.w3.org/ns/anno.jsonld';
/** How much of the text around a quotation is given, in letters (section 4.2.4 leaves it open). */
const around = 40;

export interface AnnotationCollection {
  '@context': string;
  id: string;
  type: 'AnnotationCollection';
  label: string;
  total: number;
  first: { id: string; type: 'AnnotationPage'; items: object[] };
}

/** Where words stand in the plain text: offsets in letters. */
interface Span {
  start: number;
  end: number;
}

/** The offset of a position of a document in its plain text, a line a paragraph. */
function offsetsIn(doc: Manuscript['doc']): (pos: number) => number {
  const blocks: { from: number; offset: number; node: Manuscript['doc'] }[] = [];
  let offset = 0;
  doc.descendants((node, pos) => {
    if (!node.isTextblock) return true;
    blocks.push({ from: pos + 1, offset, node });
    offset += plainText(doc.type.create(null, [node.type.create(node.attrs, node.content)])).length + 1;
    return false;
  });
  return (pos) => {
    const block = blocks.findLast(({ from }) => from <= pos) ?? blocks[0]!;
    const before = block.node.cut(0, Math.min(Math.max(0, pos - block.from), block.node.content.size));
    return block.offset + plainText(doc.type.create(null, [before.mark([])])).length;
  };
}

/**
 * The threads of a manuscript, those to oneself excepted, as annotations of its fair reading.
 * @param source the address of the manuscript (an IRI), from which the annotations' own are made
 * @param title its title
 */
export function writeAnnotations(
  { doc, people, threads }: Pick<Manuscript, 'doc' | 'people' | 'threads'>,
  source: string,
  title: string,
): AnnotationCollection {
  const fair = fairReading(doc);
  const text = plainText(fair);
  const offset = offsetsIn(fair);
  const byId = new Map(people.map((person) => [person.id, person]));
  const nameOf = (id: string) => byId.get(id)?.name ?? unnamed;
  const places = anchors(doc);
  const changes = new Map(listChanges(doc).map((change) => [change.id, change]));
  const agent = (id: string) => ({ id: `urn:tea-pencil:person:${id}`, type: 'Person', name: nameOf(id) });
  const iri = (id: string) => `${source}#${encodeURIComponent(id)}`;

  const spanOf = (thread: Thread): Span | null => {
    const ranges = places.get(thread.id) ?? changes.get(thread.change ?? '')?.ranges;
    if (!ranges?.length) return null;
    const at = (pos: number) => offset(placeInReading(doc, pos, 'accept'));
    return { start: at(ranges[0]!.from), end: at(ranges[ranges.length - 1]!.to) };
  };

  const targetOf = (thread: Thread): object | string => {
    if (thread.whole) return source;
    const span = spanOf(thread);
    const words = span && span.end > span.start ? text.slice(span.start, span.end) : null;
    const quote = {
      type: 'TextQuoteSelector',
      exact: words ?? thread.quote,
      ...(words !== null && {
        prefix: text.slice(Math.max(0, span!.start - around), span!.start),
        suffix: text.slice(span!.end, span!.end + around),
      }),
    };
    const position = span && { type: 'TextPositionSelector', start: span.start, end: Math.max(span.start, span.end) };
    return { type: 'SpecificResource', source, selector: position ? [quote, position] : [quote] };
  };

  const bodiesOf = (comment: Comment): object[] => [
    ...(comment.deleted
      ? []
      : [{ type: 'TextualBody', format: 'text/html', value: remarkHtml(comment.body, nameOf), purpose: 'commenting' }]),
    ...(comment.proposal
      ? [{ type: 'TextualBody', format: 'text/plain', value: comment.proposal.words, purpose: 'editing' }]
      : []),
    ...(comment.query
      ? [
          {
            type: 'TextualBody',
            format: 'text/html',
            value: `<p>Asks ${escapeHtml(nameOf(comment.query.to))}</p>`,
            purpose: 'questioning',
          },
        ]
      : []),
  ];

  const items = threads
    .filter(({ toSelf }) => !toSelf)
    .flatMap((thread) => {
      const state = thread.resolved ? [{ type: 'TextualBody', value: 'resolved', purpose: 'tagging' }] : [];
      const highlight = thread.tint
        ? [
            {
              id: iri(thread.id),
              type: 'Annotation',
              motivation: 'highlighting',
              creator: agent(thread.author),
              created: thread.date,
              target: targetOf(thread),
            },
          ]
        : [];
      const root = thread.tint ? thread.id : thread.comments[0]?.id;
      const comments = thread.comments.map((comment) => ({
        id: iri(comment.id),
        type: 'Annotation',
        motivation:
          comment.id !== root
            ? 'replying'
            : comment.query
              ? 'questioning'
              : comment.proposal
                ? 'editing'
                : 'commenting',
        creator: agent(comment.author),
        created: comment.date,
        ...(comment.edited !== undefined && { modified: comment.edited }),
        ...bodyOf([...bodiesOf(comment), ...(comment.id === root ? state : [])]),
        target: comment.id === root ? targetOf(thread) : iri(root!),
      }));
      return [...highlight, ...comments];
    });
  return {
    '@context': context,
    id: `${source}#threads`,
    type: 'AnnotationCollection',
    label: `Threads of ${title}`,
    total: items.length,
    first: { id: `${source}#threads-1`, type: 'AnnotationPage', items },
  };
}

/** One body stands by itself, several in a list, none not at all (section 3.2). */
const bodyOf = (bodies: object[]): { body?: object | object[] } =>
  bodies.length ? { body: bodies.length === 1 ? bodies[0]! : bodies } : {};
