import type { Node } from 'prosemirror-model';
import { findChange } from '../../changes/list.js';
import type { Manuscript } from '../../manuscript/manuscript.js';
import type { ChangeId } from '../../manuscript/signature.js';
import type { ThreadId } from '../../manuscript/threads.js';
import { withChangeAnchors } from '../../threads/anchors.js';
import { aligned } from '../kept/aligned.js';
import { commentPlaces } from '../kept/comment-places.js';
import { whole } from '../kept/pairs.js';
import type { Target } from './target.js';
import { innerPlace, ownNumber, printOf } from '../kept/unsettled.js';
import { BlocksWriter } from './write-blocks.js';
import { writtenComments, type WrittenComment } from './write-comments.js';
import { tableXml } from './write-tables.js';
import { WordsWriter, type MoveEnd, type Places } from './write-words.js';

/** A manuscript as XML that is not settled yet, piece by piece, each with what it is compared by. */
export interface Piece {
  /** What it is of; nothing for what only the file asks for. */
  node: Node | null;
  xml: string;
  print: string;
}

export interface Written {
  blocks: Piece[];
  /** Paragraphs in tables. */
  inner: Piece[];
  notes: Record<'foot' | 'end', Piece[]>;
  comments: WrittenComment[];
  /** The number that each comment has in the file, and which of the file’s it is, if it is one. */
  numbered: Numbered;
  /** Blocks that must all stay as they are, or none of them. */
  together: number[][];
}

/** A comment of the file, as far as it takes to know it again. */
export interface KnownComment {
  id: string;
  print: string | null;
  paragraph: string | null;
  ranged: boolean;
}

/** A number that the same letters give in whatever order, spaces left aside. */
function sumOf(text: string): number {
  let sum = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 32 && code !== 160) sum += Math.imul(code, 2654435761) | 0;
  }
  return sum;
}

/** The changes that take the same letters away as they add, as moves do; to know the others takes no closer look. */
function mayMove(doc: Node): ChangeId[] {
  const balance = new Map<ChangeId, number>();
  const both = new Map<ChangeId, number>();
  doc.descendants((node) => {
    if (!node.isInline) return;
    for (const { type, attrs } of node.marks) {
      const side = type.name === 'insertion' ? 1 : type.name === 'deletion' ? 2 : 0;
      if (!side) continue;
      const id = attrs.change as ChangeId;
      const letters = node.text === undefined ? 1 : sumOf(node.text);
      balance.set(id, (balance.get(id) ?? 0) + (side === 1 ? letters : -letters));
      both.set(id, (both.get(id) ?? 0) | side);
    }
  });
  return [...both].filter(([id, sides]) => sides === 3 && balance.get(id) === 0).map(([id]) => id);
}

/** Moves, and where each of their ends begins and ends among the words. */
function movesOf(doc: Node) {
  const moves = new Set<ChangeId>();
  const ends = new Map<string, MoveEnd & { from: number; to: number }>();
  const starts = new Map<number, MoveEnd[]>();
  const stops = new Map<number, MoveEnd[]>();
  for (const id of mayMove(doc)) if (findChange(doc, id)?.kind === 'move') moves.add(id);
  if (moves.size)
    doc.descendants((node, pos) => {
      if (!node.isInline) return;
      for (const mark of node.marks) {
        const change = mark.attrs.change as string;
        const side = { deletion: 'From', insertion: 'To' }[mark.type.name] as 'From' | 'To' | undefined;
        if (!side || !moves.has(change)) continue;
        const key = `${side} ${change}`;
        const known = ends.get(key);
        if (known) known.to = pos + node.nodeSize;
        else ends.set(key, { change, side, mark, range: 900_000_000 + ends.size, from: pos, to: pos + node.nodeSize });
      }
      return false;
    });
  for (const end of ends.values()) {
    starts.set(end.from, [...(starts.get(end.from) ?? []), end]);
    stops.set(end.to, [...(stops.get(end.to) ?? []), end]);
  }
  return { moves, moveStarts: starts, moveEnds: stops };
}

/** Which of the file’s comments each comment is, and the numbers they get. */
export interface Numbered {
  same: (number | null)[];
  numbers: number[];
  /** Which have words of their own, and are not only referred to where another they answer is. */
  ranged: boolean[];
}

