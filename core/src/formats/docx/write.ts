import type { Mark, Node } from 'prosemirror-model';
import { unnamed, type Person } from '../../manuscript/people.js';
import { type Manuscript } from '../../manuscript/manuscript.js';
import { type ThreadId } from '../../manuscript/threads.js';
import { inlineProperties, type Properties } from '../../manuscript/properties.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { signatureOf, type Signature } from '../../manuscript/signature.js';
import { about, entriesOf } from '../../row/entries.js';
import { anchors, withChangeAnchors } from '../../threads/anchors.js';
import { toEndings, type Boundary, type Styled } from '../endings.js';
import { pack } from '../package.js';
import { escapeXml, tag } from '../xml.js';
import { commentParts } from './write-comments.js';
import { alignmentNames, indentStep, namespaces, styleNames } from './names.js';
import {
  commentRelationships,
  contentTypes,
  numberingPart,
  packageRelationships,
  stylesPart,
  textRelationships,
} from './write-parts.js';

/** Writes DOCX (ISO/IEC 29500, WordprocessingML), marks and comments included. */

const signed = (mark: Mark | undefined): Signature | null => (mark ? signatureOf(mark) : null);
const first = (marks: readonly Mark[], type: string) => marks.find((mark) => mark.type.name === type);

/** The value of each property if all entries about it are rejected. */
function former(properties: Properties, marks: readonly Mark[], type: string): Properties {
  const before = { ...properties };
  const entries = entriesOf(marks, type);
  for (const name of new Set(entries.flatMap((entry) => Object.keys(entry.now)))) {
    before[name] = about(entries, name)[0]!.was[name];
  }
  return before;
}

function topSignature(marks: readonly Mark[], type: string): Signature | null {
  const entries = entriesOf(marks, type);
  return signed(entries[entries.length - 1]?.mark);
}

function runProperties({ bold, italic, strike, underline, script, language }: Properties): string {
  return (
    (bold ? tag('w:b') : '') +
    (italic ? tag('w:i') : '') +
    (strike ? tag('w:strike') : '') +
    (underline ? tag('w:u', { 'w:val': 'single' }) : '') +
    (script ? tag('w:vertAlign', { 'w:val': script === 'super' ? 'superscript' : 'subscript' }) : '') +
    (language ? tag('w:lang', { 'w:val': String(language) }) : '')
  );
}

class DocxWriter {
  #ids = 0;
  #lists: { kind: 'bullet' | 'number'; id: number }[] = [];
  #inList: 'bullet' | 'number' | null = null;
  readonly links: string[] = [];
  readonly #people: Map<string, Person>;

  constructor(
    people: readonly Person[],
    readonly starts: Map<number, ThreadId[]>,
    readonly ends: Map<number, ThreadId[]>,
    readonly comments: Map<ThreadId, number[]>,
    /** Comments that stand on no words, by the position of the paragraph they are at. */
    readonly placed: Map<number, ThreadId[]>,
  ) {
    this.#people = new Map(people.map((person) => [person.id, person]));
  }

  lists = () => this.#lists;

  /** The attributes of every element that says who proposes something. */
  by(signature: Signature): Record<string, string | number | undefined> {
    return {
      'w:id': this.#ids++,
      'w:author': this.#people.get(signature.author)?.name ?? unnamed,
      'w:date': signature.date,
      'tp:change': signature.change,
      'tp:person': signature.author,
    };
  }

  paragraphProperties({ style, list, align, indent, direction }: ParagraphProperties): string {
    const name = styleNames[style];
    return (
      (name ? tag('w:pStyle', { 'w:val': name.id }) : '') +
      (list
        ? tag(
            'w:numPr',
            {},
            tag('w:ilvl', { 'w:val': list.level }) + tag('w:numId', { 'w:val': this.numbering(list.kind) }),
          )
        : '') +
      (direction ? tag('w:bidi', { 'w:val': direction === 'rtl' ? 1 : 0 }) : '') +
      (indent ? tag('w:ind', { 'w:left': indent * indentStep }) : '') +
      (align ? tag('w:jc', { 'w:val': alignmentNames[align] }) : '')
    );
  }

