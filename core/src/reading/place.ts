import { Fragment, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import { decideToken, type Verdict } from '../changes/verdict.js';
import { resolve } from './readings.js';

/** How much of the content of a paragraph before an offset is there in a reading. */
function sizeBefore(paragraph: Node, offset: number, verdict: Verdict): number {
  if (!hasChanges(paragraph)) return Math.min(offset, paragraph.content.size);
  let size = 0;
  paragraph.forEach((node, at) => {
    if (at >= offset) return;
    const stays = decideToken({ kind: node.isText ? 'letter' : 'atom', node }, () => verdict);
    // What is changed within a footnote counts too.
    const { nodeSize } = node.isLeaf ? node : resolve(node, () => verdict);
    if (stays) size += Math.min(nodeSize, offset - at);
  });
  return size;
}

/**
 * Where a position of the text is in its fair reading (`accept`) or before reading (`reject`). What has gone there is
 * where it would be; within a table the place is that of the table. Where paragraphs around a pending table join, it may be
 * off by a few places: good enough to keep a place on the screen.
 */
export function placeInReading(doc: Node, pos: number, verdict: Verdict): number {
  let start = 0;
  /** Where the block before ends in the reading, and whether it is a paragraph that can go on. */
  let end = 0;
  let open = false;
  for (const block of doc.children) {
    const offset = pos - start;
    if (block.isTextblock) {
      const opens = !!decideToken({ kind: 'opening', node: block }, () => verdict);
      const begin = opens || !open ? end + 1 : end - 1;
      if (offset <= 0) return Math.min(begin, end);
      if (offset < block.nodeSize) return begin + sizeBefore(block, offset - 1, verdict);
      end = begin + sizeBefore(block, block.content.size, verdict) + 1;
      open = true;
    } else {
      if (offset <= 0) return end;
      if (offset < block.nodeSize) return end + 1;
      const { size } = hasChanges(block)
        ? resolve(doc.copy(Fragment.from(block)), () => verdict).content
        : { size: block.nodeSize };
      end += size;
      if (size) open = false;
    }
    start += block.nodeSize;
  }
  return end;
}

/** Where a position of the fair or before reading is in the text: the first place that is there in the reading. */
export function placeInText(doc: Node, pos: number, verdict: Verdict): number {
  let low = 0;
  let high = doc.content.size;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (placeInReading(doc, middle, verdict) < pos) low = middle + 1;
    else high = middle;
  }
  return low;
}
