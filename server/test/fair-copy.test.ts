import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Client } from 'pg';
import { fairReading, listChanges, plainText, readDocx, remainingOf, remarkOf, type Fate } from '@tea-pencil/core';
import type { Drafts, FairCopy, FairCopyAsked, Ledger } from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** Fair copies: made in one act, proved, the same bytes ever after, and taken back. */

let url: string;
let server: Running;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  url = await ownDatabase('fair_copy', 'the demo');
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

const at = (id: string, more = '') => `/api/manuscripts/${id}/fair-copies${more}`;
const list = async (id: string, who = ines) => (await who.ask<FairCopy[]>('GET', at(id))).body;
const whole = (editor: Editor) => JSON.stringify(editor.state.doc.toJSON());

/** A text of Ines and Maren with four pending changes and a thread: two insertions, a deletion, formatting. */
async function begun(...lines: string[]): Promise<{ id: string; editor: Editor; hers: Editor }> {
  const form = new FormData();
  const text = lines.length ? lines : ['The weed lies in a line.', 'Turn it over with a stick.'];
  form.append('file', new File([text.join('\n')], 'The weed.txt'));
  const { body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form);
  await ines.ask('PUT', `/api/manuscripts/${body.id}/members/${maren.id}`, { role: 'proposer' });
  const editor = await new Editor(ines, body.id).open();
  const hers = await new Editor(maren, body.id).open();
  return { id: body.id, editor, hers };
}
async function revised() {
  const all = await begun();
  const { id, editor, hers } = all;
  await hers.edit((state) => state.tr.insertText('dry ', 5));
  await followed(editor, hers);
  await hers.edit((state) => state.tr.insertText(' twice', state.doc.content.size - 2));
  await followed(editor, hers);
  await editor.edit((state) => state.tr.delete(14, 23));
  await followed(hers, editor);
  await editor.edit((state) => state.tr.addMark(1, 4, state.schema.marks.bold!.create()));
  await followed(hers, editor);
  const comment = { id: `c-${id}`, body: remarkOf('Which weed?') };
  await ines.ask('POST', `/api/manuscripts/${id}/threads`, { id: `t-${id}`, whole: true, comment });
  return all;
}
async function followed(editor: Editor, other: Editor) {
  while (editor.version < other.version || other.version < editor.version)
    await new Promise((resolve) => setTimeout(resolve, 5));
}
const asked = (editor: Editor, fate: (kind: string, author: string) => Fate): FairCopyAsked => ({
  chosen: remainingOf(listChanges(editor.state.doc)).map((one) => ({ ...one, fate: fate(one.kind, one.author) })),
  format: 'docx',
  nameless: true,
  inert: true,
});
async function bytesOf(id: string, copy: string, file: string, who = ines) {
  const response = await fetch(`${server.address}${at(id, `/${copy}/files/${file}`)}`, {
    headers: { cookie: who.cookie },
  });
  return { status: response.status, bytes: Buffer.from(await response.arrayBuffer()) };
}
const until = async (holds: () => boolean) => {
  for (let i = 0; i < 400 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 5));
};

