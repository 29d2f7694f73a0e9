import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { Refused, requestOnce } from '../src/api/client';
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
