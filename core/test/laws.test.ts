import fc from 'fast-check';
import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { beforeReading, decide, fairReading, ink, record, sameManuscript, withoutAuthor } from '../src/index.js';
import { isTableNode, withColumns } from '../src/manuscript/grid.js';
import { authors, plainly, recorded, someDocument, someEdit, stamps, type Edit } from './support/editing.js';

/**
 * In `npm test` the same scripts every time; `npm run laws -- --runs N` tries others. What it prints of a failing script
 * (seed and path) replays it: `npm run laws -- --seed S --path P`.
 */
const { LAWS_RUNS = '700', LAWS_PATH } = process.env;
const settings = {
  numRuns: Number(LAWS_RUNS),
  ...(LAWS_PATH && { path: LAWS_PATH }),
};

const scripts = fc.constantFrom(2, 3).chain((n) => fc.array(someEdit(n), { minLength: 1, maxLength: 9 }));

const same = (a: Node, b: Node, what: string) => {
  if (!sameManuscript(a, b)) throw new Error(`${what}\n  ${a.toString()}\n  ${b.toString()}`);
};

/** Walks a script and hands each step to a check: the state, the plain edit and what was recorded. */
function walk(
  doc: Node,
  script: readonly Edit[],
  check: (step: { before: Node; plain: Node; after: Node; inked: Node; author: string }) => void,
) {
  const stampOf = stamps();
  let now = doc;
  for (const edit of script) {
    const made = plainly(now, edit);
    if (!made) continue;
    const after = record(made.state, made.tr, { ...stampOf(edit.by), apart: edit.kind === 'drag' }).doc;
    after.check();
    check({ before: now, plain: made.tr.doc, after, inked: ink(made.state, made.tr).doc, author: authors[edit.by]! });
    now = after;
  }
}

const changesIn = (doc: Node): string[] => {
  const ids = new Set<string>();
  doc.descendants((node) => node.marks.forEach((mark) => mark.attrs.change && ids.add(mark.attrs.change as string)));
  return [...ids];
};

test('law 1: whatever an author does in pencil, taking it back restores all that others wrote', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) =>
      walk(doc, script, ({ before, after, author }) =>
        same(withoutAuthor(after, author), withoutAuthor(before, author), 'something of others is lost'),
      ),
    ),
    settings,
  );
});

test('law 2: the fair reading is the edit made plainly, the before reading what was there', () => {
  fc.assert(
    fc.property(someDocument, someEdit(1), (doc, edit) => {
      const made = plainly(doc, edit);
      fc.pre(made !== null);
      const after = record(made!.state, made!.tr, stamps()(0)).doc;
      same(fairReading(after), made!.tr.doc, 'the fair reading differs');
      same(beforeReading(after), doc, 'the before reading differs');
    }),
    settings,
  );
});

test('law 2, with changes pending: the fair reading is that of the same edit in ink', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) =>
      walk(doc, script, ({ after, inked }) => {
        inked.check();
        same(fairReading(after), fairReading(inked), 'pencil and ink differ');
      }),
    ),
    settings,
  );
});

test('law 3: the order of decisions makes no difference', () => {
  fc.assert(
    fc.property(
      someDocument,
      scripts,
      fc.array(fc.boolean(), { minLength: 12 }),
      fc.integer(),
      (doc, script, verdicts, turn) => {
        const pending = recorded(doc, script);
        const ids = changesIn(pending);
        const through = (order: string[]) => {
          const tr = new Transform(pending);
          for (const id of order) decide(tr, [id], verdicts[ids.indexOf(id) % verdicts.length] ? 'accept' : 'reject');
          tr.doc.check();
          return tr.doc;
        };
        const k = Math.abs(turn) % Math.max(1, ids.length);
        same(through(ids), through([...ids].reverse()), 'reversed order differs');
        same(through(ids), through([...ids.slice(k), ...ids.slice(0, k)]), 'turned order differs');
      },
    ),
    settings,
  );
});

test('deciding all gives the readings', () => {
  fc.assert(
    fc.property(someDocument, scripts, (doc, script) => {
      const pending = recorded(doc, script);
      same(decide(new Transform(pending), 'all', 'accept').doc, fairReading(pending), 'accepting all');
      same(decide(new Transform(pending), 'all', 'reject').doc, beforeReading(pending), 'rejecting all');
      same(beforeReading(pending), doc, 'the before reading is what the script began with');
    }),
    settings,
  );
});

/** For each mark type, change, author and date: the words it stands on. `stays` leaves some marks of some nodes out. */
function wordsOfChanges(
  doc: Node,
  stays: (node: Node, mark: Mark) => boolean,
  goes: (node: Node) => boolean = () => false,
): Map<string, string> {
  const words = new Map<string, string>();
  doc.descendants((node) => {
    node.marks.forEach((mark) => {
      const { change, author, date } = mark.attrs as { change?: string; author?: string; date?: string };
      if (!change || !stays(node, mark)) return;
      const key = [mark.type.name, change, author, date].join(' ');
      words.set(key, (words.get(key) ?? '') + (node.isText ? node.text : node.isTextblock ? '¶' : '·'));
    });
    // What stands in a table or footnote that goes, goes with it.
    return node.isTextblock || !goes(node);
  });
  return words;
}

/** Whether an accepted entry settles all that another one on the same token is about. */
const settles = (accepted: Mark, other: Mark): boolean => {
  const above = accepted.attrs.order - other.attrs.order || (accepted.attrs.change < other.attrs.change ? -1 : 1);
  return above > 0 && Object.keys(other.attrs.now as object).every((name) => name in accepted.attrs.now);
};

/** The text with what is pending about columns on each of their cells. */
const spreadOut = (doc: Node): Node =>
  doc.copy(Fragment.fromArray(doc.children.map((block) => (isTableNode(block) ? withColumns(block) : block))));

test('law 4: a decision leaves every other change as it was', () => {
  fc.assert(
    fc.property(someDocument, scripts, fc.nat(), fc.boolean(), (doc, script, pick, accept) => {
      const pending = recorded(doc, script);
      const ids = changesIn(pending);
      fc.pre(ids.length > 0);
      const id = ids[pick % ids.length]!;
      const decided = decide(new Transform(pending), [id], accept ? 'accept' : 'reject').doc;
      const goes = accept ? ['deletion', 'openingDeleted'] : ['insertion', 'openingInserted'];
      const goesWith = (node: Node) =>
        node.marks.some((mark) => mark.attrs.change === id && goes.includes(mark.type.name));
      const stays = (node: Node, mark: Mark) => {
        if (mark.attrs.change === id || goesWith(node)) return false;
        const entry = node.marks.find((other) => other.attrs.change === id && 'now' in other.attrs);
        return !(accept && entry && entry.type === mark.type && settles(entry, mark));
      };
      // What is pending about a column is so for all its cells, whoever put in the rows.
      const expected = wordsOfChanges(spreadOut(pending), stays, goesWith);
      expect(wordsOfChanges(spreadOut(decided), () => true)).toEqual(expected);
    }),
    settings,
  );
});
