import { jest } from '@jest/globals';
import { Transform } from 'prosemirror-transform';
import { schema, weightOf } from '@tea-pencil/core';
import { HeldTexts } from '../src/live/held-texts';
import { OpenText } from '../src/live/open-text';

const textOf = (letters: number) =>
  new OpenText(schema.node('doc', null, [schema.node('paragraph', null, [schema.text('x'.repeat(letters))])]), 0);
const one = weightOf(textOf(1000).doc);

/** Texts of a thousand letters each, of which three can be held; and a note of which were read. */
function three() {
  const read: string[] = [];
  const busy = new Set<string>();
  const held = new HeldTexts(
    (manuscript) => {
      read.push(manuscript);
      return manuscript === 'unread'
        ? Promise.reject(new Error('away'))
        : Promise.resolve(manuscript === 'none' ? null : textOf(1000));
    },
    (manuscript) => busy.has(manuscript),
    one * 3.5,
  );
  const ask = async (...manuscripts: string[]) => {
    for (const manuscript of manuscripts) {
      jest.advanceTimersByTime(10);
      await held.get(manuscript);
    }
  };
  const which = () => [...'abcdef'].filter(held.has).join('');
  return { held, busy, read, ask, which };
}

describe('the texts that a process holds', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  it('are those that were asked for last, as many as there is room for', async () => {
    const { ask, which, read } = three();
    await ask('a', 'b', 'c', 'a');
    expect(read.join('')).toBe('abc');
    await ask('d');
    expect(which()).toBe('acd');
    await ask('e', 'a');
    expect(which()).toBe('ade');
    await ask('b');
    expect(which()).toBe('abe');
    expect(read.join('')).toBe('abcdeb');
  });

  it('stay while somebody works with them, and the one that is asked for always does', async () => {
    const { held, busy, ask, which } = three();
    for (const manuscript of 'abc') busy.add(manuscript);
    await ask('a', 'b', 'c', 'd');
    expect(which()).toBe('abcd');
    busy.clear();
    await ask('e');
    expect(which()).toBe('cde');
    // One that has grown beyond everything.
    const text = await held.get('e');
    text!.take(new Transform(text!.doc).insert(1, schema.text('y'.repeat(9000))), 'window');
    await ask('f');
    expect(which()).toBe('f');
  });

  it('are let go when nobody asks for them for ten minutes', async () => {
    const { held, busy, ask, which } = three();
    await ask('a', 'b', 'c');
    busy.add('c');
    jest.advanceTimersByTime(6 * 60_000);
    await ask('b');
    // To look whether it is there is not to ask for it.
    expect((await held.atHand('a'))?.version).toBe(0);
    jest.advanceTimersByTime(5 * 60_000);
    expect(which()).toBe('bc');
    expect(await held.atHand('a')).toBeNull();
    held.stop();
    jest.advanceTimersByTime(60 * 60_000);
    expect(which()).toBe('bc');
  });

  it('are read anew where they were not there, could not be read, or are to be', async () => {
    const { held, ask, read } = three();
    expect(await held.get('none')).toBeNull();
    expect(await held.get('none')).toBeNull();
    await expect(held.get('unread')).rejects.toThrow('away');
    await expect(held.get('unread')).rejects.toThrow('away');
    await ask('a');
    held.forget('a');
    await ask('a');
    expect(read).toEqual(['none', 'none', 'unread', 'unread', 'a', 'a']);
    expect(await held.atHand('unread')).toBeNull();
  });
});
