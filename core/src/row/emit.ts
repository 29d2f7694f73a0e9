import { Fragment, Slice, type Mark, type Node } from 'prosemirror-model';
import {
  AddMarkStep,
  AddNodeMarkStep,
  AttrStep,
  RemoveMarkStep,
  RemoveNodeMarkStep,
  ReplaceStep,
} from 'prosemirror-transform';
import { differences } from '../manuscript/properties.js';
import { schema } from '../manuscript/schema.js';
import type { Plan, Target } from './plan.js';
import type { Stepping } from './on-blocks.js';
import { hasInside, type Token } from './row.js';

interface Run {
  mark: Mark;
  add: boolean;
  from: number;
  to: number;
}

const isInline = ({ kind }: Token) => kind === 'letter' || kind === 'atom';

/** Whether marks go on with steps over a range; those over what has a row inside would mark that too. */
const isMarkedByRange = (token: Token) => token.kind === 'letter' || (token.kind === 'atom' && !hasInside(token));

/** Emits the mark steps of inline tokens, neighbouring ones with the same mark in one step. */
function emitInlineMarks(on: Stepping, targets: readonly Target[]): void {
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
  for (const { source, marks } of targets) {
    if (!source || !isMarkedByRange(source) || source.node.marks === marks) continue;
    open = open.filter((run) => run.to === source.pos);
    for (const mark of source.node.marks) if (!mark.isInSet(marks)) note(mark, false, source);
    for (const mark of marks) if (!mark.isInSet(source.node.marks)) note(mark, true, source);
  }
  // Removals first: a property mark may give way to another of its type.
  for (const run of runs) if (!run.add) on.step(new RemoveMarkStep(run.from, run.to, run.mark));
  for (const run of runs) if (run.add) on.step(new AddMarkStep(run.from, run.to, run.mark));
}

function emitNodeMarks(on: Stepping, { source, marks, attrs }: Target): void {
  if (!source || source.kind === 'letter') return;
  if (!isMarkedByRange(source) && source.node.marks !== marks) {
    for (const mark of source.node.marks) if (!mark.isInSet(marks)) on.step(new RemoveNodeMarkStep(source.pos, mark));
    for (const mark of marks) if (!mark.isInSet(source.node.marks)) on.step(new AddNodeMarkStep(source.pos, mark));
  }
  if (source.node.attrs === attrs) return;
  for (const { name, now } of differences(source.node.attrs, attrs)) on.step(new AttrStep(source.pos, name, now));
}

/** Marks and attributes, at every depth: they move nothing, so they come before all else. */
function emitBearings(on: Stepping, { targets }: Plan): void {
  emitInlineMarks(on, targets);
  for (const target of targets) {
    emitNodeMarks(on, target);
    for (const plan of target.inside ?? []) emitBearings(on, plan);
  }
}

const nodeOf = ({ kind, text, node, attrs, marks }: Target): Node =>
  kind === 'letter' ? schema.text(text, marks) : node.type.create(attrs, node.content, marks);

/** Blocks that new tokens make: the tail of the paragraph they begin in, whole blocks, the head of the last. */
function blocksOf(fresh: readonly Target[], open: boolean): { opening: Target | null; content: Node[] | Node }[] {
  const blocks: { opening: Target | null; content: Node[] | Node }[] = open ? [{ opening: null, content: [] }] : [];
  for (let i = 0; i < fresh.length; i++) {
    const target = fresh[i]!;
    const last = blocks.at(-1);
    if (target.kind === 'opening') blocks.push({ opening: target, content: [] });
    else if (target.kind === 'block') blocks.push({ opening: target, content: nodeOf(target) });
    else if (last && Array.isArray(last.content)) {
      let text = target.text;
      // Letters that bear the very same marks are one piece of text.
      if (target.kind === 'letter')
        while (fresh[i + 1]?.kind === 'letter' && fresh[i + 1]?.marks === target.marks) text += fresh[++i]?.text;
      last.content.push(nodeOf({ ...target, text }));
    }
  }
  return blocks;
}

