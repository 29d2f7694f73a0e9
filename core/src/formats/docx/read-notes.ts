import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { schema } from '../../manuscript/schema.js';
import { attribute, child, elements, type Element } from '../xml.js';
import type { Part } from './context.js';
import { Blocks } from './read-blocks.js';
import { Words, type Elsewhere } from './read-words.js';

/** Footnotes and endnotes (ISO/IEC 29500-1, 17.11): each is read where the text first refers to it. */

export class Notes {
  readonly #elements = new Map<string, Element>();
  readonly #words: Words;
  /** The notes that the text refers to, in the order of the text. */
  readonly read: { node: Node; id: string; start: number; end: number }[] = [];

  constructor(
    readonly part: Part,
    readonly kind: 'foot' | 'end',
    threads: Omit<Elsewhere, 'note'>,
  ) {
    this.#words = new Words(part, { ...threads, note: () => null });
    part.parse({
      within: `w:${kind}notes`,
      each: (element) => {
        // Those with a type are rules and notices between text and notes (17.18.33), not notes.
        if (element.name === `w:${kind}note` && (attribute(element, 'w:type') ?? 'normal') === 'normal')
          this.#elements.set(attribute(element, 'w:id') ?? '', element);
      },
    });
  }

  /** The note of that number, as it stands among words. */
  note(id: string, marks: readonly Mark[]): Node | null {
    const element = this.#elements.get(id);
    if (!element) return null;
    const blocks = new Blocks(this.part, this.#words, null);
    blocks.inside(bare(element, this.kind));
    const content = blocks.finish().map(({ node }) => node);
    const node = schema.nodes.footnote.create({ kind: this.kind }, Fragment.fromArray(content), marks);
    this.read.push({ node, id, start: element.start, end: element.end });
    return node;
  }
}

/** A note without its own number at its beginning, and the space behind that. */
function bare(note: Element, kind: 'foot' | 'end'): Element {
  const first = [...elements(note)].find(({ name }) => name === 'w:p');
  if (!first) return note;
  let seen = false;
  const content = first.children.flatMap((one): (Element | string)[] => {
    if (typeof one === 'string' || one.name !== 'w:r') return [one];
    if (child(one, `w:${kind}noteRef`)) {
      seen = true;
      const rest = one.children.filter((inner) => typeof inner === 'string' || inner.name !== `w:${kind}noteRef`);
      return [{ ...one, children: withoutSpace(rest) }];
    }
    if (!seen) return [one];
    seen = false;
    return [{ ...one, children: withoutSpace(one.children) }];
  });
  const paragraph = { ...first, children: content };
  return { ...note, children: note.children.map((one) => (one === first ? paragraph : one)) };
}

/** A run’s content without one space at its beginning. */
function withoutSpace(children: (Element | string)[]): (Element | string)[] {
  const at = children.findIndex((one) => typeof one !== 'string' && one.name === 'w:t');
  const text = children[at];
  const [first] = typeof text === 'object' ? text.children : [];
  if (typeof text !== 'object' || typeof first !== 'string' || !first.startsWith(' ')) return children;
  return children.map((one) =>
    one === text ? { ...text, children: [first.slice(1), ...text.children.slice(1)] } : one,
  );
}