  /** A new list begins wherever items of that kind follow something else, so that numbers start again. */
  numbering(kind: 'bullet' | 'number'): number {
    if (this.#inList !== kind) this.#lists.push({ kind, id: this.#lists.length + 1 });
    this.#inList = kind;
    return this.#lists[this.#lists.length - 1]!.id;
  }

  paragraph(node: Node, start: number, ending: Styled, boundary: Boundary | undefined): string {
    if (!ending.fair.list) this.#inList = null;
    let properties = this.paragraphProperties(ending.fair);
    const mark =
      (boundary?.inserted ? tag('w:ins', this.by(boundary.inserted)) : '') +
      (boundary?.deleted ? tag('w:del', this.by(boundary.deleted)) : '');
    if (mark) properties += tag('w:rPr', {}, mark);
    if (ending.by) {
      properties += tag('w:pPrChange', this.by(ending.by), `<w:pPr>${this.paragraphProperties(ending.before)}</w:pPr>`);
    }
    let content = properties ? tag('w:pPr', {}, properties) : '';
    content += this.emptyRanges(this.numbersOf(this.placed.get(start)));
    node.forEach((inline, offset) => (content += this.inline(inline, start + 1 + offset)));
    return tag('w:p', {}, content);
  }

  numbersOf = (threads: readonly ThreadId[] = []): number[] => threads.flatMap((thread) => this.comments.get(thread)!);

  /** Comments that stand at a place and on no words. */
  emptyRanges = (numbers: readonly number[]): string =>
    numbers
      .map((id) => tag('w:commentRangeStart', { 'w:id': id }) + tag('w:commentRangeEnd', { 'w:id': id }))
      .join('') + this.references(numbers);

  references = (numbers: readonly number[]): string =>
    numbers.map((number) => tag('w:r', {}, tag('w:commentReference', { 'w:id': number }))).join('');

  /** One inline node as a run, in its link, insertion and deletion. Ranges of comments never begin or end inside one. */
  inline(node: Node, pos: number): string {
    const deleted = first(node.marks, 'deletion');
    const inserted = first(node.marks, 'insertion');
    const link = first(node.marks, 'link');
    let xml = tag('w:r', {}, this.runLook(node) + this.runText(node, !!deleted));
    if (deleted) xml = tag('w:del', this.by(signatureOf(deleted)!), xml);
    if (inserted) xml = tag('w:ins', this.by(signatureOf(inserted)!), xml);
    if (link) xml = tag('w:hyperlink', { 'r:id': `rLink${this.links.push(link.attrs.href as string)}` }, xml);
    const begin = this.numbersOf(this.starts.get(pos));
    const end = this.numbersOf(this.ends.get(pos + node.nodeSize));
    return (
      begin.map((number) => tag('w:commentRangeStart', { 'w:id': number })).join('') +
      xml +
      end.map((number) => tag('w:commentRangeEnd', { 'w:id': number })).join('') +
      this.references(end)
    );
  }

  runLook(node: Node): string {
    const now = inlineProperties(node.marks);
    const signature = topSignature(node.marks, 'formatting');
    const before = signature && former(now, node.marks, 'formatting');
    const xml =
      runProperties(now) +
      (before ? tag('w:rPrChange', this.by(signature), `<w:rPr>${runProperties(before)}</w:rPr>`) : '');
    return xml ? tag('w:rPr', {}, xml) : '';
  }

  runText(node: Node, deleted: boolean): string {
    if (!node.isText) return node.type.name === 'line_break' ? tag('w:br') : '';
    const name = deleted ? 'w:delText' : 'w:t';
    return node
      .text!.split('\t')
      .map((text) => (text ? `<${name} xml:space="preserve">${escapeXml(text)}</${name}>` : ''))
      .join(tag('w:tab'));
  }
}

const propertiesOf = (attrs: Properties) => attrs as ParagraphProperties;

/**
 * Writes a manuscript as a DOCX file: text, pending changes with author and date, and threads with their replies.
 * The change a mark belongs to is kept in ignorable attributes, so that reading the file again gives the same changes.
 */
export async function writeDocx({ doc: text, people, threads }: Manuscript): Promise<Uint8Array> {
  const doc = withChangeAnchors(text, threads);
  const paragraphs: { node: Node; pos: number }[] = [];
  doc.descendants((node, pos) => {
    if (node.isTextblock) paragraphs.push({ node, pos });
    return !node.isTextblock;
  });
  const boundaries = paragraphs.map(({ node: { marks } }) => ({
    inserted: signed(first(marks, 'openingInserted')),
    deleted: signed(first(marks, 'openingDeleted')),
  }));
  const openings = paragraphs.map(({ node: { attrs, marks } }): Styled => {
    const by = topSignature(marks, 'restyled');
    return { fair: propertiesOf(attrs), before: propertiesOf(by ? former(attrs, marks, 'restyled') : attrs), by };
  });
  const endings = toEndings(openings, boundaries);

  const starts = new Map<number, ThreadId[]>();
  const ends = new Map<number, ThreadId[]>();
  const note = (map: Map<number, ThreadId[]>, pos: number, id: ThreadId) => map.set(pos, [...(map.get(pos) ?? []), id]);
  const comments = commentParts(threads, people);
  const fastened = anchors(doc);
  for (const [id, ranges] of fastened) {
    if (!comments.numbered.has(id)) continue;
    note(starts, ranges[0]!.from, id);
    note(ends, ranges[ranges.length - 1]!.to, id);
  }
  const placed = new Map<number, ThreadId[]>();
  for (const { id, place } of threads) {
    if (fastened.has(id) || !comments.numbered.has(id)) continue;
    const at = paragraphs.findLast(({ pos }) => pos < (place?.from ?? 0)) ?? paragraphs[0]!;
    note(placed, at.pos, id);
  }
  const writer = new DocxWriter(people, starts, ends, comments.numbered, placed);
  const body = paragraphs
    .map(({ node, pos }, k) => writer.paragraph(node, pos, endings[k]!, boundaries[k + 1]))
    .join('');
  const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>';
  const links = commentRelationships(comments.links);
  return pack({
    '[Content_Types].xml': head + contentTypes(),
    '_rels/.rels': head + packageRelationships(),
    'word/_rels/document.xml.rels': head + textRelationships(writer.links),
    'word/document.xml': head + tag('w:document', namespaces, tag('w:body', {}, body)),
    'word/styles.xml': head + stylesPart(),
    'word/numbering.xml': head + numberingPart([...writer.lists(), ...comments.lists]),
    'word/comments.xml': head + comments.main,
    'word/commentsExtended.xml': head + comments.extended,
    ...(links !== null && { 'word/_rels/comments.xml.rels': head + links }),
  });
}
