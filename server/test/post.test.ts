import { Client } from 'pg';
import { listChanges, remarkOf, type Remark } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, ownDatabase, startServer, Visitor, type Running } from './support/server';

let url: string;
let server: Running;
let ines: Visitor;
let maren: Visitor;
let alba: Visitor;
let id: string;
beforeAll(async () => {
  // Mail goes out when nothing has come for a second.
  url = await ownDatabase('post', 'the demo');
  server = await startServer(undefined, { TEA_PENCIL_MAIL_PAUSE: '1', TEA_PENCIL_DATABASE_URL: url });
  [ines, maren, alba] = (await Promise.all(
    ['ines', 'maren', 'alba'].map((login) => demoPerson(server.address, login)),
  )) as [Visitor, Visitor, Visitor];
  const all = Object.fromEntries(['mention', 'query', 'reply', 'decision', 'invitation'].map((kind) => [kind, 'mail']));
  for (const who of [maren, alba]) {
    await who.ask('PATCH', '/api/post', { read: true });
    await who.ask('PATCH', '/api/post/kinds', all);
  }
  id = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Post <1>' })).body.id;
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${maren.id}`, { role: 'proposer' });
});
afterAll(() => server.stop());

interface Notice {
  id: string;
  kind: string;
  read: boolean;
  manuscript: { id: string };
  actor: { name: string };
  thread?: { id: string };
  comment?: { body: Remark };
  decided?: { accepted: number; rejected: number; words: string[] };
}
interface Post {
  unread: number;
  notices: Notice[];
  choice: Record<string, string>;
}
interface Mail {
  id: string;
  subject: string;
  plain: string;
  recipient: string;
}
let n = 0;
const post = async (who: Visitor) => (await who.ask<Post>('GET', '/api/post')).body;
/** The notices about this test's manuscript, the newest first. */
const about = async (who: Visitor) => (await post(who)).notices.filter(({ manuscript }) => manuscript.id === id);
const say = (who: Visitor, thread: string, body: Remark, more: object = {}) =>
  who.ask('POST', `/api/manuscripts/${id}/threads/${thread}/comments`, { id: `post${++n}`, body, ...more });
async function begin(who: Visitor, words: string, more: object = {}) {
  const thread = `post${++n}`;
  const comment = { id: `post${++n}`, body: remarkOf(words), ...more };
  await who.ask('POST', `/api/manuscripts/${id}/threads`, { id: thread, whole: true, comment });
  return { thread, comment: comment.id };
}
const mentioning = (person: string, words: string): Remark => ({
  type: 'doc',
  content: [
    {
      type: 'line',
      attrs: { list: null },
      content: [
        { type: 'mention', attrs: { person } },
        { type: 'text', text: words },
      ],
    },
  ],
});

async function until<T>(ask: () => Promise<T>, good: (found: T) => boolean): Promise<T> {
  for (let i = 0; ; i++) {
    const found = await ask();
    if (good(found)) return found;
    if (i > 80) throw new Error(`never came: ${JSON.stringify(found)}`);
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
const mails = async (who: Visitor) => (await who.ask<{ mails: Mail[] }>('GET', '/api/outbox')).body.mails;

test('each kind comes to whom it concerns, once, and not to who did it', async () => {
  expect((await about(maren)).map(({ kind }) => kind)).toEqual(['invitation']);
  const { thread } = await begin(ines, 'Which weed?', { query: { to: maren.id } });
  expect((await about(maren))[0]).toMatchObject({
    kind: 'query',
    actor: { name: 'Ines Vega' },
    thread: { id: thread },
  });
  await say(maren, thread, remarkOf('Wrack.'));
  expect((await about(ines))[0]).toMatchObject({ kind: 'reply', comment: { body: remarkOf('Wrack.') } });
  await say(ines, thread, mentioning(maren.id, ', thank you.'));
  expect((await about(maren))[0]).toMatchObject({ kind: 'mention' });
  expect((await about(maren)).filter(({ kind }) => kind === 'reply')).toEqual([]);
  expect((await about(ines)).filter(({ kind }) => kind === 'mention')).toEqual([]);
  const { unread, notices } = await post(maren);
  expect(unread).toBe(notices.filter(({ read }) => !read).length);
});

test('decisions that follow one another make one notice, and one taken back is none', async () => {
  // What has gone out as mail is not added to; here nothing goes out.
  const { choice } = await post(maren);
  await maren.ask('PATCH', '/api/post/kinds', { ...choice, decision: 'post' });
  const writer = await new Editor(maren, id).open();
  const keeper = await new Editor(ines, id).open();
  const typed: string[] = [];
  for (const word of ['One. ', 'Two. ', 'Three. ']) {
    await writer.edit((state) => state.tr.insertText(word, state.doc.content.size - 1), 'pencil');
    typed.push(listChanges(writer.state.doc).at(-1)!.id);
    await keeper.edit((state) => state.tr.insertText('·', state.doc.content.size - 1), 'ink');
  }
  const decide = async (change: string, verdict: string) =>
    (await keeper.ask('decide', { changes: [change], verdict, client: keeper.client })).decision as string;
  const first = await decide(typed[0]!, 'accept');
  await decide(typed[1]!, 'reject');
  const mine = () => about(maren).then((all) => all.filter(({ kind }) => kind === 'decision'));
  // Which of two in a row is told first is not said.
  const [notice] = await until(mine, ([one]) => one?.decided?.rejected === 1 && one.decided.accepted === 1);
  expect(notice).toMatchObject({ decided: { accepted: 1, rejected: 1 }, actor: { name: 'Ines Vega' } });
  expect(notice!.decided!.words).toEqual(expect.arrayContaining(['One. ', 'Two. ']));
  await keeper.ask('takeBack', { decision: first, client: keeper.client });
  await until(mine, ([one]) => one?.decided?.accepted === 0);
  // Withdrawing one's own is nobody's news.
  await writer.ask('decide', { changes: [typed[2]], verdict: 'reject', client: writer.client });
  expect((await mine()).length).toBe(1);
  await maren.ask('PATCH', '/api/post/kinds', choice);
  writer.close();
  keeper.close();
});

test('what is read is marked, what is deleted goes, and what one does not want does not come', async () => {
  const { thread, comment } = await begin(ines, 'x', { query: { to: maren.id } });
  const [newest] = await about(maren);
  await maren.ask('PATCH', '/api/post', { notices: [newest!.id], read: true });
  expect((await about(maren))[0]).toMatchObject({ id: newest!.id, read: true });
  await ines.ask('PATCH', '/api/post', { notices: [newest!.id], read: false }); // not hers
  expect((await about(maren))[0]).toMatchObject({ read: true });
  await maren.ask('PATCH', '/api/post', { notices: [newest!.id], read: false });
  await ines.ask('PATCH', `/api/manuscripts/${id}/threads/${thread}/comments/${comment}`, { deleted: true });
  expect((await about(maren)).some((one) => one.id === newest!.id)).toBe(false);
  const { choice } = await post(maren);
  expect((await maren.ask('PATCH', '/api/post/kinds', { ...choice, query: 'nothing' })).status).toBe(204);
  expect((await maren.ask('PATCH', '/api/post/kinds', { ...choice, query: 'pigeon' })).status).toBe(400);
  const before = await about(maren);
  await begin(ines, 'y', { query: { to: maren.id } });
  expect(await about(maren)).toEqual(before);
  // Two kinds chosen at the same moment, in two windows, are both chosen.
  await Promise.all(
    [{ reply: 'nothing' }, { mention: 'post' }].map((part) => maren.ask('PATCH', '/api/post/kinds', part)),
  );
  expect((await post(maren)).choice).toEqual({ ...choice, query: 'nothing', reply: 'nothing', mention: 'post' });
  await maren.ask('PATCH', '/api/post/kinds', choice);
});

test('a burst becomes one mail, plain and in HTML, with nothing from outside in it', async () => {
  await until(
    () => mails(maren),
    (all) => all.some(({ subject }) => subject.includes('Post <1>')),
  );
  const before = await mails(maren);
  // What has been read in the app is in no mail; only the burst is left.
  await maren.ask('PATCH', '/api/post', { read: true });
  for (const words of ['First <b>question</b>', 'Second', 'Third'])
    await begin(ines, words, { query: { to: maren.id } });
  const [mail, ...older] = await until(
    () => mails(maren),
    (all) => all[0]!.plain.includes('First <b>question</b>'),
  );
  // What came in the tests before may have been on its way when it was marked as read.
  expect(older.slice(-before.length)).toEqual(before);
  expect(mail).toMatchObject({
    subject: 'Post <1>: 3 things for you',
    recipient: 'Maren Holt <maren@harrow-press.example>',
  });
  expect(mail!.plain).toMatch(/Ines Vega asks you[\s\S]+First <b>question<\/b>[\s\S]+Second[\s\S]+Third/);
  expect(mail!.plain).toContain(`/m/${id}?thread=`);
  const page = await maren.ask<string>('GET', `/api/outbox/${mail!.id}/html`);
  expect(page.headers.get('content-security-policy')).toMatch(/default-src 'none'.*sandbox/);
  expect(page.body).toContain('First &lt;b&gt;question&lt;/b&gt;');
  expect(page.body).not.toMatch(/<img|<script|<link|url\(/);
  for (const who of [ines, new Visitor(server.address)])
    expect((await who.ask('GET', `/api/outbox/${mail!.id}/html`)).status).toBe(who === ines ? 404 : 401);
});

test('what was read in the app goes out no more', async () => {
  const before = (await mails(maren)).length;
  await begin(ines, 'Read at once', { query: { to: maren.id } });
  await maren.ask('PATCH', '/api/post', { read: true });
  await begin(ines, 'Not read', { query: { to: maren.id } });
  const [mail] = await until(
    () => mails(maren),
    (all) => all.length > before,
  );
  expect(mail!.plain).toContain('Not read');
  expect(mail!.plain).not.toContain('Read at once');
});

test('who is none of the people any more has no post of the manuscript', async () => {
  await ines.ask('PUT', `/api/manuscripts/${id}/members/${alba.id}`, { role: 'remarker' });
  await begin(ines, 'For Alba alone', { query: { to: alba.id } });
  expect(await about(alba)).toHaveLength(2);
  await ines.ask('DELETE', `/api/manuscripts/${id}/members/${alba.id}`);
  expect(await about(alba)).toEqual([]);
  await new Promise((resolve) => setTimeout(resolve, 2500));
  expect((await mails(alba)).some(({ plain }) => plain.includes('For Alba alone'))).toBe(false);
});

test('a portrait can be set, is a picture and nothing else, and can be taken away again', async () => {
  const pixel = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
    'base64',
  );
  const set = (name: string, bytes: BlobPart) => {
    const form = new FormData();
    form.append('file', new File([bytes], name));
    return maren.ask('PUT', '/api/me/portrait', form);
  };
  const seen = () => ines.ask<ArrayBuffer>('GET', `/api/people/${maren.id}/portrait`);
  expect((await seen()).status).toBe(404);
  expect((await set('me.svg', '<svg onload="alert(1)"/>')).body.message).toMatch(/“me.svg” is not a picture/);
  expect((await set('me.png', Buffer.alloc(3 * 1024 * 1024))).status).toBe(413);
  expect((await set('me.png', pixel)).status).toBe(204);
  const { status, headers } = await seen();
  expect([status, headers.get('content-type')]).toEqual([200, 'image/png']);
  const people = (
    await ines.ask<{ people: { id: string; portrait: string | null; mail?: string }[] }>(
      'GET',
      `/api/manuscripts/${id}`,
    )
  ).body;
  const her = people.people.find((person) => person.id === maren.id)!;
  expect(her.portrait).toEqual(expect.any(String));
  expect(her.mail).toBeUndefined(); // where mail goes is nobody else's business
  expect((await maren.ask<{ me: { mail: string } }>('GET', '/api/me')).body.me.mail).toBe('maren@harrow-press.example');
  expect((await maren.ask('PATCH', '/api/me', { mail: 'nowhere' })).body.message).toMatch(/no address/);
  expect((await maren.ask('DELETE', '/api/me/portrait')).status).toBe(204);
  expect((await seen()).status).toBe(404);
});

test('that there is post is told once it is kept, not before', async () => {
  const database = new Client({ connectionString: url });
  await database.connect();
  // Committing a notice takes a while; who is told before that asks in vain.
  await database.query(`
    CREATE FUNCTION take_long() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM pg_sleep(0.4); RETURN NULL; END $$;
    CREATE CONSTRAINT TRIGGER take_long AFTER INSERT ON notices DEFERRABLE INITIALLY DEFERRED
      FOR EACH ROW EXECUTE FUNCTION take_long()`);
  const socket = maren.live();
  await new Promise((resolve) => socket.once('connect', () => resolve(null)));
  const found = new Promise<boolean>((resolve) =>
    socket.on('changed', ({ what }: { what: string }) => {
      if (what === 'post')
        void about(maren).then((all) => resolve(all.some(({ comment }) => comment && isWhen(comment))));
    }),
  );
  const isWhen = ({ body }: { body: Remark }) => JSON.stringify(body).includes('Told when?');
  await begin(ines, 'Told when?', { query: { to: maren.id } });
  expect(await found).toBe(true);
  socket.disconnect();
  await database.query('DROP FUNCTION take_long CASCADE');
  await database.end();
});
