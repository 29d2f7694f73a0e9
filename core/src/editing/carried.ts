import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { schema } from '../manuscript/schema.js';

/** What was carried from a file, when words go from one manuscript to another: of another file’s there is nothing here. */

/** The names of all that some content refers to beside the text. */
export function carriedNames(content: Fragment): Set<string> {
  const names = new Set<string>();
  content.descendants((node) => {
    if (typeof node.attrs.carried === 'string') names.add(node.attrs.carried);
    for (const { type, attrs } of node.marks) if (type === schema.marks.carriedLook) names.add(attrs.value as string);
  });
  return names;
}

/**
 * Content without what another manuscript carries.
 * @param isHere whether there is something of that name here
 * @returns what is left, and what each thing was called that stayed behind
 */
export function withoutCarried(
  content: Fragment,
  isHere: (name: string) => boolean,
): { content: Fragment; left: string[] } {
  const left: string[] = [];
  const bare = (marks: readonly Mark[]) =>
    marks.filter(({ type, attrs }) => type !== schema.marks.carriedLook || isHere(attrs.value as string));
  const each = (nodes: Fragment): Fragment =>
    Fragment.fromArray(
      nodes.content.flatMap((node): Node[] => {
        const name = node.attrs.carried as string | null | undefined;
        const strange = typeof name === 'string' && !isHere(name);
        if (strange && node.type === schema.nodes.carried_thing) {
          if (node.attrs.part !== 'end') left.push(node.attrs.what as string);
          return [];
        }
        const marks = bare(node.marks);
        if (node.isText) return [node.mark(marks)];
        return [node.type.create(strange ? { ...node.attrs, carried: null } : node.attrs, each(node.content), marks)];
      }),
    );
  return { content: each(content), left };
}
