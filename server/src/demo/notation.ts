import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';
import { record, schema, toDate, withoutSpaceAtSplit, type Stamp } from '@tea-pencil/core';

/** Turns the notation of the demo texts into a manuscript with real, recorded changes. */

/** One thing to be done at a place of the plain text of a paragraph. */
interface Act {
  at: number;
  who?: string;
  old: string;
  fresh?: string;
  mark?: string;
  split?: boolean;
  /** The move whose words leave here (in `old`) or come here (in `fresh`). */
  move?: string;
  thread?: string;
}

const notation =
  /\[(\w)\|([^|\]]*)\|([^\]]*)\]|\[(\w)\*(\w+)\|([^\]]*)\]|\[(\w)¶\]|\[(\w)([<>])(\d+)\|([^\]]*)\]|\{(\d+)\|([^}]*)\}/g;

function parseParagraph(line: string): { text: string; acts: Act[] } {
  let text = '';
  let from = 0;
  const acts: Act[] = [];
  for (const match of line.matchAll(notation)) {
    text += line.slice(from, match.index);
    from = match.index + match[0].length;
    const at = text.length;
    const [, who, old, fresh, formatter, mark, words, splitter, mover, way, move, moved, thread, quoted] = match;
    if (who) acts.push({ at, who, old: old!, fresh: fresh! });
    else if (formatter) acts.push({ at, who: formatter, old: words!, mark: mark! });
    else if (splitter) acts.push({ at, who: splitter, old: '', split: true });
    else if (mover && way === '<') acts.push({ at, who: mover, old: moved!, fresh: '', move });
    else if (mover) acts.push({ at, who: mover, old: '', fresh: moved, move });
    else acts.push({ at, old: quoted!, thread: thread! });
    text += old ?? words ?? quoted ?? (way === '<' ? moved! : '');
  }
  return { text: text + line.slice(from), acts };
}

function paragraphOf(text: string, anchors: (at: number) => string | undefined): Node {
  const heading = /^(#+) /.exec(text);
  const bullet = text.startsWith('- ');
  const skip = heading ? heading[0].length : bullet ? 2 : 0;
  const style = heading ? (heading[1]!.length === 1 ? 'title' : 'heading1') : 'body';
  const nodes = [...text.slice(skip)].map((letter, i) => {
    const thread = anchors(i + skip);
    return schema.text(letter, thread ? [schema.marks.anchor.create({ thread })] : []);
  });
  return schema.nodes.paragraph.create({ style, list: bullet ? { kind: 'bullet', level: 0 } : null }, nodes);
}

/** How many edits are made at one sitting. */
const sitting = 6;

/** What is put in; what stands between stars is set in italics. */
const setIn = (words: string): Node[] =>
  words
    .split('*')
    .flatMap((part, i) => (part ? [schema.text(part, i % 2 ? [schema.marks.italic!.create()] : [])] : []));

/** The edit an act stands for, at its place in the document. */
function editOf(state: EditorState, act: Act, pos: number): Transaction {
  const { tr } = state;
  if (act.split) return withoutSpaceAtSplit(tr.split(pos), pos + 2);
  if (act.mark) return tr.addMark(pos, pos + act.old.length, schema.marks[act.mark]!.create());
  if (act.old) tr.setSelection(TextSelection.create(state.doc, pos, pos + act.old.length)).deleteSelection();
  else tr.setSelection(TextSelection.create(state.doc, pos));
  return act.fresh ? tr.insert(tr.selection.from, setIn(act.fresh)) : tr;
}

/**
 * @param people the id of the person each letter stands for
 * @param threads the id of the thread each number stands for
 * @param lastEdit when the last edit was made; those before it lie minutes, hours and days earlier
 */
export function manuscriptOf(
  notes: string,
  people: Record<string, string>,
  threads: Record<string, string>,
  lastEdit: Date,
  newChange: () => string,
): Node {
  const lines = notes.split('\n').filter(Boolean).map(parseParagraph);
  const blocks = lines.map(({ text, acts }) =>
    paragraphOf(text, (at) => {
      const act = acts.find((a) => a.thread && at >= a.at && at < a.at + a.old.length);
      return act && threads[act.thread!];
    }),
  );
  let state = EditorState.create({ doc: schema.nodes.doc!.create(null, blocks) });
  let moment = lastEdit.getTime();
  let n = 0;
  const moves = new Map<string, { change: string; date: string }>();
  // From the end to the start, so that the places further up stay good.
  for (let k = lines.length - 1; k >= 0; k--) {
    const { text, acts } = lines[k]!;
    let start = 1;
    for (let i = 0; i < k; i++) start += blocks[i]!.nodeSize;
    const skip = text.length - blocks[k]!.content.size;
    for (const act of [...acts].reverse()) {
      if (!act.who) continue;
      moment -= 1000 * (60 + ((act.at * 7919) % 2400));
      if (++n % sitting === 0) moment -= 1000 * (30 + ((act.at * 7919) % 60)) * 3600;
      const seal = (act.move && moves.get(act.move)) || { change: newChange(), date: toDate(new Date(moment)) };
      if (act.move) moves.set(act.move, seal);
      const { change, date } = seal;
      const stamp: Stamp = { author: people[act.who]!, date, newChange: () => change, apart: !!act.move };
      state = EditorState.create({ doc: record(state, editOf(state, act, start + act.at - skip), stamp).doc });
    }
  }
  return state.doc;
}
