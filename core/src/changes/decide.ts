import type { Transform } from 'prosemirror-transform';
import type { ChangeId } from '../manuscript/manuscript.js';
import { emit, keep, type Target } from '../recording/emit.js';
import { regionOf, type Region } from '../recording/row.js';
import { forEachContainer, hasChanges } from './blocks.js';
import { decideToken, type Judge, type Verdict } from './verdict.js';

function decideRegion(tr: Transform, region: Region, judge: Judge): void {
  const targets: Target[] = [];
  let touched = false;
  for (const token of region.row) {
    const look = decideToken(token, judge);
    touched ||= !look || look.marks !== token.node.marks || look.attrs !== token.node.attrs;
    if (look) targets.push(keep(token, look.marks, look.attrs));
  }
  if (touched) emit(tr, region, targets);
}

/**
 * Accepts or rejects changes: the steps are added to `tr`.
 * @param which the ids of the changes, or all; ids that are not in the document are passed over
 * @returns the same `tr`
 */
export function decide(tr: Transform, which: Iterable<ChangeId> | 'all', verdict: Verdict): Transform {
  const ids = which === 'all' ? null : new Set(which);
  const judge: Judge = (change) => (!ids || ids.has(change) ? verdict : undefined);
  const { doc } = tr;
  // From the end to the start, so that positions further left stay good.
  const containers: { regions: () => Generator<Region>; start: number }[] = [];
  forEachContainer(doc, 0, (container, start) => {
    containers.push({
      start,
      *regions() {
        for (let end = container.childCount; end > 0;) {
          while (end > 0 && !hasChanges(container.child(end - 1))) end--;
          let first = end;
          while (first > 0 && hasChanges(container.child(first - 1)) && container.child(first - 1).isTextblock) first--;
          if (first < end) yield regionOf(doc, container, start, first, end);
          end = first === end ? end - 1 : first;
        }
      },
    });
  });
  const regions = containers.flatMap(({ regions: each }) => [...each()]).sort((a, b) => b.from - a.from);
  for (const region of regions) decideRegion(tr, region, judge);
  return tr;
}