/** Comments that are written as those of the file were are those. */
export function knownAgain(known: readonly KnownComment[], comments: readonly WrittenComment[]): Numbered {
  const sources = known.map(({ id, print }) => (/^\d{1,9}$/.test(id) ? print : null));
  const same = aligned(
    comments.map(({ print }) => print),
    sources,
  ).map((i, k) => {
    if (i === null) return null;
    // What is answered or resolved must have a name that others can refer to.
    const { thread } = comments[k]!;
    const single = thread.comments.length <= 1 && !thread.resolved;
    return single || known[i]!.paragraph !== null ? i : null;
  });
  let next = known.reduce((most, { id }) => Math.max(most, Number(id) || 0), -1) + 1;
  return {
    same,
    numbers: same.map((i) => (i === null ? next++ : Number(known[i]!.id))),
    ranged: same.map((i) => i === null || known[i]!.ranged),
  };
}

/**
 * @param number gives comments their numbers
 * @param onlyPrints whether the XML itself is not wanted, and need not be held
 */
export function written(
  manuscript: Manuscript,
  target: Target,
  number: (comments: readonly WrittenComment[]) => Numbered,
  onlyPrints = false,
): Written {
  const { main } = target.file;
  const folder = main.slice(0, main.lastIndexOf('/') + 1);
  const partOf = (type: string) => target.file.related(main, type) ?? `${folder}${type}.xml`;
  const doc = withChangeAnchors(manuscript.doc, manuscript.threads);
  const comments = writtenComments(manuscript.threads, target, partOf('comments'));
  const numbered = number(comments);
  const ofThread = new Map<ThreadId, number[]>();
  comments.forEach(({ thread }, k) =>
    ofThread.set(thread.id, [...(ofThread.get(thread.id) ?? []), numbered.numbers[k]!]),
  );
  const bare = new Set(numbered.numbers.filter((_, k) => !numbered.ranged[k]));
  const places: Places = {
    ...commentPlaces(doc, manuscript, ofThread),
    ...movesOf(doc),
    numbers: ofThread,
    bare,
    whole: whole(doc, target.fragment),
  };
  const notes: Written['notes'] = { foot: [], end: [] };
  const inner: Piece[] = [];
  const noteText = (kind: string, index: number) => notes[kind as 'foot' | 'end'][index]!.print;
  const innerText = (index: number) => inner[index]!.print;
  const noteWriters = Object.fromEntries(
    (['foot', 'end'] as const).map((kind) => [kind, new WordsWriter(target, partOf(`${kind}notes`), places, () => 0)]),
  ) as Record<'foot' | 'end', WordsWriter>;
  const writeNote = (node: Node, pos: number): number => {
    const kind = node.attrs.kind as 'foot' | 'end';
    const blocks = new BlocksWriter(noteWriters[kind], tableXml, undefined, numberOf(kind));
    const xml = `<w:${kind}note w:id="${ownNumber}">${blocks.container(node, pos + 1, (one) => one).join('')}</w:${kind}note>`;
    return notes[kind].push({ node, xml, print: printOf(xml, () => '') }) - 1;
  };
  const words = new WordsWriter(target, main, places, writeNote);
  const writer = new BlocksWriter(words, tableXml, (xml, node) => {
    inner.push({ node, xml, print: printOf(xml, noteText) });
    return innerPlace(inner.length - 1);
  });
  const blocks = writer.container(doc, 0, (xml, node) => ({
    node,
    xml: onlyPrints ? '' : xml,
    print: printOf(xml, noteText, innerText),
  }));
  return { blocks, inner, notes, comments, numbered, together: together(doc, places.moves, target) };
}

/** What a note begins with: its number and a space (17.11.6, 17.11.13). */
const numberOf = (kind: 'foot' | 'end') =>
  `<w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:${kind}noteRef/></w:r><w:r><w:t xml:space="preserve"> </w:t></w:r>`;

/** Blocks with the two ends of a move, and runs of items of our own lists: half of them cannot be as they were. */
function together(doc: Node, moves: ReadonlySet<ChangeId>, target: Target): number[][] {
  const groups: number[][] = [];
  const ofMove = new Map<ChangeId, number[]>();
  let list: number[] = [];
  const close = () => {
    if (list.length > 1) groups.push(list);
    list = [];
  };
  doc.forEach((block, _, k) => {
    const isItem =
      block.isTextblock &&
      !!block.attrs.list &&
      !target.pieces(block.attrs.carried as string | null).some(({ element: { name } }) => name === 'w:numPr');
    if (isItem) list.push(k);
    else close();
    if (!moves.size) return;
    const note = (node: Node) => {
      for (const { attrs } of node.marks)
        if (moves.has(attrs.change as string)) {
          const known = ofMove.get(attrs.change as string) ?? [];
          if (known.at(-1) !== k) known.push(k);
          ofMove.set(attrs.change as string, known);
        }
    };
    note(block);
    block.descendants(note);
  });
  close();
  return [...groups, ...[...ofMove.values()].filter(({ length }) => length > 1)];
}
