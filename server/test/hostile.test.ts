import fc from 'fast-check';
import { Fragment, Slice } from 'prosemirror-model';
import type { Transaction } from 'prosemirror-state';
import { ReplaceStep } from 'prosemirror-transform';
import { Client } from 'pg';
import { io } from 'socket.io-client';
import { canonical, listChanges, plainText, record, remarkOf, schema, toDate, type MarkName } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, sharedServer, type Visitor } from './support/server';
import { Writer } from './support/writer';

/** A client that keeps to no rule: every attempt is refused in words, nothing changes, and the server lives on. */

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor; // may decide
let maren: Visitor; // may propose: she is the hostile one
let wrack: string;
beforeAll(async () => {
  server = await sharedServer();
  ines = await demoPerson(server.address, 'ines');
  maren = await demoPerson(server.address, 'maren');
  wrack = await ines.manuscript(/Wrack/);
});
afterAll(() => server.stop());

const now = () => new Date().toISOString().replace(/\.\d+/, '');
const mark = (name: MarkName, attrs: object) =>
  schema.marks[name].create({ change: 'forged', author: maren.id, date: now(), ...attrs });

/** What the server has, before and after. */
async function held() {
  const editor = await new Editor(ines, wrack).open();
  const { version, state } = editor;
  editor.close();
  return { version, text: canonical(state.doc) };
}

