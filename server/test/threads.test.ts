import {
  anchors,
  decide,
  fairReading,
  listChanges,
  plainText,
  remarkOf,
  remarkText,
  type Remark,
  type Thread,
} from '@tea-pencil/core';
import { Transform } from 'prosemirror-transform';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor;
let maren: Visitor;
let tobias: Visitor;
let talk: string;
/** An editor of the keeper's, which follows the text. */
let text: Editor;
beforeAll(async () => {
  server = await sharedServer();
  [ines, maren, tobias] = (await Promise.all(
    ['ines', 'maren', 'tobias'].map((login) => demoPerson(server.address, login)),
  )) as [Visitor, Visitor, Visitor];
  talk = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Talk' })).body.id;
  await ines.ask('PUT', `/api/manuscripts/${talk}/members/${maren.id}`, { role: 'remarker' });
  await ines.ask('PUT', `/api/manuscripts/${talk}/members/${tobias.id}`, { role: 'proposer' });
  text = await new Editor(ines, talk).open();
  await text.edit((state) => state.tr.insertText('The lime kiln stands above the shore.', 1), 'ink');
});
afterAll(async () => {
  text.close();
  await server.stop();
});

let n = 0;
const at = (manuscript: string, more = '') => `/api/manuscripts/${manuscript}/threads${more}`;
const threads = async (who: Visitor, manuscript = talk) => (await who.ask<Thread[]>('GET', at(manuscript))).body;
const find = async (who: Visitor, id: string) => (await threads(who)).find((thread) => thread.id === id);
const comment = (words: string, more: object = {}) => ({ id: `said${++n}`, body: remarkOf(words), ...more });
/** The words of the text, where they stand now. */
function words(sought: string) {
  const from = 1 + text.state.doc.textBetween(0, text.state.doc.content.size, '\n').indexOf(sought);
  return { version: text.version, from, to: from + sought.length };
}
/** A thread begun by somebody; by default about the whole. */
async function begun(who: Visitor, about: object, said: object | null = comment('Hello')) {
  const id = `talk${++n}`;
  const { status, body } = await who.ask('POST', at(talk), { id, ...about, ...(said && { comment: said }) });
  expect([status, body]).toEqual([204, '']);
  return id;
}
const settled = () => new Promise((resolve) => setTimeout(resolve, 150));
const mention = (person: string): Remark => ({
  type: 'doc',
  content: [{ type: 'line', attrs: { list: null }, content: [{ type: 'mention', attrs: { person } }] }],
});

test('a thread is begun on words, answered, resolved and reopened, each under the sender’s name', async () => {
  const said = comment('  Which of the two?  ');
  expect(
    (await maren.ask('POST', at(talk), { id: 'x', at: words('lime kiln'), comment: said, author: ines.id })).status,
  ).toBe(400);
  const id = await begun(maren, { at: words('lime kiln') }, said);
  await settled();
  expect(
    text.state.doc.textBetween(anchors(text.state.doc).get(id)![0]!.from, anchors(text.state.doc).get(id)![0]!.to),
  ).toBe('lime kiln');
  expect((await ines.ask('POST', at(talk, `/${id}/comments`), comment('The northern one.'))).status).toBe(204);
  const thread = (await find(ines, id))!;
  expect(thread).toMatchObject({ author: maren.id, quote: 'lime kiln', resolved: false });
  expect(thread).not.toHaveProperty('turned');
  expect(thread.comments.map(({ author, body }) => [author, remarkText(body, String).trim()])).toEqual([
    [maren.id, 'Which of the two?'],
    [ines.id, 'The northern one.'],
  ]);
  for (const resolved of [true, false]) {
    expect((await maren.ask('PATCH', at(talk, `/${id}`), { resolved })).status).toBe(204);
    expect(await find(ines, id)).toMatchObject({ resolved, turned: { by: maren.id } });
  }
});

