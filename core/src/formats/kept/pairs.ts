import type { Node } from 'prosemirror-model';
import type { Fragment } from '../../manuscript/origin.js';

/**
 * Which of the things carried from a file can be written: of those that stand around words, only where beginning and end
 * are both there and cross no others. What an edit has left without its other end is left out.
 */

/** Whether something closes what it opens, and does not only mark two places. */
export const isWrapper = (fragment: Fragment | undefined): boolean => !!fragment?.close?.startsWith('</');

interface Open {
  name: string;
  node: Node;
  pos: number;
}

export function whole(doc: Node, fragment: (name: string) => Fragment | undefined): ReadonlySet<number> {
  const written = new Set<number>();
  const ranges = new Map<string, Open[]>();
  const once = new Set<string>();
  const both = (a: Open, b: number) => written.add(a.pos).add(b);
  const inParagraph = (paragraph: Node, start: number) => {
    const around: Open[] = [];
    paragraph.forEach((node, offset) => {
      if (node.type.name !== 'carried_thing' || node.attrs.part === 'whole') return;
      const name = node.attrs.carried as string;
      const pos = start + 1 + offset;
      const wraps = isWrapper(fragment(name));
      const stack = wraps ? around : (ranges.get(name) ?? []);
      if (!wraps) ranges.set(name, stack);
      if (node.attrs.part === 'begin') {
        stack.push({ name, node, pos });
        return;
      }
      const at = stack.findLastIndex((open) => open.name === name);
      if (at < 0) return;
      const [begin] = stack.splice(at);
      // A bookmark has one place, however often its words were copied; fields can be many.
      const isNamed = node.attrs.what === 'bookmark';
      if (isNamed && once.has(name)) return;
      if (isNamed) once.add(name);
      both(begin!, pos);
    });
  };
  doc.descendants((node, pos) => {
    if (node.isTextblock) inParagraph(node, pos);
  });
  return written;
}
