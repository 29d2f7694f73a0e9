import type { Mark, Node } from 'prosemirror-model';

/** Plain data as text, whatever the order of its keys: those of JSON have none (RFC 8259, section 4), and a database may sort them. */
export function stable(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) return `[${value.map(stable).join()}]`;
  const entries = Object.entries(value).sort(([x], [y]) => (x < y ? -1 : 1));
  return `{${entries.map(([name, each]) => `${name}:${stable(each)}`).join()}}`;
}

/** A mark as a text to compare by. */
export const keyOf = (mark: Mark): string => mark.type.name + stable(mark.attrs);

const sorted = (marks: readonly Mark[]): readonly Mark[] =>
  marks.length < 2
    ? marks
    : [...marks].sort((a, b) => a.type.name.localeCompare(b.type.name) || (keyOf(a) < keyOf(b) ? -1 : 1));

/**
 * A document as plain data in which the order of marks, which has no meaning, is settled: two documents are the same
 * manuscript when these are equal. Neighbouring text with the same marks is one piece.
 */
export function canonical(node: Node): unknown {
  const content: { text?: string; marks?: string }[] = [];
  node.forEach((child) => {
    const marks = sorted(child.marks).map(keyOf).join(' ');
    const last = content[content.length - 1];
    if (child.text !== undefined && last?.text !== undefined && last.marks === marks) last.text += child.text;
    else if (child.isText) content.push({ text: child.text, marks });
    else content.push({ ...(canonical(child) as object), marks });
  });
  return { type: node.type.name, attrs: stable(node.attrs), content };
}

/** Whether two documents, or two runs of blocks, are the same manuscript. */
export const sameManuscript = (a: Node, b: Node): boolean =>
  a === b || JSON.stringify(canonical(a)) === JSON.stringify(canonical(b));