test('the same comment sent twice is kept once, and says so', async () => {
  const thread = { id: 'sent-twice', whole: true, comment: comment('Once.') };
  expect((await ines.ask('POST', at(talk), thread)).status).toBe(204);
  expect((await ines.ask('POST', at(talk), thread)).status).toBe(409);
  const reply = comment('And again.');
  expect((await ines.ask('POST', at(talk, '/sent-twice/comments'), reply)).status).toBe(204);
  expect((await ines.ask('POST', at(talk, '/sent-twice/comments'), reply)).status).toBe(409);
  expect((await find(ines, 'sent-twice'))!.comments).toHaveLength(2);
});

test('two who answer at the same moment both stay', async () => {
  const id = await begun(ines, { whole: true });
  await Promise.all(
    [ines, maren].map((who, i) =>
      who.ask('POST', at(talk, `/${id}/comments`), { ...comment('x'), id: `at-once-${i}` }),
    ),
  );
  const ids = (await find(ines, id))!.comments.map((one) => one.id);
  expect(ids).toEqual(expect.arrayContaining(['at-once-0', 'at-once-1']));
});

test('what is no comment is refused in words, and nothing of it is kept', async () => {
  const id = await begun(ines, { whole: true });
  const other = await ines.manuscript(/Before You Set Out/);
  const stranger = (await demoPerson(server.address, 'harbour')).id;
  const script = { type: 'doc', content: [{ type: 'script', text: 'alert(1)' }] };
  const reply = (said: object, path = `/${id}/comments`, manuscript = talk) =>
    maren.ask('POST', at(manuscript, path), said);
  const begin = (about: object) => maren.ask('POST', at(talk), { id: `talk${++n}`, comment: comment('x'), ...about });
  for (const [answer, status, sentence] of [
    [reply(comment('')), 400, /empty/],
    [reply(comment(' \n ')), 400, /empty/],
    [reply(comment('x'.repeat(100_000))), 400, /too long/],
    [reply({ ...comment(''), body: script }), 400, /cannot be understood/],
    [reply({ ...comment(''), body: '<script>' }), 400, /cannot be understood/],
    [reply({ ...comment(''), body: mention(stranger) }), 400, /Harbour Office is not one of this manuscript’s people/],
    [reply(comment('x', { query: { to: stranger } })), 400, /A keeper can invite them/],
    [reply(comment('x'), '/nowhere/comments'), 404, /no such thread in this manuscript/],
    [ines.ask('POST', at(other, `/${id}/comments`), comment('x')), 404, /no such thread in this manuscript/],
    [ines.ask('PATCH', at(other), { threads: [id], resolved: true }), 404, /no such thread in this manuscript/],
    [begin({ at: { version: text.version, from: 5, to: 10_000 } }), 400, /not in the text/],
    [begin({ at: { version: text.version + 99, from: 1, to: 2 } }), 400, /not in the text/],
    [begin({ at: { version: text.version, from: 9, to: 3 } }), 400, /not in the text/],
    [begin({ change: 'no-such' }), 404, /no such change/],
    [begin({}), 400, /understood/],
    [begin({ whole: true, at: words('shore') }), 400, /understood/],
    [
      begin({ whole: true, toSelf: true, comment: { ...comment(''), body: mention(ines.id) } }),
      400,
      /note to yourself/,
    ],
  ] as const) {
    const { status: got, body } = await answer;
    expect([got, body.message]).toEqual([status, expect.stringMatching(sentence)]);
  }
  expect((await find(ines, id))!.comments).toHaveLength(1);
});

