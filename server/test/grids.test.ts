import { EditorState, TextSelection, type Command } from 'prosemirror-state';
import { addColumn, addRow, fairReading, beforeReading, insertTable, isWhole } from '@tea-pencil/core';
import type { Node } from 'prosemirror-model';
import { demoPerson, sharedServer } from './support/server';
import { Writer } from './support/writer';

/** A command with the caret in the first cell. */
function inFirstCell(writer: Writer, command: Command): void {
  let at = 0;
  writer.doc.descendants((node, pos) => {
    if (!at && node.type.name === 'table_cell') at = pos + 2;
  });
  const tried = EditorState.create({ doc: writer.doc, selection: TextSelection.create(writer.doc, at) });
  command(tried, (tr) => writer.make(tr));
}

const whole = (doc: Node) => doc.children.filter(({ type }) => type.name === 'table').every(isWhole);

test('one puts in rows while another puts in columns: what the server then has fills its grid, for all alike', async () => {
  const server = await sharedServer();
  const [ines, maren] = await Promise.all(['ines', 'maren'].map((login) => demoPerson(server.address, login)));
  const { id } = (await ines!.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Grids' })).body;
  await ines!.ask('PUT', `/api/manuscripts/${id}/members/${maren!.id}`, { role: 'proposer' });
  const [one, other] = await Promise.all([
    new Writer(ines!, id, { lag: 30 }).until(),
    new Writer(maren!, id, { lag: 30 }).until(),
  ]);
  insertTable(2, 2)(one.state, (tr) => one.make(tr));
  await one.settled();
  await other.until(() => other.version() === one.version());
  for (let round = 0; round < 6; round++) {
    inFirstCell(one, addRow('below'));
    inFirstCell(other, addColumn('behind'));
    await Promise.all([one.settled(), other.settled()]);
    await other.until(() => other.version() === one.version());
  }
  const late = await new Writer(ines!, id).until();
  for (const doc of [one.doc, other.doc, late.doc, fairReading(late.doc), beforeReading(late.doc)])
    expect(whole(doc)).toBe(true);
  expect([one.doc.eq(late.doc), other.doc.eq(late.doc)]).toEqual([true, true]);
  expect([...one.notTaken, ...other.notTaken]).toEqual([]);
  const table = late.doc.children.find(({ type }) => type.name === 'table')!;
  expect([table.childCount, table.firstChild!.childCount]).toEqual([8, 8]);
  for (const writer of [one, other, late]) writer.close();
  await server.stop();
});
