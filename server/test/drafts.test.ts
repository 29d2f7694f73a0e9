import { spawnSync } from 'node:child_process';
import type { Node } from 'prosemirror-model';
import { fairReading, listChanges, plainText } from '@tea-pencil/core';
import type {
  BroughtBack,
  Draft,
  Drafts,
  InkPiece,
  Moment,
  ReturnedFile,
  SideBySide,
  TimeLine,
} from '@tea-pencil/wire';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, type Running, type Visitor } from './support/server';

/** Drafts: what is kept, looked at, laid side by side, brought back and taken in. */

let server: Running;
let ines: Visitor;
let maren: Visitor;
beforeAll(async () => {
  server = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: await ownDatabase('drafts', 'the demo') });
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
});
afterAll(() => server.stop());

const at = (id: string, more: string) => `/api/manuscripts/${id}${more}`;
const fileOf = (name: string, bytes: BlobPart) => {
  const form = new FormData();
  form.append('file', new File([bytes], name));
  return form;
};

/** A manuscript of a few paragraphs, which Ines keeps and Maren may decide in, with an editor of each. */
async function begun(...lines: string[]) {
  const { body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', fileOf('W.txt', lines.join('\n')));
  await ines.ask('PUT', at(body.id, `/members/${maren.id}`), { role: 'decider' });
  const [one, other] = [await new Editor(ines, body.id).open(), await new Editor(maren, body.id).open()];
  return { id: body.id, ines: one, maren: other };
}

/** Replaces words of a text by others, once. */
function replace(was: string, now: string) {
  return (state: Editor['state']) => {
    let from = -1;
    state.doc.descendants((node, pos) => {
      const found = node.isTextblock ? node.textContent.indexOf(was) : -1;
      if (found >= 0 && from < 0) from = pos + 1 + found;
      return from < 0;
    });
    if (from < 0) throw new Error(`“${was}” is not in the text`);
    return now ? state.tr.insertText(now, from, from + was.length) : state.tr.delete(from, from + was.length);
  };
}

async function textOf(who: Visitor, id: string): Promise<Node> {
  const editor = await new Editor(who, id).open();
  editor.close();
  return editor.state.doc;
}
const reads = async (id: string) => plainText(fairReading(await textOf(ines, id)));
async function counted(id: string): Promise<Draft[]> {
  for (let i = 0; ; i++) {
    const { drafts } = (await ines.ask<Drafts>('GET', at(id, '/drafts'))).body;
    if (drafts.every(({ facts }) => facts) || i > 100) return drafts;
    await new Promise((done) => setTimeout(done, 100));
  }
}
const beside = async (id: string, before: number, after: number) =>
  (await ines.ask<SideBySide>('GET', at(id, `/beside?before=${before}&after=${after}&reading=fair`))).body;

test('a draft is kept by hand, counted, named, and let go; the moments of the log stay', async () => {
  const text = await begun('Walk the top of the beach.', 'Turn the weed over.');
  const { id } = text;
  await text.maren.edit(replace('beach', 'beach at low water'));
  await text.ines.edit(replace('Turn', 'Lift'), 'ink');
  const kept = await ines.ask<{ id: string; version: number }>('POST', at(id, '/drafts'), { name: 'end of round one' });
  expect(kept.status).toBe(201);
  const [newest, first] = await counted(id);
  expect(first).toMatchObject({ version: 0, reason: 'came', facts: { words: 10, pending: 0 } });
  expect(newest).toMatchObject({
    name: 'end of round one',
    reason: 'hand',
    keptBy: ines.id,
    version: kept.body.version,
    facts: { words: 13, pending: 1, wordsCome: 4, wordsGone: 1, changesCome: 1, changesGone: 0 },
  });
  expect([...newest!.facts!.authors].sort()).toEqual([ines.id, maren.id].sort());
  const about = { name: 'round one', note: 'Sent to the printer on Monday.' };
  expect((await ines.ask('PATCH', at(id, `/drafts/${newest!.id}`), about)).status).toBe(204);
  expect((await counted(id))[0]).toMatchObject(about);
  expect((await ines.ask('PATCH', at(id, `/drafts/${newest!.id}`), {})).status).toBe(400);
  expect((await ines.ask('DELETE', at(id, `/drafts/${newest!.id}`))).status).toBe(204);
  const gone = (await ines.ask<Drafts>('GET', at(id, '/drafts'))).body;
  expect([gone.drafts.some((one) => one.id === newest!.id), gone.gone.map((one) => [one.id, one.goneBy])]).toEqual([
    false,
    [[newest!.id, ines.id]],
  ]);
  // Those of a keeper are nobody else’s to let go or to bring back.
  expect((await maren.ask('POST', at(id, `/drafts/${newest!.id}/back`))).status).toBe(403);
  expect((await ines.ask('POST', at(id, `/drafts/${newest!.id}/back`))).status).toBe(204);
  expect((await maren.ask('DELETE', at(id, `/drafts/${newest!.id}`))).status).toBe(403);
  expect((await maren.ask('PATCH', at(id, `/drafts/${newest!.id}`), { name: 'Mine' })).status).toBe(403);
  expect((await ines.ask('DELETE', at(id, `/drafts/${newest!.id}`))).status).toBe(204);
  const { body: line } = await ines.ask<TimeLine>('GET', at(id, '/time-line'));
  expect(line.stretches.map(({ author, intent, come }) => [author, intent, come])).toEqual([
    [maren.id, 'pencil', ' at low water'.length],
    [ines.id, 'ink', 'Lift'.length],
  ]);
  const moment = async (version: number, go: string) =>
    (await ines.ask<Moment>('GET', at(id, `/moments/${version}?go=${go}`))).body;
  const here = await moment(kept.body.version, 'here');
  expect([here.author, here.intent, here.gone]).toEqual([ines.id, 'ink', 4]);
  const earlier = await moment(here.version, 'earlier');
  expect([earlier.author, earlier.intent]).toEqual([maren.id, 'pencil']);
  expect((await moment(earlier.version, 'earlier')).version).toBe(0);
  expect((await moment(0, 'later')).version).toBe(earlier.version);
});

test('two drafts beside each other: who made each difference, and whether it was recorded', async () => {
  const text = await begun('The weed is a kind of ledger.', 'Look for mermaids purses.', 'Mind the tide.');
  const { id } = text;
  await text.maren.edit(replace('mermaids', 'mermaid’s'));
  await text.ines.edit(replace('a kind of', 'the shore’s own'), 'ink');
  const { rows, differences, before, after } = await beside(id, 0, text.ines.version);
  expect(differences.map(({ kind, author, how }) => [kind, author, how])).toEqual([
    ['replacement', ines.id, 'ink'],
    ['replacement', maren.id, 'pencil'],
  ]);
  expect(rows.map((row) => ('same' in row ? 'same' : row.changes.length))).toEqual([1, 1, 'same']);
  expect([before.words, after.words]).toEqual([14, 14]);
  expect((await ines.ask('GET', at(id, '/beside?before=0&after=9999&reading=fair'))).status).toBe(404);
});

test.each(['pencil', 'ink'] as const)('an earlier draft comes back in %s, and that can be taken back', async (how) => {
  const text = await begun('Walk the top of the beach.', 'Turn the weed over.');
  const { id } = text;
  await text.maren.edit(replace('beach', 'shingle'));
  await text.ines.edit(replace('Turn', 'Lift'), 'ink');
  const before = await textOf(ines, id);
  const { status, body } = await ines.ask<BroughtBack>('POST', at(id, '/back'), { version: 0, how });
  expect([status, !!body.act]).toEqual([201, true]);
  expect(await reads(id)).toBe('Walk the top of the beach.\nTurn the weed over.');
  const changes = listChanges(await textOf(ines, id));
  if (how === 'ink') expect(changes).toEqual([]);
  else expect(changes.filter(({ author }) => author === ines.id)).toHaveLength(body.changes);
  // What was there just before was kept.
  const [kept] = await counted(id);
  expect(kept).toMatchObject({ reason: 'back', before: 'bringing back an earlier draft' });
  expect((await beside(id, kept!.version, kept!.version)).differences).toEqual([]);
  // Somebody writes meanwhile; what they wrote stays.
  await new Promise((done) => setTimeout(done, 200));
  await text.maren.edit((state) => state.tr.insertText(' Slowly.', state.doc.content.size - 1));
  expect((await maren.ask('POST', at(id, `/acts/${body.act}/back`))).status).toBe(200);
  expect(await reads(id)).toBe(`${plainText(fairReading(before))} Slowly.`);
  expect((await ines.ask('POST', at(id, `/acts/${body.act}/back`))).status).toBe(409);
});

test('what was done in ink is listed, and laid down in pencil as a change of who did it', async () => {
  const text = await begun('Walk the top of the beach.', 'Turn the weed over.');
  const { id } = text;
  await text.ines.edit(replace('Turn', 'Lift'), 'ink');
  await text.ines.edit(replace('top of the ', ''), 'ink');
  await text.maren.edit(replace('over', 'over with a stick'));
  const { body: pieces } = await ines.ask<InkPiece[]>('GET', at(id, '/ink'));
  expect(pieces).toEqual([
    expect.objectContaining({
      author: ines.id,
      many: 2,
      laidDown: false,
      edits: [
        {
          says: 'deleted three words',
          words: [
            { text: 'Walk the ', is: 'same' },
            { text: 'top of the ', is: 'gone' },
            { text: 'beach.', is: 'same' },
          ],
        },
        {
          says: 'replaced one word',
          words: [
            { text: 'Turn', is: 'gone' },
            { text: 'Lift', is: 'come' },
            { text: ' the weed over.', is: 'same' },
          ],
        },
      ],
    }),
  ]);
  const laid = await maren.ask<BroughtBack>('POST', at(id, `/ink/${pieces[0]!.from}/pencil`));
  expect([laid.status, laid.body.changes]).toEqual([201, 2]);
  const doc = await textOf(ines, id);
  expect(plainText(fairReading(doc))).toBe('Walk the beach.\nLift the weed over with a stick.');
  expect(listChanges(doc).map(({ author, before, after }) => [author, before, after])).toEqual([
    [ines.id, 'top of the ', ''],
    [ines.id, 'Turn', 'Lift'],
    [maren.id, '', ' with a stick'],
  ]);
  expect((await ines.ask<InkPiece[]>('GET', at(id, '/ink'))).body[0]!.laidDown).toBe(true);
});

/** Edits a file as any program would that records nothing: with python-docx (https://python-docx.readthedocs.io). */
function edited(docx: Buffer, was: string, now: string): Buffer {
  const script = `
import sys, io, docx
document = docx.Document(io.BytesIO(sys.stdin.buffer.read()))
for paragraph in document.paragraphs:
    for run in paragraph.runs:
        run.text = run.text.replace(sys.argv[1], sys.argv[2])
document.save(sys.stdout.buffer)`;
  const { stdout, status, stderr } = spawnSync('/usr/bin/python3', ['-c', script, was, now], {
    input: docx,
    maxBuffer: 1e8,
  });
  if (status !== 0) throw new Error(stderr.toString());
  return stdout;
}

test('a file comes back: what it records stays its people’s, what it does not is found, and what came meanwhile stays', async () => {
  const text = await begun(
    'Walk the top of the beach at low water.',
    'Turn the weed over with a stick.',
    'Mind the tide.',
  );
  const { id } = text;
  await text.maren.edit(replace('stick', 'hazel stick'));
  const sent = text.maren.version;
  const response = await fetch(server.address + at(id, '/copies/marked.docx'), { headers: { cookie: ines.cookie } });
  const docx = Buffer.from(await response.arrayBuffer());
  await text.maren.edit(replace('Mind', 'Always mind'));
  const back = edited(docx, 'low water', 'the neap');
  const { status, body } = await ines.ask<ReturnedFile>(
    'POST',
    at(id, `/returned?version=${sent}&sender=${maren.id}&anyway=`),
    fileOf('Back from Maren.docx', new Uint8Array(back)),
  );
  expect([status, body.unrecorded, body.recorded, body.meetings, body.decided]).toEqual([201, 1, 0, 0, 0]);
  const changes = listChanges(await textOf(ines, id));
  expect(changes.map(({ author, before, after }) => [author, before, after])).toEqual([
    [maren.id, 'low water', 'the neap'],
    [maren.id, '', 'hazel '],
    [maren.id, 'Mind', 'Always mind'],
  ]);
  expect((await ines.ask('POST', at(id, `/acts/${body.act}/back`))).status).toBe(200);
  expect(listChanges(await textOf(ines, id))).toHaveLength(2);
  const apart = await ines.ask<{ message: string }>(
    'POST',
    at(id, '/returned?version=0&sender=&anyway='),
    fileOf('a.txt', 'Razor shells, whelks.'),
  );
  expect([apart.status, apart.body.message]).toEqual([409, expect.stringContaining('next to nothing in common')]);
  const wrong = await ines.ask<{ message: string }>(
    'POST',
    at(id, '/returned?version=0&sender=&anyway='),
    fileOf('a.docx', 'no'),
  );
  expect([wrong.status, wrong.body.message]).toEqual([400, expect.stringContaining('“a.docx”')]);
});

test('drafts keep themselves: before many changes are decided, and when a read-through begins', async () => {
  const words = Array.from({ length: 12 }, (_, i) => `word${String.fromCharCode(97 + i)}`);
  const text = await begun(words.join(' and '));
  const { id } = text;
  for (const word of words) await text.maren.edit(replace(word, `the ${word}`));
  const look = { readThrough: { order: 'place', change: null, at: 0, skipped: [], done: 0 } };
  expect((await ines.ask('PATCH', at(id, '/view'), look)).status).toBe(204);
  await text.maren.edit((state) => state.tr.insertText('Now ', 1));
  await text.ines.ask('decide', {
    changes: listChanges(await textOf(ines, id)).map((change) => change.id),
    verdict: 'accept',
    client: 'c',
  });
  const reasons = (await counted(id)).map(({ reason, before }) => [reason, before]);
  expect(reasons).toEqual([
    ['decisions', 'accepting 12 changes'],
    ['read-through', 'a read-through'],
    ['came', null],
  ]);
});

test('two files are laid together as a manuscript; two revisions of one keep the changes of both', async () => {
  const [draft, one, other] = [
    'Walk the top of the beach.\nTurn the weed over.\nMind the tide.',
    'Walk along the beach.\nTurn the weed over.\nMind the tide.',
    'Walk the top of the beach.\nTurn the weed over slowly.\nMind the tide.',
  ];
  const form = (more: Record<string, string>, files: Record<string, string>) => {
    const body = new FormData();
    for (const [key, value] of Object.entries(more)) body.append(key, value);
    for (const [key, value] of Object.entries(files)) body.append(key, new File([value], `${key}.txt`));
    return body;
  };
  const collated = (body: FormData) =>
    ines.ask<{ id: string; changes: number; meetings: number; message: string }>('POST', '/api/collations', body);
  const two = await collated(form({ name: 'Maren Holt' }, { before: draft, after: one }));
  expect([two.status, two.body.changes]).toEqual([201, 1]);
  const three = await collated(form({ name: 'A', otherName: 'B' }, { before: draft, after: one, other }));
  expect([three.status, three.body.changes, three.body.meetings]).toEqual([201, 2, 0]);
  const changes = listChanges(await textOf(ines, three.body.id));
  expect(changes.map(({ before, after }) => [before, after])).toEqual([
    ['the top of', 'along'],
    ['', ' slowly'],
  ]);
  expect(new Set(changes.map(({ author }) => author)).size).toBe(2);
  const apart = await collated(form({}, { before: draft, after: 'Cuttlebone, razor shells and whelks.' }));
  expect([apart.status, apart.body.message]).toEqual([409, expect.stringContaining('next to nothing in common')]);
  expect((await collated(form({ anyway: 'yes' }, { before: draft, after: 'Cuttlebone.' }))).status).toBe(201);
  // A manuscript that one is no member of is nowhere.
  expect((await collated(form({ before: 'nothing' }, { after: one }))).status).toBe(404);
  expect((await collated(form({}, { after: one }))).status).toBe(400);
});