test('a comment is changed and deleted by its author; one that was answered leaves a trace, and it can be taken back', async () => {
  const first = comment('Wrong.');
  const id = await begun(maren, { whole: true }, first);
  const path = at(talk, `/${id}/comments/${first.id}`);
  await maren.ask('PATCH', path, { body: remarkOf('Could this be the other one?') });
  expect((await find(ines, id))!.comments[0]).toMatchObject({
    edited: expect.any(String),
    body: remarkOf('Could this be the other one?'),
  });
  await ines.ask('POST', at(talk, `/${id}/comments`), comment('It could.'));
  await maren.ask('PATCH', path, { deleted: true });
  const [trace] = (await find(ines, id))!.comments;
  expect(trace).toMatchObject({ author: maren.id, deleted: expect.any(String), body: remarkOf('') });
  expect(JSON.stringify(await threads(maren))).not.toContain('Could this be');
  await maren.ask('PATCH', path, { deleted: false });
  expect((await find(ines, id))!.comments[0]).toMatchObject({ body: remarkOf('Could this be the other one?') });
  // The last one leaves none, and a thread in which nothing is left is not there.
  const alone = comment('Never mind.');
  const lone = await begun(maren, { whole: true }, alone);
  await maren.ask('PATCH', at(talk, `/${lone}/comments/${alone.id}`), { deleted: true });
  expect(await find(ines, lone)).toBeUndefined();
  await maren.ask('PATCH', at(talk, `/${lone}/comments/${alone.id}`), { deleted: false });
  expect(await find(ines, lone)).toBeDefined();
});

test('a query is owed until it is answered, settled or resolved, and the desk says by whom', async () => {
  const owed = async () => {
    type Entry = { id: string; owed: { name: string; answers: number }[] };
    const desk = (await ines.ask<Entry[]>('GET', '/api/manuscripts')).body;
    return desk.find((entry) => entry.id === talk)!.owed.map(({ name, answers }) => `${name} ${answers}`);
  };
  expect(await owed()).toEqual([]);
  const asked = comment('Which kiln?', { query: { to: maren.id } });
  const id = await begun(ines, { at: words('kiln') }, asked);
  expect(await owed()).toEqual(['Maren Holt 1']);
  await tobias.ask('POST', at(talk, `/${id}/comments`), comment('Not I.'));
  expect(await owed()).toEqual(['Maren Holt 1']);
  await maren.ask('POST', at(talk, `/${id}/comments`), comment('The northern.'));
  expect(await owed()).toEqual([]);
  expect((await find(ines, id))!.comments[0]!.query).toMatchObject({ to: maren.id, settled: { by: maren.id } });
  await ines.ask('PATCH', at(talk, `/${id}/comments/${asked.id}/query`), { settled: false });
  expect(await owed()).toEqual(['Maren Holt 1']);
  await ines.ask('PATCH', at(talk, `/${id}`), { resolved: true });
  expect(await owed()).toEqual([]);
});

