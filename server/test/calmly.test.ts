import { jest } from '@jest/globals';
import { Calmly } from '../src/live/calmly';

describe('what changes again and again', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  it('is said at once, and once a second where it goes on without end; the last time always', () => {
    const calmly = new Calmly(1000, 5);
    const heard: number[] = [];
    let now = 0;
    const say = (n: number) => calmly.say('talk', () => heard.push(n));
    // Twenty times a second for ten seconds.
    for (; now < 200; now++) {
      say(now);
      jest.advanceTimersByTime(50);
    }
    expect(heard.slice(0, 5)).toEqual([0, 1, 2, 3, 4]);
    expect(heard).toHaveLength(15);
    jest.advanceTimersByTime(1000);
    expect(heard.at(-1)).toBe(199);
    // Something else is another matter.
    calmly.say('people', () => heard.push(-1));
    expect(heard.at(-1)).toBe(-1);
    // After a while of rest it is as at first.
    const before = heard.length;
    jest.advanceTimersByTime(60_000);
    expect(heard).toHaveLength(before);
    for (let n = 0; n < 5; n++) say(n);
    expect(heard).toHaveLength(before + 5);
  });

  it('keeps no clock running once nothing is said', () => {
    const calmly = new Calmly(1000, 5);
    for (let n = 0; n < 3; n++) calmly.say(`text ${n}`, () => undefined);
    expect(jest.getTimerCount()).toBe(3);
    jest.advanceTimersByTime(10_000);
    expect(jest.getTimerCount()).toBe(0);
  });
});
