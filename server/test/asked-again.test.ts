import { listChanges } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, startServer, type Visitor } from './support/server';
import { broughtIn, peopleThere } from './support/together';

/** A decision whose answer was lost is asked for again under the same name: it is made once, whoever hears of it. */

const people = peopleThere(['ines', 'tobias']);

interface Row {
  id: string;
  decision: string;
}
const decisionsOf = async (visitor: Visitor, id: string) =>
  (await visitor.ask<{ decided: Row[] }>('GET', `/api/manuscripts/${id}/ledger`)).body.decided.map(
    ({ decision }) => decision,
  );

const open = (who: Visitor, id: string) => new Editor(who, id).open();

/** A manuscript with two changes that wait, and a window of its keeper. */
async function withChanges() {
  const [ines] = people as [Visitor, Visitor];
  const id = await broughtIn(people, 'The weed is dry.');
  const window = await open(ines, id);
  await window.edit((state) => state.tr.insertText('Today: ', 1));
  await window.edit((state) => state.tr.delete(state.doc.content.size - 5, state.doc.content.size - 2));
  const [first, second] = listChanges(window.state.doc).map((change) => change.id);
  return { id, ines, window, first: first!, second: second! };
}

test('a decision that is asked for again is the one that was made, in another process too', async () => {
  const { id, ines, window, first, second } = await withChanges();
  const asking = { changes: [first], verdict: 'accept', client: 'here', asked: 'the-first' };
  const { taken, decision } = await window.ask('decide', asking);
  expect([taken, typeof decision]).toEqual([true, 'string']);
  expect(await window.ask('decide', asking)).toMatchObject({ taken: true, decision });
  const other = await startServer();
  const elsewhere = await open(await demoPerson(other.address, 'ines'), id);
  expect(await elsewhere.ask('decide', asking)).toMatchObject({ taken: true, decision });
  expect(await decisionsOf(ines, id)).toEqual([decision]);
  // Under another name it is another asking, and there is nothing left of this one to decide.
  expect((await window.ask('decide', { ...asking, asked: 'the-second' })).decision).toBeUndefined();
  expect(listChanges(elsewhere.state.doc).map((change) => change.id)).toEqual([second]);
  elsewhere.close();
  window.close();
  await other.stop();
});

test('asked for twice in one moment it is made once, and what others call theirs is theirs', async () => {
  const { id, ines, window, first, second } = await withChanges();
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${people[1]!.id}`, { role: 'decider' });
  const his = await open(people[1]!, id);
  const again = await open(ines, id);
  const asking = { changes: [first], verdict: 'reject', client: 'here', asked: 'same' };
  const answers = await Promise.all([window, again, window].map((hand) => hand.ask('decide', asking)));
  expect(new Set(answers.map(({ decision }) => decision)).size).toBe(1);
  const theirs = await his.ask('decide', { ...asking, changes: [second] });
  expect(theirs.taken).toBe(true);
  expect(new Set(await decisionsOf(ines, id))).toEqual(new Set([answers[0]!.decision, theirs.decision]));
  for (const hand of [window, again, his]) hand.close();
});

test('what was taken back is so for whoever asks again under the same name, and for nobody else', async () => {
  const { id, ines, window, first, second } = await withChanges();
  const { decision } = await window.ask('decide', { changes: [first, second], verdict: 'accept', client: 'here' });
  const asking = { decision, changes: [second], client: 'here', asked: 'back' };
  expect((await window.ask('takeBack', asking)).taken).toBe(true);
  const before = await open(ines, id);
  expect((await window.ask('takeBack', asking)).taken).toBe(true);
  const after = await open(ines, id);
  expect([after.version, after.state.doc.eq(before.state.doc)]).toEqual([before.version, true]);
  expect((await window.ask('takeBack', { ...asking, asked: 'anew' })).refused).toMatch(/taken back already/);
  expect((await window.ask('takeBack', { ...asking, asked: undefined })).refused).toMatch(/taken back already/);
  const his = await open(people[1]!, id);
  expect((await his.ask('takeBack', asking)).refused).toBeTruthy();
  expect((await window.ask('decide', { changes: [first], verdict: 'accept', client: 'c', asked: 7 })).refused).toMatch(
    /cannot be understood/,
  );
  for (const hand of [window, before, after, his]) hand.close();
});
