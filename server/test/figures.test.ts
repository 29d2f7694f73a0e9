import { Client } from 'pg';
import { AddMarkStep, ReplaceStep, Step, Transform } from 'prosemirror-transform';
import { Node } from 'prosemirror-model';
import {
  changeIds,
  countWords,
  fairReading,
  figuresOf,
  listChanges,
  plainText,
  schema,
  states,
  sumsOf,
  type Figure,
  type FigureName,
  type State,
} from '@tea-pencil/core';
import type { Drafts, Ledger, TimeLine } from '@tea-pencil/wire';
import { countedRow } from '../../web/src/figures/counted';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** The sums of the figures, held against a fold over the log: two ways to count the same that have nothing in common. */

let server: Running;
let database: string;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  database = await ownDatabase('figures', 'the demo');
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: database });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

interface Logged {
  step: object;
  ends: boolean;
}

/** What has become of every change, told by nothing but the steps: which ids stand in the text after each batch. */
async function folded(manuscript: string) {
  const client = new Client({ connectionString: database });
  await client.connect();
  const { rows: first } = await client.query<{ doc: object }>(
    'SELECT doc FROM checkpoints WHERE manuscript_id = $1 ORDER BY version LIMIT 1',
    [manuscript],
  );
  const { rows } = await client.query<Logged>(
    'SELECT step, ends FROM steps WHERE manuscript_id = $1 ORDER BY version',
    [manuscript],
  );
  await client.end();
  const tr = new Transform(Node.fromJSON(schema, first[0]!.doc));
  const state = new Map<string, { author: string; pending: boolean; ended: boolean }>();
  const words = [wordsIn(tr.doc)];
  let [come, gone] = [0, 0];
  for (const { step: json, ends } of rows) {
    const step = Step.fromJSON(schema, json);
    if (step instanceof ReplaceStep) {
      come += step.slice.content.textBetween(0, step.slice.content.size).length;
      gone += step.to - step.from;
    } else if (step instanceof AddMarkStep && step.mark.type.name === 'deletion') gone += step.to - step.from;
    tr.step(step);
    words.push(wordsIn(tr.doc));
    if (!ends) continue;
    const now = changeIds(tr.doc);
    for (const [id, { author }] of now) state.set(id, { author, pending: true, ended: false });
    for (const [id, one] of state)
      if (!now.has(id) && one.pending) state.set(id, { ...one, pending: false, ended: true });
  }
  return { all: [...state.values()], come, gone, words };
}
const wordsIn = (doc: Node) => countWords(plainText(fairReading(doc)));

test('what the figures count is what the log says happened', async () => {
  const form = new FormData();
  const lines = ['The weed lies in a line.', 'Turn it over with a stick.', 'Walk the top of the beach first.'];
  form.append('file', new File([lines.join('\n')], 'Counted.txt'));
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body;
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'proposer' });
  const editors = [await new Editor(ines, id).open(), await new Editor(maren, id).open()] as const;
  const even = async () => {
    while (editors[0].version !== editors[1].version) await new Promise((resolve) => setTimeout(resolve, 5));
  };
  const words = ['dry ', 'and ', 'twice ', 'a ', 'low '];
  for (let i = 0; i < 24; i++) {
    const editor = editors[i % 2]!;
    const size = editor.state.doc.content.size;
    const at = 2 + ((i * 7) % (size - 8));
    await editor.edit((state) => {
      const end = Math.min(at + 2, state.doc.content.size - 2);
      // A change of its own each time, wherever it falls.
      if (i % 3 === 0) return state.tr.insertText(words[i % words.length]!, at);
      if (i % 3 === 1 && state.doc.resolve(at).parent === state.doc.resolve(end).parent)
        return state.tr.delete(at, end);
      return state.tr.addMark(at, end, state.schema.marks.italic!.create());
    });
    await even();
  }
  const [decider] = editors;
  const decide = async (take: number, verdict: string) => {
    const changes = listChanges(decider.state.doc)
      .filter((_, i) => i % 4 === take)
      .map((change) => change.id);
    const answer = await decider.ask('decide', { changes, verdict, client: 'x' });
    while (decider.version < (answer.version ?? 0)) await new Promise((resolve) => setTimeout(resolve, 5));
    return answer;
  };
  await ines.ask('POST', `/api/manuscripts/${id}/drafts`, { name: 'Half-way' });
  await decide(0, 'accept');
  const back = await decide(1, 'reject');
  await decide(2, 'reject');
  const taken = await decider.ask('takeBack', { decision: back.decision, client: 'x' });
  expect(taken.taken).toBe(true);
  while (decider.version < taken.version!) await new Promise((resolve) => setTimeout(resolve, 5));

  const ledger = (await ines.ask<Ledger>('GET', `/api/manuscripts/${id}/ledger`)).body;
  const line = (await ines.ask<TimeLine>('GET', `/api/manuscripts/${id}/time-line`)).body;
  const kept = async () => (await ines.ask<Drafts>('GET', `/api/manuscripts/${id}/drafts`)).body.drafts;
  while ((await kept()).some(({ facts }) => !facts)) await new Promise((resolve) => setTimeout(resolve, 100));
  const drafts = (await kept()).sort((a, b) => (a.at < b.at ? -1 : 1));
  expect(drafts.length).toBeGreaterThan(1);
  const rows = [
    ...listChanges(decider.state.doc).map((seen) => ({ seen, decided: null })),
    ...ledger.decided.map((decided) => ({ seen: { ...decided, decided: true }, decided })),
  ];
  const figures = figuresOf({
    changes: rows.map(countedRow),
    threads: [],
    worked: line.stretches.map(({ at, intent, come, gone }) => ({
      at: String(at).padStart(12, '0'),
      intent,
      come,
      gone,
    })),
    kept: drafts.map(({ at, facts }) => ({ at, words: facts!.words, pending: facts!.pending })),
    is: (author) => author,
    nameOf: (person) => person,
  });
  const by = Object.fromEntries(figures.map((figure) => [figure.name, figure])) as Record<FigureName, Figure>;

  const log = await folded(id);
  const of = (holds: (one: (typeof log.all)[number]) => boolean) => log.all.filter(holds).length;
  const sum = (values: readonly number[], ...which: State[]) =>
    which.reduce((all, state) => all + values[states.indexOf(state)]!, 0);
  for (const { person, values } of by.authors.rows) {
    expect(sum(values, 'pending')).toBe(of(({ author, pending }) => author === person && pending));
    expect(sum(values, 'accepted', 'rejected', 'gone')).toBe(of(({ author, ended }) => author === person && ended));
  }
  const sums = sumsOf(by.authors);
  expect(sum(sums, 'pending')).toBe(of(({ pending }) => pending));
  expect(sum(sums, 'accepted', 'rejected', 'gone')).toBe(of(({ ended }) => ended));
  expect(sum(sums, 'pending', 'accepted', 'rejected', 'gone')).toBeGreaterThan(10);
  expect(sumsOf(by.work)).toEqual([log.come, log.gone]);
  expect(by.growth.rows.map(({ values }) => values[0])).toEqual(drafts.map(({ version }) => log.words[version]));
  for (const editor of editors) editor.close();
});
