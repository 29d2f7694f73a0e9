import { Fragment, type Node } from 'prosemirror-model';
import { hasChanges } from '../changes/blocks.js';
import type { Signature, Stamp } from '../manuscript/signature.js';
import { Recording, stretches, type Gap } from '../recording/recording.js';
import { layOut, type Alignment } from '../row/align.js';
import { regionOf, type Token } from '../row/row.js';
import type { Side } from '../row/touched.js';
import { assembled } from './assembled.js';
import { partsOf } from './paragraphs.js';
import { byContent } from './words.js';

/** How many letters a passage has at least that is found to have moved. */
const shortestMove = 20;

const wholeOf = ({ doc, container, start }: Side) => regionOf(doc, container, start, 0, container.childCount);
const wholly = (before: Side, after: Side) => ({ before: wholeOf(before), after: wholeOf(after) });

/** All gaps of an alignment, inside its tokens too. */
function* gapsOf({ items }: Alignment): Generator<Gap> {
  for (const part of stretches(items)) {
    if (!('kept' in part)) yield part;
    else if (part.kept.inside) yield* gapsOf(part.kept.inside);
  }
}

/** What a passage says, by which it is known again; null where it is too short, or more than words. */
function passage(tokens: readonly Token[]): string | null {
  const text = tokens.map(({ kind, text }) => (kind === 'opening' ? '\n' : kind === 'letter' ? text : '\0')).join('');
  const said = text.trim();
  return said.length < shortestMove || said.includes('\0') ? null : said;
}

/** Passages that went in one place and came in another, once each: both ends are one change. */
function moves(alignments: readonly Alignment[], sign: () => Signature): Map<Token, Signature> {
  const ends = { gone: new Map<string, Token[]>(), come: new Map<string, Token[]>() };
  for (const { gone, come } of alignments.flatMap((one) => [...gapsOf(one)])) {
    if (gone.length && come.length) continue;
    const side = gone.length ? 'gone' : 'come';
    const tokens = gone.length ? gone : come;
    const said = passage(tokens);
    if (said) ends[side].set(said, [...(ends[side].get(said) ?? []), tokens[0]!]);
  }
  const found = new Map<Token, Signature>();
  for (const [said, gone] of ends.gone) {
    const come = ends.come.get(said) ?? [];
    if (gone.length !== 1 || come.length !== 1) continue;
    const signature = sign();
    found.set(gone[0]!, signature).set(come[0]!, signature);
  }
  return found;
}

/**
 * Two texts as one with changes: all that the one has and the other has not is recorded, each difference as a change of
 * its own. With every change rejected it is `before`, with every change accepted `after` (its comments stay there).
 * @param stamp whose changes these are, and when they were made
 * @throws RangeError where something is pending in one of the texts; read it as fair or as before first
 */
export function collate(before: Node, after: Node, stamp: Stamp): Node {
  if (hasChanges(before) || hasChanges(after)) throw new RangeError('Something is pending in one of the texts.');
  const { author, date } = stamp;
  const sign = (): Signature => ({ change: stamp.newChange(), author, date });
  const parts = partsOf(before, after).map((part) => ({ ...part, alignment: layOut(part, byContent, wholly) }));
  const moved = moves(
    parts.map(({ alignment }) => alignment),
    sign,
  );
  const recording = new Recording(before, stamp, new Map(), ({ gone, come }) => {
    const [first] = gone.length ? gone : come;
    return moved.get(first!) ?? sign();
  });
  let next = 0;
  const blocks = parts.map(({ first, end, alignment }) => {
    const same = before.children.slice(next, first);
    next = end;
    return [...same, ...assembled(recording.plan(alignment, false))];
  });
  return before.copy(Fragment.fromArray([...blocks, before.children.slice(next)].flat()));
}
