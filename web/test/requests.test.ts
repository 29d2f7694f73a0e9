import { Refused, requestOnce } from '../src/api/client';

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