test('forged authors, dates, ids and decisions: each refused, nothing changed', async () => {
  const before = await held();
  const m = await new Editor(maren, wrack).open();
  const { doc } = m.state;
  const theirs = listChanges(doc).find(({ author, kind }) => author === ines.id && kind === 'insertion')!;
  const own = listChanges(doc).find(({ author }) => author === maren.id)!;
  const [range] = theirs.ranges as [{ from: number; to: number }];
  const of = theirs.ranges.flatMap(() => doc.nodeAt(range.from)!.marks).find((one) => one.attrs.change === theirs.id)!;
  const { tr } = m.state;
  const put = (attrs: object) => m.state.tr.insert(3, schema.text('x', [mark('insertion', attrs)]));
  /** The steps with something in them that no editor would make. */
  const raw = (made: Transaction, forge: (json: string) => string) => {
    const steps = made.steps.map((step) => JSON.parse(forge(JSON.stringify(step.toJSON()))) as object);
    return m.ask('submit', { version: m.version, steps, intent: 'pencil', client: m.client });
  };
  const attempts: [what: string, answer: Promise<{ refused?: string }>, why: RegExp][] = [
    ['words in another’s name', m.send(put({ author: ines.id }), 'pencil'), /somebody else/],
    ['words in nobody’s name', m.send(put({ author: 'nobody-here' }), 'pencil'), /somebody else/],
    ['a date in the future', m.send(put({ date: '2031-01-01T00:00:00Z' }), 'pencil'), /future/],
    ['a date long ago', m.send(put({ date: '2001-01-01T00:00:00Z' }), 'pencil'), /too long ago/],
    ['a date that is none', raw(put({}), (json) => json.replace(/"date":"[^"]+"/, '"date":"soon"')), /does not fit/],
    ['another’s change id', m.send(put({ change: theirs.id }), 'pencil'), /already in use/],
    ['a new date for a change of one’s own', m.send(put({ change: own.id }), 'pencil'), /already in use/],
    [
      'another’s mark taken off',
      m.send(tr.removeMark(range.from, range.to, of), 'pencil'),
      /other people|without being recorded/,
    ],
    ['words unrecorded', m.send(m.state.tr.insertText('x', 3), 'pencil'), /without being recorded/],
    ['words removed', m.send(m.state.tr.delete(3, 6), 'pencil'), /without being recorded/],
    ['ink', m.send(m.state.tr.insertText('x', 3), 'ink'), /not use ink/],
    [
      'a thread fastened by hand',
      m.send(m.state.tr.addMark(3, 6, m.state.schema.marks.anchor!.create({ thread: 'x' })), 'pencil'),
      /anchors/,
    ],
    [
      'the first opening deleted',
      m.send(m.state.tr.addNodeMark(0, mark('openingDeleted', {})), 'pencil'),
      /first paragraph/,
    ],
    ['accepting one’s own change', m.ask('decide', { changes: [own.id], verdict: 'accept', client: 'c' }), /withdraw/],
    ['rejecting another’s', m.ask('decide', { changes: [theirs.id], verdict: 'reject', client: 'c' }), /withdraw/],
    [
      'one’s own together with another’s',
      m.ask('decide', { changes: [own.id, theirs.id], verdict: 'reject', client: 'c' }),
      /withdraw/,
    ],
    ['a decision there is not', m.ask('takeBack', { decision: 'none', client: 'c' }), /no such decision/],
  ];
  for (const [what, answer, why] of attempts) {
    expect([what, (await answer).refused]).toEqual([what, expect.stringMatching(why)]);
  }
  m.close();
  expect(await held()).toEqual(before);
});

test('a forged date or author cannot be brought in by steps that undo one another', async () => {
  const before = await held();
  const m = await new Editor(maren, wrack).open();
  for (const attrs of [{ author: ines.id }, { date: '2031-01-01T00:00:00Z' }]) {
    const id = `passing-${Object.keys(attrs)[0]}`;
    const passing = m.state.tr.insert(3, schema.text('x', [mark('insertion', { ...attrs, change: id })])).delete(3, 4);
    const answer = await m.send(passing, 'pencil');
    if (attrs.author) expect(answer.refused).toMatch(/in passing/);
    else expect(answer.taken).toBe(true); // in the end nothing was changed, so it may be taken in
    await new Promise((resolve) => setTimeout(resolve, 100));
    const again = m.state.tr.insert(3, schema.text('x', [mark('insertion', { ...attrs, change: id })]));
    expect((await m.send(again, 'pencil')).refused).toMatch(/somebody else|future/);
  }
  m.close();
  expect((await held()).text).toEqual(before.text);
});

test('a manuscript one is no member of: no message reaches it', async () => {
  const foreword = await ines.manuscript(/Foreword/);
  const m = await new Editor(maren, wrack).open();
  const steps = [{ stepType: 'replace', from: 1, to: 2 }];
  const messages: [string, object][] = [
    ['join', {}],
    ['leave', {}],
    ['submit', { version: 0, steps, intent: 'pencil', client: 'c' }],
    ['decide', { changes: ['x'], verdict: 'accept', client: 'c' }],
    ['takeBack', { decision: 'x', client: 'c' }],
  ];
  for (const [name, message] of messages) {
    const closed = await m.ask(name, { ...message, manuscript: foreword });
    const nowhere = await m.ask(name, { ...message, manuscript: 'nowhere' });
    expect([name, closed.refused]).toEqual([name, expect.stringMatching(/no such manuscript/)]);
    expect(closed).toEqual(nowhere);
  }
  // Nor can its people be heard or misled: presence goes only where one has been let in.
  const heard: unknown[] = [];
  const i = await new Editor(ines, foreword).open();
  i.socket.on('presence', (message) => heard.push(message));
  const at = { version: 0, anchor: 0, head: 0, top: 0 };
  m.socket.emit('presence', { manuscript: foreword, client: 'c', at, asks: true });
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(heard).toEqual([]);
  m.close();
  i.close();
});

test('what is no message at all is answered, whatever it is', async () => {
  const before = await held();
  const m = await new Editor(maren, wrack).open();
  const names = ['join', 'submit', 'decide', 'takeBack', 'presence', 'leave'];
  // Presence is answered by nobody; the rest says why it is refused.
  const bodies = fc.sample(fc.oneof(fc.anything({ maxDepth: 3 }), fc.jsonValue()), { numRuns: 60, seed: 4 });
  for (const [k, body] of bodies.entries()) {
    const name = names[k % 4]!;
    const answer = (await m.socket.timeout(5000).emitWithAck(name, body)) as { refused?: string; later?: string };
    expect(answer.refused ?? answer.later).toBeTruthy();
    m.socket.emit('presence', body);
  }
  let deep: object = {};
  for (let i = 0; i < 800; i++) deep = { stepType: 'replace', from: 1, to: 1, slice: { content: [deep] } };
  const strange: object[] = [
    { stepType: '__proto__' },
    { stepType: 'constructor', from: 0, to: 0 },
    { stepType: 'replace', from: -5, to: 3 },
    { stepType: 'replace', from: 1.5, to: 2.5 },
    { stepType: 'replace', from: 3, to: 1 },
    { stepType: 'replaceAround', from: 0, to: 9, gapFrom: 1, gapTo: 2, insert: 0 },
    { stepType: 'attr', pos: 0, attr: 'style', value: { toString: 'x' } },
    { stepType: 'attr', pos: 0, attr: '__proto__', value: {} },
    { stepType: 'docAttr', attr: 'x', value: 1 },
    { stepType: 'addMark', from: 1, to: 4, mark: { type: 'link', attrs: { href: 'javascript:alert(1)' } } },
    deep,
  ];
  for (const step of strange) {
    const answer = await m.ask('submit', { version: m.version, steps: [step], intent: 'pencil', client: 'c' });
    expect([JSON.stringify(step).slice(0, 60), answer.taken]).toEqual([JSON.stringify(step).slice(0, 60), undefined]);
  }
  m.close();
  expect(await held()).toEqual(before);
});

test('words that would run are no words of a manuscript: links go only where links may go', async () => {
  const i = await new Editor(ines, wrack).open();
  for (const href of ['javascript:alert(1)', 'data:text/html,x', 'vbscript:x', ' javascript:x']) {
    const link = schema.marks.link!.create({ href: 'https://harrow.example' }).toJSON() as { attrs: { href: string } };
    link.attrs.href = href;
    const step = { stepType: 'addMark', from: 1, to: 4, mark: link };
    const answer = await i.ask('submit', { version: i.version, steps: [step], intent: 'ink', client: 'c' });
    expect([href, answer.refused]).toEqual([href, expect.any(String)]);
  }
  i.close();
});

test('a message beyond all measure ends its connection, not the server', async () => {
  const m = await new Editor(maren, wrack).open();
  const gone = new Promise((resolve) => m.socket.once('disconnect', resolve));
  m.socket.emit('submit', { manuscript: wrack, steps: ['x'.repeat(9 * 1024 * 1024)] });
  expect(await gone).toMatch(/transport|server/);
  const again = await new Editor(maren, wrack).open();
  expect(await again.type('.')).toMatchObject({ taken: true });
  again.close();
});

test('a flood is told to wait, and is heard again after', async () => {
  const m = await new Editor(maren, wrack).open();
  const asked = Array.from({ length: 900 }, () => m.ask('join', { version: m.version }));
  const answers = (await Promise.all(asked)) as { later?: string }[];
  const waiting = answers.filter(({ later }) => later);
  expect(waiting.length).toBeGreaterThan(200);
  expect(waiting[0]!.later).toMatch(/Too many messages/);
  await new Promise((resolve) => setTimeout(resolve, 5500));
  expect((await m.ask('join', { version: m.version })).later).toBeUndefined();
  m.close();
}, 30_000);

test('what would make a text unreadable for everyone is refused in words: depth, properties, signs', async () => {
  const before = await held();
  const m = await new Editor(maren, wrack).open();
  const nested = (depth: number): object => {
    let inside: object[] = [{ type: 'text', text: 'deep' }];
    for (let i = 0; i < depth; i++)
      inside = [{ type: 'footnote', attrs: { kind: 'foot' }, content: [{ type: 'paragraph', content: inside }] }];
    return { ...inside[0], marks: [mark('insertion', {}).toJSON() as object] };
  };
  const raw = (content: object) =>
    m.ask('submit', {
      version: m.version,
      intent: 'pencil',
      client: m.client,
      steps: [{ stepType: 'replace', from: 3, to: 3, slice: { content: [content] } }],
    });
  const said = (text: string) => raw({ type: 'text', text, marks: [mark('insertion', {}).toJSON() as object] });
  const looks = (was: object, is: object) => {
    const forged = mark('formatting', { order: 1, was, now: is });
    return m.send(m.state.tr.addMark(2, 5, forged), 'pencil');
  };
  expect((await raw(nested(2))).refused).toMatch(/footnote cannot stand in a footnote/);
  expect((await raw(nested(700))).refused).toMatch(/footnote cannot stand in a footnote/);
  expect((await said('a\u0000b')).refused).toMatch(/characters in it that no text can hold/);
  expect((await said('\ud83d')).refused).toMatch(/characters in it that no text can hold/);
  expect((await looks({ style: 'body' }, { style: 'title' })).refused).toMatch(/property that it cannot have/);
  m.close();
  expect(await held()).toEqual(before);
});

test('characters that no text can hold are refused in titles, names and remarks, and left out of what a file is called', async () => {
  const bad = ['a\u0000b', '\ud83dx', '\u0007'];
  for (const text of bad) {
    const answers = await Promise.all([
      ines.ask('POST', '/api/manuscripts', { title: text }),
      ines.ask('PATCH', '/api/me', { name: text, initials: 'IV' }),
      ines.ask('POST', `/api/manuscripts/${wrack}/threads`, {
        id: `bad${bad.indexOf(text)}`,
        whole: true,
        comment: { id: `worse${bad.indexOf(text)}`, body: remarkOf(text) },
      }),
      ines.ask('POST', '/api/sign-in', { login: text, password: text }),
    ]);
    expect(answers.map(({ status }) => status)).toEqual([400, 400, 400, 400]);
    for (const { body } of answers)
      expect(body.message).toMatch(/characters in it that no text can hold|cannot be understood/);
  }
  const form = new FormData();
  form.append('file', new File(['Low\u0000 water\u0007.'], 'Ti\u0085de.txt'));
  const { status, body } = await ines.ask<{ id: string }>('POST', '/api/manuscripts/import', form);
  expect(status).toBe(201);
  const { body: info } = await ines.ask<{ title: string; losses: object[] }>('GET', `/api/manuscripts/${body.id}`);
  expect(info).toMatchObject({ title: 'Tide', losses: [{ what: 'characters that no text can hold', howMany: 2 }] });
  const editor = await new Editor(ines, body.id).open();
  expect(editor.state.doc.textContent).toBe('Low water.');
  editor.close();
});

test('guessing passwords is slowed down', async () => {
  const guess = () => maren.ask('POST', '/api/sign-in', { login: 'tobias', password: 'high water' });
  const answers = await Promise.all(Array.from({ length: 40 }, guess));
  expect(answers.filter(({ status }) => status === 429).length).toBeGreaterThan(5);
  // Nobody whose test comes within the minute is to wait for it.
  const database = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await database.connect();
  await database.query('DELETE FROM rate_limits');
  await database.end();
});

test('a page of another site opens no live connection', async () => {
  const socket = io(server.address, {
    path: '/api/live',
    transports: ['websocket'],
    extraHeaders: { cookie: maren.cookie, origin: 'https://elsewhere.example' },
    forceNew: true,
    reconnection: false,
  });
  await new Promise((resolve) => socket.once('connect_error', resolve));
  expect(socket.connected).toBe(false);
});

test('pages and pictures say what may run in them: nothing that is not ours', async () => {
  const page = await maren.ask<string>('GET', '/');
  const policy = page.headers.get('content-security-policy')!;
  expect(policy).toMatch(/script-src 'self'(;|$)/);
  expect(policy).not.toMatch(/unsafe/);
  const nonce = /'nonce-([^']+)'/.exec(policy)![1]!;
  expect(page.body).toContain(`nonce="${nonce}"`);
  expect((await maren.ask<string>('GET', '/')).headers.get('content-security-policy')).not.toContain(nonce);
  expect(page.headers.get('x-content-type-options')).toBe('nosniff');
  expect(page.headers.get('x-frame-options') ?? policy).toMatch(/SAMEORIGIN|frame-ancestors 'none'/);
});