test('a note to oneself is told to nobody else, by no route and no message', async () => {
  const secret = 'Ask at the press whether this may be said.';
  const heard: unknown[] = [];
  const socket = tobias.live();
  await socket.timeout(5000).emitWithAck('join', { manuscript: talk });
  socket.onAny((...message) => heard.push(message));
  // That the talk has changed before is said once more when it has changed often (live/calmly.ts).
  do {
    heard.length = 0;
    await new Promise((resolve) => setTimeout(resolve, 1200));
  } while (heard.length);
  const said = comment(secret);
  const id = await begun(maren, { at: words('above the shore'), toSelf: true }, said);
  await maren.ask('POST', at(talk, `/${id}/comments`), comment(`${secret} Tomorrow.`));
  await maren.ask('PATCH', at(talk), { threads: [id], resolved: true });
  await maren.ask('PATCH', at(talk, `/${id}`), { resolved: false });
  await settled();
  expect(heard).toEqual([]);
  expect(await find(maren, id)).toMatchObject({ toSelf: true, quote: 'above the shore', place: { from: 22, to: 37 } });
  for (const who of [ines, tobias]) {
    for (const path of [
      '/threads',
      '',
      '/ledger',
      '/view',
      '/versions/1',
      '/copies/marked.docx',
      '/copies/threads.jsonld',
    ]) {
      const { body } = await who.ask<unknown>('GET', `/api/manuscripts/${talk}${path}`);
      expect(JSON.stringify(body)).not.toContain(secret);
      expect(JSON.stringify(body)).not.toContain(id);
    }
    for (const [method, path, body] of [
      ['POST', `/${id}/comments`, comment('x')],
      ['PATCH', `/${id}`, { resolved: true }],
      ['PATCH', '', { threads: [id], resolved: true }],
      ['PUT', `/${id}/place`, words('shore')],
      ['PATCH', `/${id}/comments/${said.id}`, { deleted: true }],
    ] as const)
      expect((await who.ask(method, at(talk, path), body)).status).toBe(404);
    expect(JSON.stringify((await who.ask<unknown>('GET', '/api/post')).body)).not.toContain(id);
  }
  // Its place follows the text, also where its words go and come back.
  await text.edit((state) => state.tr.insertText('See: ', 1), 'ink');
  expect((await find(maren, id))!.place).toMatchObject({ from: 27, to: 42 });
  const { from, to } = words('above the shore');
  await text.edit((state) => state.tr.delete(from, to), 'ink');
  expect((await find(maren, id))!.place).toMatchObject({ from: 27, to: 27 });
  await text.edit((state) => state.tr.insertText('above the shore', from), 'ink');
  expect((await find(maren, id))!.place).toMatchObject({ from: 27, to: 42 });
  socket.disconnect();
});

test('a thread whose words have gone stays at its place and is brought to others', async () => {
  const id = await begun(maren, { at: words('lime') });
  await settled();
  const { from, to } = words('lime');
  await text.edit((state) => state.tr.delete(from, to), 'ink');
  expect((await find(ines, id))!).toMatchObject({ quote: 'lime', place: { from, to: from } });
  await text.edit((state) => state.tr.insertText('Look. ', 1), 'ink');
  expect((await find(ines, id))!.place).toMatchObject({ from: from + 6 });
  // Somebody else may bring it back, since it is lost; once it is found it is its author's.
  expect((await tobias.ask('PUT', at(talk, `/${id}/place`), words('kiln'))).status).toBe(204);
  await settled();
  expect(anchors(text.state.doc).has(id)).toBe(true);
  expect(await find(ines, id)).not.toHaveProperty('place');
  expect((await tobias.ask('PUT', at(talk, `/${id}/place`), words('shore'))).status).toBe(403);
  expect(
    (await maren.ask('PUT', at(talk, `/${id}/place`), { ...words('shore'), to: words('shore').from })).body.message,
  ).toMatch(/Select the words/);
});

test('a thread is lost with an accepted deletion, and found again when that is taken back', async () => {
  const id = await begun(maren, { at: words('stands') });
  await settled();
  const { from, to } = words('stands');
  await text.edit((state) => state.tr.delete(from, to));
  expect(anchors(text.state.doc).has(id)).toBe(true);
  const change = listChanges(text.state.doc).at(-1)!.id;
  const { decision } = await text.ask('decide', { changes: [change], verdict: 'accept', client: text.client });
  expect((await find(ines, id))!.place).toMatchObject({ from, to: from });
  await text.ask('takeBack', { decision, client: text.client });
  await settled();
  expect(await find(ines, id)).not.toHaveProperty('place');
  expect(anchors(text.state.doc).has(id)).toBe(true);
  await text.ask('decide', { changes: [change], verdict: 'reject', client: text.client });
});

