import type { Node } from 'prosemirror-model';

/** The headings of a manuscript and the sections they head. */

export interface Heading {
  /** What it is told by: its words, and which of several of the same words it is. */
  key: string;
  /** Its words as they read when all is accepted. */
  text: string;
  /** 0 for a title, 1 to 6 for headings. */
  level: number;
  /** The keys of the headings it stands under, outermost first, its own last. */
  section: readonly string[];
}

const levelOf = (block: Node): number | null => {
  const style = String(block.attrs.style);
  if (style === 'title') return 0;
  return style.startsWith('heading') ? Number(style.slice(7)) : null;
};

function fairWords(paragraph: Node): string {
  let words = '';
  paragraph.forEach((node) => {
    if (node.isText && !node.marks.some(({ type }) => type.name === 'deletion')) words += node.text ?? '';
  });
  return words.trim();
}

/** What was made of a heading last; the same again where nothing above it has changed. */
const known = new WeakMap<Node, { above: Heading | null; heading: Heading }>();

/** The way through the headings of a document, block by block. */
export class Sections {
  readonly #above: Heading[] = [];
  readonly #count = new Map<string, number>();

  /** The section in which the block stands that was passed last; the same array for all of a section. */
  section: readonly string[] = [];

  /** Passes the next block. @returns the heading, if it is one */
  pass(block: Node): Heading | null {
    const level = block.isTextblock ? levelOf(block) : null;
    const text = level === null ? '' : fairWords(block);
    if (level === null || !text) return null;
    const n = (this.#count.get(text) ?? 0) + 1;
    this.#count.set(text, n);
    while (this.#above.length && this.#above[this.#above.length - 1]!.level >= level) this.#above.pop();
    const above = this.#above[this.#above.length - 1] ?? null;
    const key = n === 1 ? text : `${text} (${n})`;
    let found = known.get(block);
    if (found?.above !== above || found.heading.key !== key) {
      const heading = { key, text, level, section: [...(above?.section ?? []), key] };
      known.set(block, (found = { above, heading }));
    }
    this.#above.push(found.heading);
    this.section = found.heading.section;
    return found.heading;
  }
}

/** The section each position of a document stands in. */
export function sectionsOf(doc: Node): (pos: number) => readonly string[] {
  const headings = outline(doc);
  return (pos) => headings.findLast(({ at }) => at <= pos)?.section ?? [];
}

/** The headings of a document in reading order, each with the position of its paragraph. */
export function outline(doc: Node): (Heading & { at: number })[] {
  const sections = new Sections();
  const all: (Heading & { at: number })[] = [];
  doc.forEach((block, at) => {
    const heading = sections.pass(block);
    if (heading) all.push({ ...heading, at });
  });
  return all;
}
