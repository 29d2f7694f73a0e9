import type { EditorState, Transaction } from 'prosemirror-state';
import { beforeReading, canonical, listChanges, record, toDate } from '@tea-pencil/core';
import { Editor, type Steps } from './support/editor';
import { giveRole, meanwhile } from './support/meanwhile';
import { broughtIn, peopleThere } from './support/together';
import { Writer } from './support/writer';

/** What changes a whole book at once is looked at beside the turn of the others, and comes to the same. */

const people = peopleThere(['ines', 'maren', 'tobias', 'harbour']);

const paragraphs = 400;

const text = Array.from({ length: paragraphs }, (_, i) => `The tide comes in behind you, ${i} times a year.`).join(
  '\n',
);
const manuscript = () => broughtIn(people, text);

/** A word put into every paragraph, in one edit. */
function sweep({ tr, doc }: EditorState): Transaction {
  doc.forEach((_, pos) => tr.insertText('low ', tr.mapping.map(pos + 5)));
  return tr;
}

test('two who sweep through a text in which two others type end with the same text; nothing of anybody is lost', async () => {
  const id = await manuscript();
  const writers = await Promise.all(people.map((person) => new Writer(person, id).until()));
  const [first, second, ...typing] = writers as [Writer, Writer, ...Writer[]];
  const original = first.doc;
  first.text.dispatch(sweep(first.state));
  second.text.dispatch(sweep(second.state));
  for (let i = 0; i < 40; i++) {
    // In the middle, where both sweep, and at the end.
    for (const [k, { text, state, doc }] of typing.entries())
      text.dispatch(state.tr.insertText(`${k}`, k ? doc.content.size - 1 : doc.child(200).nodeSize * 200 + 7));
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  for (const writer of writers) await writer.settled();
  const last = Math.max(...writers.map((writer) => writer.version()));
  for (const writer of writers) await writer.until(() => writer.version() === last);
  for (const writer of writers) {
    expect(canonical(writer.doc)).toEqual(canonical(first.doc));
    expect(writer.notTaken).toEqual([]);
    writer.close();
  }
  expect(canonical(beforeReading(first.doc))).toEqual(canonical(original));
  expect(first.doc.textContent.match(/low /g)).toHaveLength(2 * paragraphs);
  expect(first.doc.textContent.match(/[01]+$/)?.[0]).toContain('1'.repeat(40));
  expect(new Set(listChanges(first.doc).map(({ author }) => author)).size).toBe(4);
}, 60_000);

test('what comes back otherwise than it was sent is taken as the server has it, and not handed over as lost', async () => {
  const id = await manuscript();
  const [writer, other] = await Promise.all([new Writer(people[1]!, id).until(), new Writer(people[2]!, id).until()]);
  const [hear] = writer.socket.listeners('steps') as [(message: Steps) => void];
  let altered = 0;
  writer.socket.off('steps', hear);
  writer.socket.on('steps', (message: Steps) => {
    const isMine = message.clients.some((client) => client.startsWith(writer.who.id));
    if (isMine) altered++;
    hear(isMine ? (JSON.parse(JSON.stringify(message).replaceAll('low ', 'high ')) as Steps) : message);
  });
  writer.text.dispatch(sweep(writer.state));
  other.type('x');
  await writer.until(() => altered > 0);
  await writer.until(() => writer.version() >= paragraphs && writer.text.snapshot().kept === 'kept');
  await other.until(() => other.version() === writer.version());
  expect(canonical(writer.doc)).toEqual(canonical(other.doc));
  expect(writer.doc.textContent.match(/low /g)).toHaveLength(paragraphs);
  expect(writer.notTaken).toEqual([]);
  writer.close();
  other.close();
});

test('who has written a page without a connection takes in at once what two others wrote in turn; nothing of anybody is lost', async () => {
  const id = await manuscript();
  const [writer, ...others] = await Promise.all(people.slice(1).map((person) => new Writer(person, id).until()));
  writer!.socket.disconnect();
  for (let i = 0; i < 60; i++) writer!.type('w', 3);
  for (let i = 0; i < 30; i++)
    for (const [k, other] of others.entries()) {
      other.type(`${k}`, 5);
      await other.settled();
    }
  let takenIn = 0;
  writer!.text.onMapping(() => takenIn++);
  writer!.socket.connect();
  await writer!.until(() => writer!.version() >= 120);
  expect(takenIn).toBe(1);
  expect(writer!.notTaken).toEqual([]);
  const [first] = others;
  await first!.until(() => first!.version() === writer!.version());
  expect(canonical(first!.doc)).toEqual(canonical(writer!.doc));
  expect(first!.doc.child(3).textContent).toMatch(/w{60}$/);
  expect(first!.doc.child(5).textContent.replace(/[^01]/g, '')).toHaveLength(60);
  for (const one of [writer!, ...others]) one.close();
});

test('who types while it is looked at does not wait for it', async () => {
  const id = await manuscript();
  const [a, b] = await Promise.all([new Editor(people[1]!, id).open(), new Editor(people[2]!, id).open()]);
  const [large, small] = await Promise.all([a.edit(sweep), b.type('x')]);
  expect([large.taken, small.taken]).toEqual([true, true]);
  expect(small.version).toBeLessThan(large.version!);
  a.close();
  b.close();
});

test('the rules hold for what is large too', async () => {
  const id = await manuscript();
  const editor = await new Editor(people[1]!, id).open();
  const unrecorded = sweep(editor.state);
  expect((await editor.send(unrecorded, 'pencil')).refused).toMatch(/without being recorded/);
  expect((await editor.send(unrecorded, 'ink')).refused).toMatch(/ink/);
  // Also where somebody has written meanwhile: what is wrong of itself is told so, and not to be tried again.
  const other = await new Editor(people[2]!, id).open();
  const { version: first } = editor;
  await other.type('x');
  other.close();
  const again = {
    version: first,
    steps: unrecorded.steps.map((step) => step.toJSON() as object),
    client: editor.client,
  };
  expect((await editor.ask('submit', { ...again, intent: 'pencil' })).refused).toMatch(/without being recorded/);
  const before = first + 1;
  const misfit = { version: before, steps: unrecorded.steps.map((step) => ({ ...step.toJSON(), from: 1e6, to: 1e6 })) };
  const answer = await editor.ask('submit', { ...misfit, intent: 'pencil', client: editor.client });
  expect(answer.refused).toMatch(/does not fit/);
  const late = await editor.ask('submit', { ...misfit, version: 7, intent: 'pencil', client: editor.client });
  expect(late.behind).toBe(true);
  editor.close();
  const now = await new Editor(people[0]!, id).open();
  expect(now.version).toBe(before);
  now.close();
});

test('who may not write any more when it has been looked at has not written', async () => {
  const id = await manuscript();
  const maren = people[1]!;
  const window = await new Editor(maren, id).open();
  const stamp = { author: maren.id, date: toDate(new Date()), newChange: () => 'sweep' };
  // It has been read and found right beside the turn, and waits for its own.
  const answer = await meanwhile(
    id,
    () => window.send(record(window.state, sweep(window.state), stamp), 'pencil'),
    giveRole(id, maren.id, 'remarker'),
  );
  expect(answer).toEqual({ refused: expect.stringMatching(/may/) as string });
  window.close();
});