/**
 * Puts new tokens in.
 * @param pos where the token before them ends
 * @param open whether that is within a paragraph
 */
function emitInsertion(on: Stepping, pos: number, open: boolean, fresh: readonly Target[]): void {
  const blocks = blocksOf(fresh, open);
  if (open && blocks.length === 1) {
    on.step(new ReplaceStep(pos, pos, new Slice(Fragment.fromArray(blocks[0]!.content as Node[]), 0, 0)));
    return;
  }
  const nodes = blocks.map(({ opening, content }) =>
    Array.isArray(content)
      ? schema.nodes.paragraph.create(opening?.attrs ?? null, Fragment.fromArray(content), opening?.marks)
      : content,
  );
  const endsOpen = open && nodes[nodes.length - 1]!.isTextblock;
  // New blocks that end with a table go in where the paragraph ends, and close it.
  const to = open && !endsOpen ? pos + 1 : pos;
  on.step(new ReplaceStep(pos, to, new Slice(Fragment.fromArray(nodes), open ? 1 : 0, endsOpen ? 1 : 0)));
}

/**
 * A real removal, one token a step: where someone else has typed meanwhile, their letters are not in its range.
 * @param also a table before an opening, that goes with it
 */
function emitRemoval(on: Stepping, token: Token, also: Token | null): void {
  if (also) on.step(new ReplaceStep(also.pos - 1, token.pos + 1, Slice.empty));
  else if (token.fixed)
    on.step(new ReplaceStep(token.pos, token.pos + 2, Slice.empty)); // an empty paragraph after a table
  else if (token.kind === 'opening') on.step(new ReplaceStep(token.pos - 1, token.pos + 1, Slice.empty, true));
  else on.step(new ReplaceStep(token.pos, token.pos + token.size, Slice.empty));
}

/** How removals are made: a token a step, or neighbouring letters and atoms of a paragraph together. */
export type Removals = 'single' | 'together';

/** Insertions and removals, from right to left, so that positions stay good until they are used. */
function emitStructure(on: Stepping, { region, targets }: Plan, removals: Removals): void {
  let t = targets.length - 1;
  let source = region.row.length - 1;
  const before = (k: number) => {
    const token = region.row[k];
    return token ? { pos: token.pos + token.size, open: token.kind !== 'block' } : region.start;
  };
  while (t >= 0 || source >= 0) {
    const freshEnd = t + 1;
    while (t >= 0 && !targets[t]!.source) t--;
    // A table that goes must not come to stand beside one that comes.
    const left = t >= 0 ? targets[t]!.source : null;
    while (source >= 0 && region.row[source] !== left && region.row[source]!.kind === 'block') {
      emitRemoval(on, region.row[source--]!, null);
    }
    if (freshEnd > t + 1) {
      const { pos, open } = before(source);
      emitInsertion(on, pos, open, targets.slice(t + 1, freshEnd));
    }
    const kept = t >= 0 ? targets[t]!.source : null;
    while (source >= 0 && region.row[source] !== kept) {
      const token = region.row[source--]!;
      if (removals === 'together' && isInline(token)) {
        let first = token;
        while (source >= 0 && region.row[source] !== kept && isInline(region.row[source]!))
          first = region.row[source--]!;
        on.step(new ReplaceStep(first.pos, token.pos + token.size, Slice.empty));
        continue;
      }
      const table = region.row[source];
      const together = token.kind === 'opening' && table?.kind === 'block' && table !== kept;
      emitRemoval(on, token, together ? table : null);
      if (together) source--;
    }
    if (source >= 0) {
      for (const plan of [...(targets[t]!.inside ?? [])].reverse()) emitStructure(on, plan, removals);
      source--;
      t--;
    }
  }
}

/**
 * Makes the steps that turn the row of a plan's region into its targets, inside its tokens too.
 * @param removals single for steps that others may have to be carried over (see emitRemoval)
 */
export function emit(on: Stepping, plan: Plan, removals: Removals = 'single'): void {
  emitBearings(on, plan);
  emitStructure(on, plan, removals);
}
