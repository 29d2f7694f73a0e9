import { Mark, type Node } from 'prosemirror-model';
import { inlineProperties, sameValue, type Properties } from '../../manuscript/properties.js';
import { signatureOf, type Signature } from '../../manuscript/signature.js';
import type { Thread, ThreadId } from '../../manuscript/threads.js';
import { entriesOf } from '../../row/entries.js';
import { isWrapper } from '../kept/pairs.js';
import { strangeWords } from '../kept/strange.js';
import { attributes, element } from '../kept/telling.js';
import { anyNumber, aside } from '../kept/unsettled.js';
import { attribute, escapeXml, tag } from '../xml.js';
import { lookAttributes, lookXml, said } from './looks.js';
import { styled, type Target } from './target.js';
import { pictureXml } from './write-pictures.js';

/** What stands in paragraphs (OpenDocument 1.3 part 3, 6): words in spans, and what stands among them. */

/** What stands at places of the text besides what is in it. */
export interface Places {
  starts: ReadonlyMap<number, readonly ThreadId[]>;
  ends: ReadonlyMap<number, readonly ThreadId[]>;
  /** Threads that are about no words, by the position of the paragraph they are at. */
  placed: ReadonlyMap<number, readonly ThreadId[]>;
  threads: ReadonlyMap<ThreadId, Thread>;
  /** The positions of things in two parts that are written. */
  whole: ReadonlySet<number>;
}

/** The content of one paragraph as it is put together; spaces are written so that none is lost (6.1.2, 6.1.3). */
export class Flow {
  readonly #pieces: string[] = [];
  #space = true;
  #last = -1;