test('a batch may be large, but stays one batch of one intent', async () => {
  const i = await new Editor(ines, wrack).open();
  const step = new ReplaceStep(1, 1, new Slice(Fragment.empty, 0, 0)).toJSON() as object;
  const many = { version: i.version, steps: Array.from({ length: 20_001 }, () => step), client: 'c' };
  expect((await i.ask('submit', { ...many, intent: 'ink' })).refused).toMatch(/20000/);
  expect((await i.ask('submit', { ...many, steps: [step], intent: 'decision' })).refused).toMatch(/intent/);
  for (const none of ['step', 7, null, [step]]) {
    const { refused } = await i.ask('submit', { ...many, steps: [step, none], intent: 'ink' });
    expect([none, refused]).toEqual([none, expect.stringMatching(/cannot be understood: .*steps/)]);
  }
  for (const bad of [{ ['a\u0000']: 1 }, { deep: [[{ x: 'half \ud83c' }]] }]) {
    const { refused } = await i.ask('submit', { ...many, steps: [step, { ...step, ...bad }], intent: 'ink' });
    expect(refused).toMatch(/^There are characters in it that no text can hold/);
  }
  i.close();
});

test('what is sent in the name of another’s window throws nothing out of it', async () => {
  const writer = await new Writer(ines, wrack).until();
  const forger = await new Editor(maren, wrack).open();
  const heard: string[] = [];
  forger.socket.on('steps', ({ clients }: { clients: string[] }) => heard.push(...clients));
  writer.type('mine ');
  await writer.settled();
  for (let i = 0; !heard.length && i < 100; i++) await new Promise((resolve) => setTimeout(resolve, 20));
  const [itsName] = heard as [string];
  writer.socket.disconnect(); // something of it is on its way only when it is back
  writer.type('kept ');
  const words = forger.state.tr.insertText('forged', forger.state.doc.content.size - 1);
  const stamp = { author: maren.id, date: toDate(new Date()), newChange: () => `forged${Date.now()}` };
  const { steps } = record(forger.state, words, stamp);
  for (const client of [itsName, itsName.split('.')[1]!]) {
    const message = {
      version: forger.version,
      steps: steps.map((step) => step.toJSON() as object),
      intent: 'pencil',
      client,
    };
    await forger.ask('submit', message);
  }
  writer.socket.connect();
  await writer.settled();
  expect(writer.notTaken).toEqual([]);
  expect(plainText(writer.doc)).toMatch(/mine .*kept /);
  forger.close();
  writer.close();
});