test('what is pending is decided as was chosen, the files are what they should be, and all of it is taken back as it was', async () => {
  const { id, editor } = await revised();
  const before = whole(editor);
  const fate = (kind: string): Fate => (kind === 'deletion' ? 'reject' : kind === 'formatting' ? 'keep' : 'accept');
  const made = await ines.ask<FairCopy>('POST', at(id), asked(editor, fate));
  expect(made.status).toBe(201);
  const { body: copy } = made;
  await until(() => editor.version === copy.version);
  expect(listChanges(editor.state.doc).map(({ kind }) => kind)).toEqual(['formatting']);
  const text = 'The dry weed lies in a line.\nTurn it over with a stick twice.';
  expect(plainText(editor.state.doc)).toBe(text);
  expect(copy).toMatchObject({
    fates: { accept: 2, reject: 1, keep: 1 },
    deciders: [{ person: ines.id, accepted: 2, rejected: 1 }],
    ...{ words: 14, threads: 1, open: 1, queries: 0, inside: 0, takenBack: null, madeBy: ines.id },
  });

  const clean = await bytesOf(id, copy.id, 'clean');
  const marked = await bytesOf(id, copy.id, 'marked');
  for (const [file, { bytes }] of [
    ['clean', clean],
    ['marked', marked],
  ] as const) {
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(copy[file].sha256);
    expect(bytes.length).toBe(copy[file].bytes);
  }
  const read = await readDocx(clean.bytes);
  expect(plainText(read.manuscript.doc)).toBe(text);
  expect(read.manuscript.people).toEqual([]);
  const beside = (await readDocx(marked.bytes)).manuscript;
  expect(listChanges(beside.doc).map(({ kind }) => kind)).toEqual(['formatting']);
  expect(beside.threads).toHaveLength(1);
  // Outside check: pandoc (Debian) finds in the clean file no change, no comment, and the words.
  const pandoc = (to: string) =>
    execFileSync('pandoc', ['-f', 'docx', '-t', to, '--track-changes=all', '--wrap=none'], {
      input: clean.bytes,
    }).toString();
  expect(pandoc('plain').trim().split(/\n+/).join('\n')).toBe(text);
  expect(pandoc('native')).not.toMatch(/insertion|deletion|comment|paragraph-/);

  // Outside check: sha256sum (GNU coreutils) finds both files in the record.
  const folder = mkdtempSync(path.join(tmpdir(), 'fair-copy-'));
  writeFileSync(path.join(folder, copy.clean.name), clean.bytes);
  writeFileSync(path.join(folder, copy.marked.name), marked.bytes);
  const record = await bytesOf(id, copy.id, 'record');
  writeFileSync(path.join(folder, 'record.txt'), record.bytes);
  const checked = execFileSync('sha256sum', ['--check', 'record.txt'], {
    cwd: folder,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  expect(checked.toString().trim().split('\n')).toEqual([`${copy.clean.name}: OK`, `${copy.marked.name}: OK`]);
  rmSync(folder, { recursive: true });
  expect(record.bytes.toString()).toMatch(/Ines Vega: 2 accepted, 1 rejected/);

  // A draft of it, one of what was before; the ledger knows each decision.
  const drafts = (await ines.ask<Drafts>('GET', `/api/manuscripts/${id}/drafts`)).body.drafts;
  expect(drafts.find(({ reason }) => reason === 'fair copy')).toMatchObject({ version: copy.version, keptBy: ines.id });
  expect(drafts.find(({ reason }) => reason === 'decisions')).toMatchObject({ before: 'making a fair copy' });
  const ledger = async () => (await ines.ask<Ledger>('GET', `/api/manuscripts/${id}/ledger`)).body;
  expect((await ledger()).decided.map(({ verdict }) => verdict).sort()).toEqual(['accept', 'accept', 'reject']);

  // Whatever is written after it, it is taken back, and its files stay what they were.
  await editor.edit((state) => state.tr.insertText('Note. ', 1), 'ink');
  expect((await ines.ask('POST', at(id, `/${copy.id}/back`))).status).toBe(204);
  expect((await ledger()).decided).toEqual([]);
  const [after] = await list(id);
  expect(after!.takenBack).toMatchObject({ by: ines.id });
  expect((await bytesOf(id, copy.id, 'clean')).bytes.equals(clean.bytes)).toBe(true);
  await until(() => listChanges(editor.state.doc).length === 4);
  await editor.edit((state) => state.tr.delete(1, 7), 'ink');
  expect(whole(editor)).toBe(before);
  const again = await ines.ask('POST', at(id, `/${copy.id}/back`));
  expect([again.status, again.body.message]).toEqual([409, 'This fair copy has been taken back already.']);
});

test('nothing is decided that nobody has looked at, and nothing by one who may not', async () => {
  const { id, editor, hers } = await revised();
  const before = whole(editor);
  const seen = asked(editor, () => 'accept');
  expect((await maren.ask('POST', at(id), seen)).status).toBe(403);
  await hers.edit((state) => state.tr.insertText('!', state.doc.content.size - 1));
  await followed(editor, hers);
  const refused = await ines.ask('POST', at(id), seen);
  expect([refused.status, refused.body.message]).toEqual([
    409,
    expect.stringMatching(/^Other changes are pending now/),
  ]);
  const now = asked(editor, () => 'keep');
  const [first] = now.chosen;
  for (const chosen of [
    now.chosen.slice(1),
    [...now.chosen, { ...first!, author: 'somebody' }],
    now.chosen.map((one) => ({ ...one, many: one.many + 1 })),
  ])
    expect((await ines.ask('POST', at(id), { ...now, chosen })).status).toBe(409);
  for (const wrong of [
    { chosen: [first, first] },
    { chosen: [{ ...first, fate: 'burn' }] },
    { format: 'txt' },
    { format: '../x' },
    { nameless: 'yes' },
    { more: 1 },
  ])
    expect((await ines.ask('POST', at(id), { ...now, ...wrong })).status).toBe(400);
  expect(await list(id)).toEqual([]);
  await followed(editor, hers);
  expect(listChanges(editor.state.doc)).toHaveLength(5);
  expect(before).not.toBe(whole(editor));
});

test('a fair copy of which nothing would be left is not made; one of a text without changes is, and decides nothing', async () => {
  const { id, editor } = await begun('Only this.');
  const { version } = editor;
  const none = await ines.ask<FairCopy>(
    'POST',
    at(id),
    asked(editor, () => 'accept'),
  );
  expect(none.body).toMatchObject({ version, fates: { accept: 0, reject: 0, keep: 0 }, deciders: [], words: 2 });
  await editor.edit((state) => state.tr.delete(1, state.doc.content.size - 1));
  const empty = await ines.ask(
    'POST',
    at(id),
    asked(editor, () => 'accept'),
  );
  expect([empty.status, empty.body.message]).toEqual([409, 'The fair copy was not made: it would hold no word.']);
  expect(listChanges(editor.state.doc)).toHaveLength(1);
  // Rejected it has its words again.
  const rejected = await ines.ask<FairCopy>(
    'POST',
    at(id),
    asked(editor, () => 'reject'),
  );
  expect(rejected.body).toMatchObject({ words: 2, fates: { reject: 1 } });
  await ines.ask('PUT', `/api/manuscripts/${id}/seal`, { passphrase: 'slack water', mayWithdraw: false });
  const sealed = await ines.ask(
    'POST',
    at(id),
    asked(editor, () => 'accept'),
  );
  expect([sealed.status, sealed.body.message]).toEqual([403, expect.stringMatching(/^This manuscript is sealed/)]);
  expect((await ines.ask('POST', at(id, `/${rejected.body.id}/back`))).status).toBe(403);
});

test('asked twice at once one decides and the other is told; what others write meanwhile is in one or the other', async () => {
  const { id, editor, hers } = await revised();
  const seen = asked(editor, () => 'accept');
  const both = await Promise.all([ines.ask('POST', at(id), seen), ines.ask('POST', at(id), seen)]);
  expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  expect(await list(id)).toHaveLength(1);
  await until(() => listChanges(editor.state.doc).length === 0);
  await until(() => hers.version === editor.version);
  // One letter after the other in ink, while it is made.
  let writing = true;
  const typing = (async () => {
    while (writing) {
      await editor.edit((state) => state.tr.insertText('x', state.doc.content.size - 1), 'ink');
      await new Promise((resolve) => setTimeout(resolve, 150));
    }
  })();
  const made = await ines.ask<FairCopy>('POST', at(id), { ...seen, chosen: [] });
  writing = false;
  await typing;
  if (made.status === 201) {
    const { manuscript } = await readDocx((await bytesOf(id, made.body.id, 'clean')).bytes);
    const then = await ines.ask<{ doc: object }>('GET', `/api/manuscripts/${id}/versions/${made.body.version}`);
    expect(plainText(manuscript.doc)).toBe(plainText(fairReading(editor.state.schema.nodeFromJSON(then.body.doc))));
  } else {
    expect([made.status, (made.body as unknown as { message: string }).message]).toEqual([
      409,
      expect.stringMatching(/^Somebody is writing/),
    ]);
  }
});

test('a fair copy of another manuscript is nowhere, and its files are for those who may take away', async () => {
  const { id, editor } = await revised();
  const { body: copy } = await ines.ask<FairCopy>(
    'POST',
    at(id),
    asked(editor, () => 'accept'),
  );
  const other = await begun('Another.');
  for (const file of ['clean', 'marked', 'record']) expect((await bytesOf(other.id, copy.id, file)).status).toBe(404);
  expect((await ines.ask('POST', at(other.id, `/${copy.id}/back`))).status).toBe(404);
  expect((await bytesOf(id, copy.id, 'all')).status).toBe(400);
  expect((await bytesOf(id, copy.id, 'clean', maren)).status).toBe(200);
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'proposer', takesAway: false });
  expect((await bytesOf(id, copy.id, 'clean', maren)).status).toBe(403);
  expect(await list(id, maren)).toHaveLength(1);
  // One of its decisions taken back alone: the rest goes with it.
  const ledger = (await ines.ask<Ledger>('GET', `/api/manuscripts/${id}/ledger`)).body.decided;
  const [one] = ledger;
  await editor.ask('takeBack', { decision: one!.decision, changes: [one!.id], client: 'x' });
  expect((await ines.ask('POST', at(id, `/${copy.id}/back`))).status).toBe(204);
  await until(() => listChanges(editor.state.doc).length === 4);
  expect(listChanges(editor.state.doc)).toHaveLength(4);
});

