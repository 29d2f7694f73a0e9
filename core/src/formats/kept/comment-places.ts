import type { Node } from 'prosemirror-model';
import type { Manuscript } from '../../manuscript/manuscript.js';
import type { ThreadId } from '../../manuscript/threads.js';
import { anchors } from '../../threads/anchors.js';

type Threads = Map<number, ThreadId[]>;

/** Where comments begin and end, and which stand on no words. */
export function commentPlaces(
  doc: Node,
  { threads }: Pick<Manuscript, 'threads'>,
  numbered: ReadonlyMap<ThreadId, unknown>,
) {
  const [starts, ends, placed]: [Threads, Threads, Threads] = [new Map(), new Map(), new Map()];
  const note = (map: Threads, pos: number, id: ThreadId) => map.set(pos, [...(map.get(pos) ?? []), id]);
  const fastened = anchors(doc);
  for (const [id, ranges] of fastened) {
    if (!numbered.has(id)) continue;
    note(starts, ranges[0]!.from, id);
    note(ends, ranges[ranges.length - 1]!.to, id);
  }
  const loose = threads.filter(({ id }) => !fastened.has(id) && numbered.has(id));
  if (loose.length) {
    const paragraphs: number[] = [];
    doc.descendants((node, pos) => {
      if (node.isTextblock) paragraphs.push(pos);
      return !node.isTextblock;
    });
    for (const { id, place } of loose)
      note(placed, paragraphs.findLast((pos) => pos < (place?.from ?? 0)) ?? paragraphs[0]!, id);
  }
  return { starts, ends, placed };
}