  put = (xml: string): void => void (xml && this.#pieces.push(xml));

  /** Something that is no character stands between. */
  thing(xml: string): void {
    this.put(xml);
    this.#space = false;
    this.#last = -1;
  }

  words(text: string): void {
    let spaces = 0;
    const flush = () => {
      if (!spaces) return;
      this.thing(tag('text:s', { 'text:c': spaces > 1 ? spaces : undefined }));
      spaces = 0;
    };
    for (const part of text.split(/([ \t\n])/)) {
      if (!part) continue;
      if (part === ' ') {
        if (spaces || this.#space) spaces++;
        else {
          this.#last = this.#pieces.push(' ') - 1;
          this.#space = true;
        }
        continue;
      }
      flush();
      if (part === '\t') this.thing('<text:tab/>');
      else if (part === '\n') this.thing('<text:line-break/>');
      else {
        this.#pieces.push(escapeXml(part));
        this.#space = false;
        this.#last = -1;
      }
    }
    flush();
  }

  /** The XML, with the space at its end as one that stays. */
  get xml(): string {
    if (this.#last < 0) return this.#pieces.join('');
    const all = [...this.#pieces];
    all[this.#last] = '<text:s/>';
    return all.join('');
  }
}

const all = (marks: readonly Mark[], type: string) => marks.filter((mark) => mark.type.name === type);

/** What is pending about something among words: in what order, and of whom. */
export interface Pending {
  inserted: Signature | null;
  deleted: readonly Signature[];
  formatted: readonly Mark[];
}

/** @param kind how the marks are called: those of words and tables, or those of openings */
export function pendingOf(marks: readonly Mark[], isOpening = false): Pending {
  const [insertion, deletion] = isOpening ? ['openingInserted', 'openingDeleted'] : ['insertion', 'deletion'];
  const inserted = all(marks, insertion!)[0];
  return {
    inserted: inserted ? signatureOf(inserted) : null,
    deleted: all(marks, deletion!).map((mark) => signatureOf(mark)!),
    formatted: isOpening ? [] : entriesOf(marks, 'formatting').map(({ mark }) => mark),
  };
}

/** The attributes of an element that refers to what was changed. */
const changeId = (id: string) => ` text:change-id="${id}"`;
export const changeStart = (id: string): string => element('text:change-start', changeId(id));
export const changeEnd = (id: string): string => element('text:change-end', changeId(id));
export const changeAt = (id: string): string => element('text:change', changeId(id));

export class WordsWriter {
  readonly #notes = { foot: 0, end: 0 };

  constructor(
    readonly target: Target,
    readonly places: Places,
    /** Writes the text of a note. */
    readonly note: (node: Node, pos: number) => string,
    readonly annotation: (thread: Thread, nth: number, hasEnd: boolean) => { begin: string; end: string },
  ) {}

  /** Where threads begin or end; each comment is an annotation of its own. */
  annotations(threads: readonly ThreadId[] | undefined, edge: 'begin' | 'end', hasEnd: boolean, into: Flow): void {
    for (const id of threads ?? []) {
      const thread = this.places.threads.get(id);
      if (!thread) continue;
      const howMany = thread.comments.length + (thread.tint ? 1 : 0);
      for (let nth = 0; nth < howMany; nth++) into.put(this.annotation(thread, nth, hasEnd)[edge]);
    }
  }

  /** One node of a paragraph, without what is pending about it. */
  inline(node: Node, pos: number, base: Properties, into: Flow): void {
    const { target } = this;
    if (node.type.name === 'carried_thing') return this.#carried(node, pos, base, into);
    const [open, close] = this.#around(node, base);
    into.put(open);
    if (node.isText) into.words(node.text!);
    else if (node.type.name === 'line_break') into.thing('<text:line-break/>');
    else if (node.type.name === 'image') into.thing(pictureXml(target, node));
    else into.put(this.#note(node, pos));
    into.put(close);
  }

  /**
   * A field with what it says, where that is nothing but words of one look.
   * @returns how many nodes it takes
   */
  field(paragraph: Node, at: number, pos: number, base: Properties, into: Flow): number {
    const begin = paragraph.child(at);
    const { carried, part, what } = begin.attrs;
    if (begin.type.name !== 'carried_thing' || part !== 'begin' || what !== 'field' || !this.places.whole.has(pos))
      return 0;
    const fragment = this.target.fragment(carried as string);
    let text = '';
    let to = pos + 1;
    for (let i = at + 1; i < paragraph.childCount && isWrapper(fragment); i++) {
      const node = paragraph.child(i);
      if (node.attrs.carried === carried && node.attrs.part === 'end') {
        if (!text || /^ | $| {2}|[\t\n]/.test(text)) return 0;
        const [open, close] = this.#around(begin, base);
        into.thing(open + fragment!.xml + escapeXml(text) + fragment!.close! + close);
        return i - at + 1;
      }
      const isInside = i > at + 1 && (this.places.starts.has(to) || this.places.ends.has(to));
      if (!node.isText || !Mark.sameSet(node.marks, begin.marks) || isInside) return 0;
      text += node.text!;
      to += node.nodeSize;
    }
    return 0;
  }

  #note(node: Node, pos: number): string {
    const kind = node.attrs.kind as 'foot' | 'end';
    const look = inlineProperties(node.marks).carriedLook as string | undefined;
    const label = saidOf(this.target, look, 'tp:note')?.['text:label'];
    const said = label === undefined ? aside(String(++this.#notes[kind])) : escapeXml(label);
    const citation = element('text:note-citation', attributes({ 'text:label': label }), said);
    return element(
      'text:note',
      ` text:id="tpn${anyNumber}" text:note-class="${kind}note"`,
      citation + tag('text:note-body', {}, this.note(node, pos)),
    );
  }

  /** The tags around words: their link and their spans. */
  #around(node: Node, base: Properties): [open: string, close: string] {
    const { link, carriedLook, ...now } = inlineProperties(node.marks);
    const { definitions } = this.target;
    const spans = this.target
      .pieces((carriedLook ?? null) as string | null)
      .filter((one) => one.element.name === 'tp:span');
    const given: Properties = { ...base };
    let [open, close] = ['', ''];
    const around = (name: string, attributes: Record<string, string | undefined>) => {
      open += tag(name, attributes, '\u0000').split('\u0000')[0]!;
      close = `</${name}>${close}`;
    };
    if (typeof link === 'string') around('text:a', { 'xlink:type': 'simple', 'xlink:href': link });
    for (const { element: span } of spans) {
      Object.assign(given, definitions.lookOfText(attribute(span, 'text:style-name')));
      around('text:span', span.attributes);
    }
    const differing = said.filter((name) => !sameValue(now[name] ?? null, given[name] ?? null));
    if (differing.length) {
      const properties = Object.fromEntries(differing.map((name) => [name, now[name] ?? null]));
      const look = lookXml(lookAttributes(properties, { standard: definitions.language }));
      const style = tag('style:style', { 'style:family': 'text' }, look);
      open += `<text:span${styled(definitions.known(style) ?? this.target.style('text', style))}>`;
      close = `</text:span>${close}`;
    }
    return [open, close];
  }

  #carried(node: Node, pos: number, base: Properties, into: Flow): void {
    const { carried, part, what, says } = node.attrs as Record<'carried' | 'part' | 'what' | 'says', string>;
    const fragment = this.target.fragment(carried);
    if (!fragment) {
      // Of another file: its words are all there is of it here.
      return into.words(strangeWords({ part, what, says }));
    }
    const [open, close] = this.#around(node, base);
    if (part === 'whole') {
      const [piece] = this.target.pieces(carried);
      if (piece && isBlock(piece.element.name)) return;
      into.put(open);
      into.thing(fragment.xml);
      return into.put(close);
    }
    if (!this.places.whole.has(pos)) return;
    // A field whose words have changed is words from now on.
    if (what === 'field') return;
    into.put(part === 'begin' ? fragment.xml : (fragment.close ?? ''));
  }
}

/** The attributes of something a file said beside how words look. */
function saidOf(of: Target, look: string | undefined, name: string): Readonly<Record<string, string>> | undefined {
  return of.pieces(look ?? null).find((one) => one.element.name === name)?.element.attributes;
}

/** Whether something of a file stands among paragraphs, not in one. */
export const isBlock = (name: string): boolean =>
  /^(table:table|text:(table-of-content|illustration-index|table-index|object-index|user-index|alphabetical-index|bibliography))$/.test(
    name,
  );
