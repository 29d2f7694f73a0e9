import type { ResolvedPos } from 'prosemirror-model';
import { TextSelection, type Selection } from 'prosemirror-state';

/** The depth of the innermost container of paragraphs (document, cell, footnote) that a position is in. */
const containerDepth = ($pos: ResolvedPos): number => {
  let depth = $pos.depth;
  while (depth > 0 && !['doc', 'table_cell', 'footnote'].includes($pos.node(depth).type.name)) depth--;
  return depth;
};

/** The place nearest to a position, on the side it lies from `$anchor`, that is in the container of `$anchor`. */
function bringInto($anchor: ResolvedPos, $pos: ResolvedPos): number {
  const depth = containerDepth($anchor);
  const forwards = $pos.pos > $anchor.pos;
  if (depth > 0 && ($pos.pos < $anchor.start(depth) || $pos.pos > $anchor.end(depth))) {
    return forwards ? $anchor.end(depth) - 1 : $anchor.start(depth) + 1;
  }
  // Deeper in: all of the table, or of the footnote, that it is in.
  const inner = containerDepth($pos);
  if (inner <= depth) return $pos.pos;
  const block = $pos.node(depth + 1).isTextblock ? depth + 2 : depth + 1;
  const edge = forwards ? $pos.after(block) : $pos.before(block);
  if (block === depth + 2) return edge; // a footnote stands in a paragraph
  return forwards ? edge + 1 : edge - 1;
}

/**
 * A text selection that stays within one run of paragraphs: within the cell or footnote it begins in, or over whole
 * tables. Edits of half a table have no sensible meaning; this keeps them from arising.
 */
export function contained(selection: Selection): Selection {
  if (!(selection instanceof TextSelection) || selection.empty) return selection;
  const { $anchor, $head } = selection;
  const head = bringInto($anchor, $head);
  return head === $head.pos ? selection : TextSelection.create($anchor.doc, $anchor.pos, head);
}
