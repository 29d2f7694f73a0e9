import type { Node } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';
import { schema } from '../manuscript/schema.js';
import type { Stamp } from '../manuscript/signature.js';
import { replaced } from '../sweeps/replaced.js';
import { sweepAll } from '../sweeps/sweep.js';
import type { Finding, Proposal } from './finding.js';
import { beginningOf, placesIn } from './passage.js';

/** Putting right what the last look has found. */

/** A proposal for a stretch of a passage. */
export interface Correction extends Pick<Finding, 'passage' | 'from' | 'to'> {
  /** The number of the block in the text. */
  block: number;
  proposal: Proposal;
}

/** Where a block of a text begins. */
export function blockAt(doc: Node, index: number): number {
  let at = 0;
  for (let i = 0; i < index; i++) at += doc.child(i).nodeSize;
  return at;
}

/** Where a correction sets in, and which ranges of the text it is about. */
function rangesOf(doc: Node, { block, passage, from, to, proposal }: Correction) {
  const at = blockAt(doc, block);
  const [begin, end] = [proposal.from ?? from, proposal.to ?? to];
  const ranges = placesIn(doc.child(block), at, passage, begin, end);
  const beginning = beginningOf(doc.child(block), at, passage);
  return ranges.length ? ranges : [{ from: beginning, to: beginning }];
}

/** The plain edit a proposal stands for. */
export function correction(state: EditorState, one: Correction): Transaction {
  const { tr, doc } = state;
  const ranges = rangesOf(doc, one);
  switch (one.proposal.how) {
    case 'paragraph': {
      const place = doc.resolve(ranges[0]!.from);
      // An empty paragraph goes with what parts it from the one before, or from the one behind where it is the first.
      const index = place.index(place.depth - 1);
      const around = place.node(place.depth - 1);
      const before = index > 0 ? around.child(index - 1) : null;
      if (before?.isTextblock) return tr.delete(place.before() - 1, place.start());
      const behind = index + 1 < around.childCount ? around.child(index + 1) : null;
      return behind?.isTextblock ? tr.delete(place.end(), place.after() + 1) : tr;
    }
    case 'italic':
      for (const { from, to } of ranges) tr.addMark(from, to, schema.marks.italic.create());
      return tr;
    case 'highlight':
      for (const { from, to } of ranges) tr.removeMark(from, to, schema.marks.highlight);
      return tr;
    case undefined:
      return replaced(state, ranges, one.proposal.text);
  }
}

/**
 * Corrections throughout a text, as one sweep.
 * @param all in any order; of those that touch each other only the first counts
 * @param stamp for pencil; null for ink
 */
export function corrections(state: EditorState, all: readonly Correction[], stamp: Stamp | null): Transaction {
  const placed = all
    .filter(({ block }) => block < state.doc.childCount)
    .map((one) => {
      const ranges = rangesOf(state.doc, one);
      return { one, from: ranges[0]!.from, to: ranges[ranges.length - 1]!.to };
    })
    .sort((a, b) => a.from - b.from || a.to - b.to);
  const apart: typeof placed = [];
  for (const each of placed) {
    const last = apart[apart.length - 1];
    if (!last || each.from > last.to || (each.from === last.to && each.from !== each.to && last.from !== last.to))
      apart.push(each);
  }
  return sweepAll(
    state,
    apart.map(
      ({ one }) =>
        (now) =>
          correction(now, one),
    ),
    stamp,
  );
}