test('of two hundred all are shown, one more is refused with the way on, and a copy of the manuscript has room again', async () => {
  const { id, editor, hers } = await revised();
  const made = await ines.ask<FairCopy>(
    'POST',
    at(id),
    asked(editor, () => 'keep'),
  );
  expect(made.status).toBe(201);
  const client = new Client({ connectionString: url });
  await client.connect();
  await client.query(
    `INSERT INTO fair_copies (id, manuscript_id, version, made_by, at, facts, clean, marked)
     SELECT id || n, manuscript_id, version, made_by, at, facts, clean, marked
     FROM fair_copies, generate_series(1, 199) n WHERE manuscript_id = $1`,
    [id],
  );
  await client.end();
  expect(await list(id)).toHaveLength(200);
  const more = await ines.ask(
    'POST',
    at(id),
    asked(editor, () => 'keep'),
  );
  expect([more.status, more.body.message]).toEqual([409, expect.stringMatching(/No more than 200 .* choose “Copy”/)]);
  const copy = (await ines.ask<{ id: string }>('POST', `/api/manuscripts/${id}/copy`)).body.id;
  const there = await new Editor(ines, copy).open();
  expect(
    (
      await ines.ask(
        'POST',
        at(copy),
        asked(there, () => 'keep'),
      )
    ).status,
  ).toBe(201);
  for (const each of [editor, hers, there]) each.close();
});
