import { AskingLater } from '../src/live/asking-later';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('a server that cannot keep anything is asked again soon at first, then less often, and soon again once it could', async () => {
  const at: number[] = [];
  const asking = new AskingLater(() => true);
  const began = Date.now();
  const ask = async () => {
    at.push((Date.now() - began) / 1000);
    asking.again(ask);
  };
  asking.again(ask);
  await jest.advanceTimersByTimeAsync(60_000);
  expect(at).toEqual([1.5, 3, 4.5, 6, 7.5, 10.5, 16.5, 28.5, 43.5, 58.5]);
  asking.done();
  await jest.advanceTimersByTimeAsync(20_000);
  expect(at.slice(-5)).toEqual([73.5, 75, 76.5, 78, 79.5]);
});

test('without a connection it is not asked: whoever comes back begins by joining', async () => {
  let connected = false;
  const asked = jest.fn(() => Promise.resolve());
  const asking = new AskingLater(() => connected);
  asking.again(asked);
  await jest.advanceTimersByTimeAsync(5000);
  connected = true;
  await jest.advanceTimersByTimeAsync(60_000);
  expect(asked).not.toHaveBeenCalled();
});
