import type { Mark, Node } from 'prosemirror-model';
import type { Properties } from '../manuscript/properties.js';
import type { Alignment } from './align.js';
import type { Region, Token } from './row.js';

/** A token as it shall be. `source` says which token of the region it is; without one it is new. */
export interface Target {
  kind: Token['kind'];
  text: string;
  node: Node;
  source: Token | null;
  marks: readonly Mark[];
  /** Attributes of an opening, an atom or a block. */
  attrs: Properties;
  /** What shall become of the row inside a token that stays. */
  inside?: Plan[];
}

/** A row as it shall be. Targets with a source stand in the order of their sources. */
export interface Plan {
  region: Region;
  targets: Target[];
}

/** A token that stays, with other marks or attributes where they are given. */
export const keep = (
  source: Token,
  marks: readonly Mark[] = source.node.marks,
  attrs: Properties = source.node.attrs,
): Target => ({ kind: source.kind, text: source.text, node: source.node, source, marks, attrs });

/** A token that comes. */
export const bring = ({ kind, text }: Pick<Token, 'kind' | 'text'>, node: Node, marks: readonly Mark[]): Target => ({
  kind,
  text,
  node,
  source: null,
  marks,
  attrs: node.attrs,
});

/**
 * What turns a row into what an edit has made of it.
 * @param kept what becomes of a token that lives on
 */
export function planOf({ before: region, items }: Alignment, kept: (was: Token, now: Token) => Target): Plan {
  const targets = items.flatMap(({ before, after, inside }) => {
    if (!after) return [];
    if (!before) return [bring(after, after.node, after.node.marks)];
    const target = kept(before, after);
    return [inside ? { ...target, inside: [planOf(inside, kept)] } : target];
  });
  return { region, targets };
}

/** How many positions a target takes where it stands; of an opening, only what stands before its content. */
export function length(target: Target): number {
  if (target.kind === 'letter') return target.text.length;
  if (target.kind === 'opening') return 1;
  return target.node.nodeSize + (target.inside ?? []).reduce((sum, plan) => sum + growth(plan), 0);
}

/** Where each target will stand, and where the row ends. An opening stands before its paragraph, as in ProseMirror. */
export function positions({ region, targets }: Plan): { at: number[]; end: number } {
  let { pos, open: inParagraph } = region.start;
  const at = targets.map((target) => {
    const block = target.kind === 'opening' || target.kind === 'block';
    const here = block && inParagraph ? pos + 1 : pos; // what is a block also closes the paragraph before it
    pos = here + length(target);
    if (block) inParagraph = target.kind === 'opening';
    return here;
  });
  // A row of whole blocks ends behind its last paragraph.
  return { at, end: inParagraph && !region.container.isTextblock ? pos + 1 : pos };
}

/** By how many positions a row grows. */
const growth = (plan: Plan): number => positions(plan).end - plan.region.to;
