import type { Node } from 'prosemirror-model';
import type { Manuscript } from '../../manuscript/manuscript.js';
import type { Thread } from '../../manuscript/threads.js';
import { anchors, withChangeAnchors } from '../../threads/anchors.js';
import { commentPlaces } from '../kept/comment-places.js';
import { whole } from '../kept/pairs.js';
import { innerPlace, printOf } from '../kept/unsettled.js';
import type { Where } from './names.js';
import type { Target } from './target.js';
import { annotationXml } from './write-annotations.js';
import { BlocksWriter } from './write-blocks.js';
import { TableWriter } from './write-tables.js';
import { WordsWriter } from './write-words.js';

/** A manuscript as XML that is not settled yet, piece by piece, each with what it is compared by. */
export interface Piece {
  nodes: readonly Node[];
  xml: string;
  print: string;
}

export interface Written {
  blocks: Piece[];
  /** Paragraphs in lists and tables. */
  inner: Piece[];
  /** Pieces that must all stay as they are, or none of them. */
  together: number[][];
}

/** What stands elsewhere, as it counts when two writings are compared. */
const thereOf =
  (target: Target, inner: (index: number) => string) =>
  (kind: string, index: number): string => {
    if (kind === 'region') return printOf(target.regions[index]!, thereOf(target, inner), inner);
    return kind === 'style' ? target.styles[index]!.xml : '';
  };

/** @param onlyPrints whether the XML itself is not wanted, and need not be held */
export function written(manuscript: Manuscript, target: Target, onlyPrints = false): Written {
  const threads = new Map<string, Thread>();
  // What is only for oneself is in no file.
  for (const thread of manuscript.threads) if (!thread.toSelf) threads.set(thread.id, thread);
  const doc = withChangeAnchors(manuscript.doc, manuscript.threads);
  const places = { ...commentPlaces(doc, manuscript, threads), threads, whole: whole(doc, target.fragment) };
  const blocks: Piece[] = [];
  const inner: Piece[] = [];
  const innerPrint = (index: number) => inner[index]!.print;
  const there = thereOf(target, innerPrint);
  const putInner = (xml: string, nodes: readonly Node[]) => {
    inner.push({ nodes, xml, print: printOf(xml, there) });
    return innerPlace(inner.length - 1);
  };
  let annotations = 0;
  const numbers = new Map<string, number>();
  const annotation = (thread: Thread, nth: number, hasEnd: boolean) => {
    const key = `${nth} ${thread.id}`;
    const number = numbers.get(key) ?? annotations++;
    numbers.set(key, number);
    return annotationXml(target, thread, nth, hasEnd, number);
  };
  const words: WordsWriter = new WordsWriter(
    target,
    places,
    (note, pos) => container(note, pos + 1, note.attrs.kind as Where, null),
    annotation,
  );
  /** The blocks of a note or cell. */
  const container = (node: Node, start: number, where: Where, put: BlocksWriter['inner']): string => {
    let all = '';
    const writer = new BlocksWriter(words, where, tableXml, (xml) => void (all += xml), put, true);
    writer.container(node, start);
    return all;
  };
  const tables = new TableWriter(target, (cell, pos) => container(cell, pos, 'text', putInner));
  const tableXml = (table: Node, pos: number) => tables.xml(table, pos);
  const done = (xml: string, nodes: readonly Node[]) =>
    void blocks.push({ nodes, xml: onlyPrints ? '' : xml, print: printOf(xml, there, innerPrint) });
  const writer = new BlocksWriter(words, 'text', tableXml, done, putInner);
  writer.container(doc, 0);
  return { blocks, inner, together: together(doc, blocks, writer.tied) };
}

/** Runs of pieces over which one insertion goes, or the words of one thread. */
function together(doc: Node, pieces: readonly Piece[], tied: readonly number[]): number[][] {
  const pieceOf: number[] = [];
  pieces.forEach(({ nodes }, k) => nodes.forEach(() => pieceOf.push(k)));
  const groups = tied.map((k) => [k, k + 1]);
  for (const ranges of anchors(doc).values()) {
    const from = pieceOf[doc.resolve(ranges[0]!.from).index(0)]!;
    const to = pieceOf[doc.resolve(ranges.at(-1)!.to).index(0)]!;
    if (to > from) groups.push(Array.from({ length: to - from + 1 }, (_, n) => from + n));
  }
  return groups;
}
