import fc from 'fast-check';
import { collab, getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { Step } from 'prosemirror-transform';
import { beforeReading, canonical, checkBatch, listChanges, record, schema, toDate } from '@tea-pencil/core';
import { plainly, someTextEdit, type Edit } from '../../core/test/support/editing';
import { Editor, type Steps } from './support/editor';
import { demoPerson, startServer, type Running, type Visitor } from './support/server';

/** A client that, like the screen's, goes on editing while its steps are on their way, and rebases over others'. */
class Rebasing extends Editor {
  refusals = 0;
  #made = 0;

  override async open(): Promise<this> {
    await super.open();
    this.#begin(this.state.doc, this.version);
    return this;
  }

  #begin(doc: Node, version: number): void {
    this.state = EditorState.create({ doc, plugins: [collab({ version, clientID: this.client })] });
  }

  override follow({ version, steps, clients }: Steps): void {
    if (!this.state || version !== getVersion(this.state)) return;
    const parsed = steps.map((step) => Step.fromJSON(schema, step));
    this.state = this.state.apply(receiveTransaction(this.state, parsed, clients));
  }

  /** An edit of the script, in pencil; it is only made here, and sent when its turn comes. */
  make(edit: Edit): void {
    const made = plainly(this.state.doc, edit);
    if (!made) return;
    const stamp = { author: this.who.id, date: toDate(new Date()), newChange: () => `r${this.client}-${++this.#made}` };
    const recorded = record(made.state, made.tr, stamp);
    const { tr } = this.state;
    for (const step of recorded.steps) tr.step(step);
    this.state = this.state.apply(tr);
  }

  /** Sends what is not kept until nothing is left; what is refused is given up, as the screen hands it over. */
  async settle(): Promise<void> {
    for (let i = 0; i < 400; i++) {
      const sendable = sendableSteps(this.state);
      if (!sendable) return;
      const steps = sendable.steps.map((step) => step.toJSON() as object);
      const answer = await this.ask('submit', {
        version: sendable.version,
        steps,
        intent: 'pencil',
        client: this.client,
      });
      // Refused, or behind for so long that something must have been missed: from the server's text again.
      if (answer.refused || (answer.behind && i % 40 === 39)) {
        this.refusals++;
        const joined = await this.ask('join', {});
        this.#begin(Node.fromJSON(schema, joined.doc), joined.version as number);
      } else if (answer.behind) await new Promise((resolve) => setTimeout(resolve, 5));
    }
    throw new Error('not settled');
  }
}

let server: Running;
let people: Visitor[];
beforeAll(async () => {
  server = await startServer();
  people = await Promise.all(['ines', 'maren', 'tobias'].map((login) => demoPerson(server.address, login)));
});
afterAll(() => server.stop());

const text = 'The tide comes in behind you\nand the line of weed is dry.\nWalk on the high sand.';

// Law 7: whatever order the network delivers, all end with the same text, and what was there can be had back.
test('three who edit at once, with delays, end with one text from which all of theirs can be taken back', async () => {
  const [keeper] = people as [Visitor];
  const form = new FormData();
  form.append('file', new File([text], 'Together.txt'));
  const { id } = (await keeper.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body;
  for (const { id: person } of people) {
    if (person !== keeper.id) await keeper.ask('PUT', `/api/manuscripts/${id}/members/${person}`, { role: 'proposer' });
  }
  const clients = await Promise.all(people.map((who) => new Rebasing(who, id).open()));
  const original = clients[0]!.state.doc;
  const scripts = fc.sample(fc.array(someTextEdit(1), { minLength: 25, maxLength: 25 }), {
    numRuns: 3,
    seed: Number(process.env.CONV_SEED ?? 7),
  });
  await Promise.all(
    clients.map(async (client, c) => {
      for (const [i, edit] of scripts[c]!.entries()) {
        client.make(edit);
        if (i % (c + 2) === 0) await new Promise((resolve) => setTimeout(resolve, (i * 7 + c * 5) % 20));
        if (i % 3 === c) await client.settle();
      }
      await client.settle();
    }),
  );
  await new Promise((resolve) => setTimeout(resolve, 400));
  const late = await new Editor(keeper, id).open();
  for (const client of clients) expect(canonical(client.state.doc)).toEqual(canonical(late.state.doc));
  expect(canonical(beforeReading(late.state.doc))).toEqual(canonical(original));
  const authors = new Set(listChanges(late.state.doc).map(({ author }) => author));
  expect(authors.size).toBeGreaterThan(1);
  // What all hold is a text the rules themselves would let through.
  const { state } = clients[0]!;
  const sender = { author: keeper.id, now: new Date().toISOString(), known: () => undefined };
  expect(checkBatch(state.doc, state.doc, [], state.tr.mapping, 'pencil', sender)).toBeNull();
  // Most of it was taken in; what was refused after rebasing was given up whole.
  expect(clients.reduce((sum, { refusals }) => sum + refusals, 0)).toBeLessThan(8);
  for (const client of [...clients, late]) client.close();
});
