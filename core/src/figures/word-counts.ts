import type { Node } from 'prosemirror-model';
import { outline } from '../manuscript/outline.js';
import { countWords } from '../manuscript/words.js';

/** How many words a text has, as it reads when all is accepted: what would be deleted is not counted. */

const isDeleted = (node: Node) => node.marks.some(({ type }) => type.name === 'deletion');

/** The fair words of a stretch of a node's content, places of the node; what ends a paragraph ends a word. */
function fairText(node: Node, from: number, to: number): string {
  let text = '';
  const notes: string[] = [];
  node.nodesBetween(from, to, (inner, pos) => {
    if (isDeleted(inner)) return false;
    if (inner.type.name === 'footnote') {
      const inside = Math.min(to - pos - 1, inner.content.size);
      notes.push(fairText(inner, Math.max(0, from - pos - 1), inside));
      return false;
    }
    if (inner.isText) text += inner.text!.slice(Math.max(0, from - pos), to - pos);
    else if (inner.isTextblock || inner.type.name === 'line_break') text += ' ';
    return true;
  });
  return [text, ...notes].join(' ');
}

const known = new WeakMap<Node, number>();

/** The words of a block, counted once for as long as it lives. */
function wordsOfBlock(block: Node): number {
  let words = known.get(block);
  if (words === undefined) {
    words = isDeleted(block) ? 0 : countWords(fairText(block, 0, block.content.size));
    known.set(block, words);
  }
  return words;
}

export interface WordCounts {
  text: number;
  /** Of the section a place stands in, with what it is headed by; null where it stands in none. */
  section: { heading: string; words: number } | null;
  selected: number;
}

/**
 * Counts the words of a text, of the section in which a selection begins, and of the selection. Footnotes are counted
 * where they stand.
 * @param from where the selection begins @param to and where it ends
 */
export function wordCounts(doc: Node, from: number, to: number): WordCounts {
  const headings = outline(doc);
  const here = headings.findLast(({ at }) => at <= from) ?? null;
  const next = here && headings.find(({ at, section }) => at > here.at && !section.includes(here.key));
  let text = 0;
  let section = 0;
  doc.forEach((block, at) => {
    const words = wordsOfBlock(block);
    text += words;
    if (here && at >= here.at && (!next || at < next.at)) section += words;
  });
  return {
    text,
    section: here && { heading: here.text, words: section },
    selected: from === to ? 0 : countWords(fairText(doc, from, to)),
  };
}
