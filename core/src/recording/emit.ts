import { Fragment, Slice, type Mark, type Node } from 'prosemirror-model';
import {
  AddMarkStep,
  AddNodeMarkStep,
  AttrStep,
  RemoveMarkStep,
  RemoveNodeMarkStep,
  ReplaceStep,
  type Transform,
} from 'prosemirror-transform';
import { differences, type Properties } from '../manuscript/properties.js';
import { schema } from '../manuscript/schema.js';
import type { Region, Token } from './row.js';

/** A token as it shall be. `source` says which token of the region it is; without one it is new. */
export interface Target {
  kind: Token['kind'];
  text: string;
  node: Node;
  source: Token | null;
  marks: readonly Mark[];
  /** Attributes of an opening or an atom. */
  attrs: Properties;
}

export const keep = (
  source: Token,
  marks: readonly Mark[] = source.node.marks,
  attrs: Properties = source.node.attrs,
): Target => ({
  kind: source.kind,
  text: source.text,
  node: source.node,
  source,
  marks,
  attrs,
});

/** How many positions a target takes where it stands. */
export const length = (target: Target): number =>
  target.kind === 'letter' ? target.text.length : target.kind === 'opening' ? 1 : target.node.nodeSize;

/** Where each target will stand, and where the row ends. An opening stands before its paragraph, as in ProseMirror. */
export function positions(region: Region, targets: readonly Target[]): { at: number[]; end: number } {
  let pos = region.from - 1; // the end of the paragraph before the region
  const at = targets.map((target) => {
    const here = target.kind === 'opening' ? pos + 1 : pos; // an opening also closes the paragraph before it
    pos = here + length(target);
    return here;
  });
  return { at, end: pos };
}

interface Run {
  mark: Mark;
  add: boolean;
  from: number;
  to: number;
}

/** Emits the mark steps of inline tokens, neighbouring ones with the same mark in one step. */
function emitInlineMarks(tr: Transform, targets: readonly Target[]): void {
  const runs: Run[] = [];
  let open: Run[] = [];
  const note = (mark: Mark, add: boolean, token: Token) => {
    const run = open.find((r) => r.add === add && r.to === token.pos && r.mark.eq(mark));
    if (run) run.to += token.size;
    else {
      const begun = { mark, add, from: token.pos, to: token.pos + token.size };
      open.push(begun);
      runs.push(begun);
    }
  };
  for (const { source, marks, kind } of targets) {
    if (!source || kind === 'opening' || kind === 'wall' || source.node.marks === marks) continue;
    open = open.filter((run) => run.to === source.pos);
    for (const mark of source.node.marks) if (!mark.isInSet(marks)) note(mark, false, source);
    for (const mark of marks) if (!mark.isInSet(source.node.marks)) note(mark, true, source);
  }
  // Removals first: a property mark may give way to another of its type.
  for (const run of runs) if (!run.add) tr.step(new RemoveMarkStep(run.from, run.to, run.mark));
  for (const run of runs) if (run.add) tr.step(new AddMarkStep(run.from, run.to, run.mark));
}

function emitNodeMarks(tr: Transform, { source, marks, attrs, kind }: Target): void {
  if (!source || kind === 'letter') return;
  if (kind === 'opening' && source.node.marks !== marks) {
    for (const mark of source.node.marks) if (!mark.isInSet(marks)) tr.step(new RemoveNodeMarkStep(source.pos, mark));
    for (const mark of marks) if (!mark.isInSet(source.node.marks)) tr.step(new AddNodeMarkStep(source.pos, mark));
  }
  if (source.node.attrs === attrs) return;
  for (const { name, now } of differences(source.node.attrs, attrs)) {
    tr.step(new AttrStep(source.pos, name, now));
  }
}

/** The slice that puts new tokens in: the tail of one paragraph, whole paragraphs, the head of the last. */
function sliceOf(fresh: readonly Target[]): Slice {
  const paragraphs: { opening: Target | null; content: Node[] }[] = [{ opening: null, content: [] }];
  for (const target of fresh) {
    const last = paragraphs[paragraphs.length - 1]!;
    if (target.kind === 'opening') paragraphs.push({ opening: target, content: [] });
    else if (target.kind === 'letter') last.content.push(schema.text(target.text, target.marks));
    else last.content.push(target.node.type.create(target.attrs, target.node.content, target.marks));
  }
  if (paragraphs.length === 1) return new Slice(Fragment.fromArray(paragraphs[0]!.content), 0, 0);
  const nodes = paragraphs.map(({ opening, content }) =>
    schema.nodes.paragraph!.create(opening?.attrs ?? null, Fragment.fromArray(content), opening?.marks),
  );
  return new Slice(Fragment.fromArray(nodes), 1, 1);
}

/** A real removal, one token a step: where someone else has typed meanwhile, their letters are not in its range. */
function emitRemoval(tr: Transform, token: Token): void {
  if (token.kind === 'opening') tr.step(new ReplaceStep(token.pos - 1, token.pos + 1, Slice.empty, true));
  else tr.step(new ReplaceStep(token.pos, token.pos + token.size, Slice.empty));
}

/**
 * Adds to `tr` the steps that turn the row of a region into the targets. Targets with a source stand in the order of
 * their sources. Steps go from right to left, so that the positions of the region stay good until they are used.
 */
export function emit(tr: Transform, region: Region, targets: readonly Target[]): void {
  emitInlineMarks(tr, targets);
  for (const target of targets) emitNodeMarks(tr, target);

  let t = targets.length - 1;
  let source = region.row.length - 1;
  const endOf = (k: number) => (k < 0 ? region.from - 1 : region.row[k]!.pos + region.row[k]!.size);
  while (t >= 0 || source >= 0) {
    const freshEnd = t + 1;
    while (t >= 0 && !targets[t]!.source) t--;
    if (freshEnd > t + 1) {
      const pos = endOf(source);
      tr.step(new ReplaceStep(pos, pos, sliceOf(targets.slice(t + 1, freshEnd))));
    }
    const kept = t >= 0 ? targets[t]!.source : null;
    while (source >= 0 && region.row[source] !== kept) emitRemoval(tr, region.row[source--]!);
    if (source >= 0) {
      source--;
      t--;
    }
  }
}