test('a past version ends where a batch ends: what was only on the way there is shown to nobody', async () => {
  const before = await held();
  const m = await new Editor(maren, wrack).open();
  const on = m.version;
  const words = m.state.tr
    .insertText('A whole lie, for a moment. ', 1)
    .delete(1, 28)
    .insertText('Three ', 1)
    .insertText('words ', 7);
  const own = mark('insertion', { change: 'three-words' });
  const steps = words.steps.map(
    (step) =>
      JSON.parse(
        JSON.stringify(step.toJSON()).replace(
          /"type":"text"/g,
          `"type":"text","marks":[${JSON.stringify(own.toJSON())}]`,
        ),
      ) as object,
  );
  const answer = await m.ask('submit', { version: on, steps, intent: 'pencil', client: m.client });
  expect(answer).toMatchObject({ taken: true, version: on + steps.length });
  const at = async (version: number) =>
    (await ines.ask<{ version: number; doc: object }>('GET', `/api/manuscripts/${wrack}/versions/${version}`)).body;
  for (let version = on; version <= on + steps.length; version++) {
    const { version: end, doc } = await at(version);
    expect([version, end]).toEqual([version, version < on + steps.length ? on : version]);
    expect(JSON.stringify(doc)).not.toContain('A whole lie');
  }
  expect(canonical(schema.nodeFromJSON((await at(on)).doc))).toEqual(before.text);
  const listed = listChanges(schema.nodeFromJSON((await at(on + steps.length)).doc)).map(({ id }) => id);
  expect(listed).toContain('three-words');
  // The text is as it was for whoever comes next.
  const withdrawn = { changes: ['three-words'], verdict: 'reject', client: m.client };
  expect((await m.ask('decide', withdrawn)).taken).toBe(true);
  m.close();
  expect((await held()).text).toEqual(before.text);
});