test('proposed wording becomes a change of who makes it one, once, and resolves the thread', async () => {
  await settled();
  const proposed = comment('Better so?', { proposal: { words: 'overlooks' } });
  const id = await begun(maren, { at: words('stands above') }, proposed);
  await settled();
  const path = at(talk, `/${id}/comments/${proposed.id}/change`);
  expect((await maren.ask('POST', path)).status).toBe(403);
  const { status, body } = await tobias.ask<{ change: string }>('POST', path);
  expect(status).toBe(201);
  await settled();
  const change = listChanges(text.state.doc).find((one) => one.id === body.change)!;
  expect(change).toMatchObject({ author: tobias.id, kind: 'replacement', before: 'stands above', after: 'overlooks' });
  expect(await find(ines, id)).toMatchObject({ resolved: true, turned: { by: tobias.id } });
  expect((await find(ines, id))!.comments[0]!.proposal).toMatchObject({ made: { by: tobias.id, change: change.id } });
  expect((await tobias.ask('POST', path)).status).toBe(409);
  // The thread goes on with the words that came.
  const accepted = decide(new Transform(text.state.doc), [change.id], 'accept').doc;
  const [range] = anchors(accepted).get(id)!;
  expect(accepted.textBetween(range!.from, range!.to)).toBe('overlooks');
  expect(plainText(fairReading(text.state.doc))).toContain('kiln overlooks the shore');
  // Of words that have become other ones since no wording makes a change.
  const other = comment('Or this?', { proposal: { words: 'rock' } });
  const moved = await begun(maren, { at: words('shore') }, other);
  await settled();
  await text.edit((state) => state.tr.insertText('y', words('shore').to - 1), 'ink');
  await settled();
  const refused = await tobias.ask('POST', at(talk, `/${moved}/comments/${other.id}/change`));
  expect([refused.status, refused.body.message]).toEqual([409, expect.stringMatching(/other ones now/)]);
  // For words that are struck out already no wording makes a change.
  const late = comment('Or so?', { proposal: { words: 'rises over' } });
  const struck = await begun(maren, { at: words('stands above') }, late);
  const answer = await tobias.ask('POST', at(talk, `/${struck}/comments/${late.id}/change`));
  expect([answer.status, answer.body.message]).toEqual([409, expect.stringMatching(/struck out already/)]);
});

test('threads are resolved together and opened again; those that were so already are left alone', async () => {
  const ids = [
    await begun(ines, { whole: true }),
    await begun(maren, { whole: true }),
    await begun(ines, { whole: true }),
  ];
  await maren.ask('PATCH', at(talk, `/${ids[1]}`), { resolved: true });
  const all = (resolved: boolean, which = ids) =>
    tobias.ask<{ turned: string[] }>('PATCH', at(talk), { threads: which, resolved });
  const { turned } = (await all(true)).body;
  expect(turned.sort()).toEqual([ids[0], ids[2]].sort());
  expect((await find(ines, ids[1]!))!.turned!.by).toBe(maren.id);
  await all(false, turned);
  expect((await threads(ines)).filter((one) => ids.includes(one.id)).map(({ resolved }) => resolved)).toEqual([
    false,
    true,
    false,
  ]);
});

test('a highlight says nothing until someone does; it is no change, and resolving clears it', async () => {
  const before = listChanges(text.state.doc).length;
  const id = await begun(tobias, { at: words('kiln'), tint: 'sage' }, null);
  await settled();
  expect(await find(ines, id)).toMatchObject({ tint: 'sage', comments: [], quote: 'kiln' });
  expect(listChanges(text.state.doc)).toHaveLength(before);
  expect((await tobias.ask('PATCH', at(talk, `/${id}`), { tint: null })).status).toBe(400);
  await maren.ask('POST', at(talk, `/${id}/comments`), comment('What of it?'));
  expect((await tobias.ask('PATCH', at(talk, `/${id}`), { tint: null })).status).toBe(204);
  expect(await find(ines, id)).not.toHaveProperty('tint');
});

test('whoever has the manuscript open hears that its threads have changed', async () => {
  const socket = ines.live();
  await socket.timeout(5000).emitWithAck('join', { manuscript: talk });
  const heard = new Promise((resolve) => socket.once('changed', resolve));
  await begun(maren, { whole: true });
  expect(await heard).toEqual({ manuscript: talk, what: 'threads' });
  socket.disconnect();
});
