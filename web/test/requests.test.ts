import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { Refused, requestOnce, sendFile, sendForm } from '../src/api/client';
import { fetchAgain } from '../src/api/fetch-again';

/** A server that does what it is asked, of whose answers some are lost. */
function serverLosing(...lost: ('request' | 'answer')[]) {
  const kept: string[] = [];
  const fetched = jest.fn((_: string, { body }: { body: string }) => {
    const { id } = JSON.parse(body) as { id: string };
    const what = lost.shift();
    if (what === 'request') return Promise.reject(new TypeError('network'));
    const known = kept.includes(id);
    if (!known) kept.push(id);
    if (what === 'answer') return Promise.reject(new TypeError('network'));
    const words = known ? '{"message":"This comment has been kept already."}' : '';
    const headers = { 'content-type': 'application/json' };
    return Promise.resolve(new Response(words, { status: known ? 409 : 201, headers }));
  });
  global.fetch = fetched as unknown as typeof fetch;
  return { kept, fetched };
}

/** What comes of it, once the pauses have passed. */
async function outcome(asked: Promise<void>): Promise<string> {
  const came = asked.then(
    () => 'kept',
    (problem: Refused) => problem.message,
  );
  await jest.advanceTimersByTimeAsync(20_000);
  return came;
}

const { fetch } = global;
beforeEach(() => void jest.useFakeTimers());
afterEach(() => {
  jest.useRealTimers();
  global.fetch = fetch;
});

test('a comment whose answer is lost is kept once, and so it is said', async () => {
  const { kept, fetched } = serverLosing('request', 'answer');
  expect(await outcome(requestOnce('/threads', { id: 'mine' }))).toBe('kept');
  expect(kept).toEqual(['mine']);
  expect(fetched).toHaveBeenCalledTimes(3);
});

test('what never arrives is said after a while, and an id that was somebody’s before is refused at once', async () => {
  const { kept, fetched } = serverLosing('request', 'request', 'request', 'request', 'request');
  expect(await outcome(requestOnce('/threads', { id: 'mine' }))).toMatch(/^No answer came/);
  expect(kept).toEqual([]);
  expect(fetched).toHaveBeenCalledTimes(4);
  const other = serverLosing();
  other.kept.push('mine');
  expect(await outcome(requestOnce('/threads', { id: 'mine' }))).toBe('This comment has been kept already.');
  expect(other.fetched).toHaveBeenCalledTimes(1);
});

/** Sending that breaks off, before or after the whole file has gone. */
function breaksOff(gone: boolean) {
  class Sending {
    upload: { onload?: () => void } = {};
    onerror = () => {};
    open() {}
    send() {
      if (gone) this.upload.onload!();
      this.onerror();
    }
  }
  global.XMLHttpRequest = Sending as unknown as typeof XMLHttpRequest;
}

test('of a file that was sent whole nobody says that it was not, though no answer came', async () => {
  const send = () => sendFile('/returned', new File(['x'], 'Tides.docx'), () => {}, new AbortController().signal);
  breaksOff(false);
  await expect(send()).rejects.toThrow(/^“Tides.docx” could not be sent/);
  breaksOff(true);
  await expect(send()).rejects.toThrow(/^“Tides.docx” was sent, but no answer came/);
  global.fetch = () => Promise.reject(new TypeError('network'));
  await expect(sendForm('/collations', new FormData(), new AbortController().signal)).rejects.toThrow(
    /^No answer came/,
  );
});

test('what stands before the server and gets no answer from it is no answer (RFC 9110, 15.6): it is asked again', async () => {
  const { kept, fetched } = serverLosing();
  global.fetch = jest.fn((...asked: unknown[]) => {
    const far = jest.mocked(global.fetch).mock.calls.length;
    if (far === 2) void (fetched as jest.Mock)(...asked); // the server has it, and its answer is lost
    const page = new Response('<h1>Bad Gateway</h1>', { status: 502, headers: { 'content-type': 'text/html' } });
    return far < 3 ? Promise.resolve(page) : (fetched as unknown as typeof fetch)(...(asked as [string]));
  });
  expect(await outcome(requestOnce('/threads', { id: 'mine' }))).toBe('kept');
  expect(kept).toEqual(['mine']);
  expect(global.fetch).toHaveBeenCalledTimes(3);
  // What the server says itself stands.
  const busy = new Response('{"message":"Very much is asked."}', {
    status: 503,
    headers: { 'content-type': 'application/json' },
  });
  global.fetch = () => Promise.resolve(busy);
  expect(await outcome(requestOnce('/threads', { id: 'mine' }))).toBe('Very much is asked.');
});

test.each(['first', 'second'])(
  'where the answer to the %s fetch never comes, it is asked for once more',
  async (which) => {
    const queries = new QueryClient();
    let asked = 0;
    const watched = new QueryObserver(queries, {
      queryKey: ['threads', 'one'],
      queryFn: () => (++asked === (which === 'first' ? 1 : 2) ? new Promise<number>(() => {}) : asked),
    });
    const leave = watched.subscribe(() => {});
    await jest.advanceTimersByTimeAsync(100);
    void fetchAgain(queries, ['threads', 'one']);
    await jest.advanceTimersByTimeAsync(100);
    void fetchAgain(queries, ['threads', 'one']);
    await jest.advanceTimersByTimeAsync(59_000);
    expect(asked).toBe(which === 'first' ? 1 : 2);
    await jest.advanceTimersByTimeAsync(2000);
    expect(watched.getCurrentResult().data).toBe(which === 'first' ? 2 : 3);
    leave();
    queries.clear();
  },
);

test('what changes oftener than it can be fetched comes all the same, and in the end it is the newest', async () => {
  const queries = new QueryClient();
  let newest = 0;
  const shown: number[] = [];
  const watched = new QueryObserver(queries, {
    queryKey: ['threads', 'one'],
    queryFn: async () => {
      const told = newest;
      await new Promise((done) => setTimeout(done, 2500));
      return told;
    },
  });
  const leave = watched.subscribe(({ data }) => void (data !== undefined && data !== shown.at(-1) && shown.push(data)));
  await jest.advanceTimersByTimeAsync(3000);
  for (; newest < 20; newest++) {
    void fetchAgain(queries, ['threads', 'one']);
    await jest.advanceTimersByTimeAsync(1000);
  }
  expect(shown.length).toBeGreaterThan(5);
  void fetchAgain(queries, ['threads', 'one']);
  await jest.advanceTimersByTimeAsync(6000);
  expect(shown.at(-1)).toBe(20);
  leave();
  queries.clear();
});
