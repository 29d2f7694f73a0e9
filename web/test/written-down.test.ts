import type { Notes } from '../src/live/notes';
import { WrittenDown, type Writable } from '../src/live/written-down';

jest.useFakeTimers();

/** The store of one machine. */
class Machine implements Notes {
  readonly kept = new Map<string, string>();
  full = false;
  /** What the windows that did not do it hear, and when: somewhat later. */
  readonly heard: Parameters<WrittenDown['heard']>[0][] = [];
  #change(key: string, newValue: string | null) {
    const oldValue = this.getItem(key);
    if (newValue === null) this.kept.delete(key);
    else this.kept.set(key, newValue);
    if (oldValue !== newValue) this.heard.push({ key, oldValue, newValue });
  }
  get length() {
    return this.kept.size;
  }
  key = (i: number) => [...this.kept.keys()][i] ?? null;
  getItem = (key: string) => this.kept.get(key) ?? null;
  removeItem = (key: string) => this.#change(key, null);
  setItem = (key: string, value: string) => {
    if (this.full) throw new DOMException('full', 'QuotaExceededError');
    this.#change(key, value);
  };
}

/** A text of which the test says what waits in it. */
class Text implements Writable {
  words = '';
  kept = 'offline';
  readonly #listeners = new Set<() => void>();
  constructor(
    readonly manuscript = 'm',
    readonly me = 'ines',
  ) {}
  subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = () => ({ kept: this.kept });
  hasUnkept = () => this.words !== '';
  unkeptWords = () => this.words;
  is(words: string, kept = this.kept) {
    Object.assign(this, { words, kept });
    for (const listener of this.#listeners) listener();
  }
}

/** A machine, and windows on it that live until they end. */
function machine() {
  const notes = new Machine();
  const living = new Set<string>();
  const open = (name: string) => {
    living.add(name);
    return new WrittenDown(notes, name, () => Promise.resolve(living));
  };
  const tray = (window: WrittenDown, me = 'ines', manuscript = 'm') =>
    window
      .trayOf(me, manuscript)
      .get()
      .map(({ words }) => words);
  return { notes, open, end: (name: string) => living.delete(name), tray };
}

test('what waits when a window ends is in the tray of the next one, until it is closed', async () => {
  const { notes, open, end, tray } = machine();
  const text = new Text();
  open('one').watch(text);
  text.is('low water');
  jest.advanceTimersByTime(1000);
  end('one');
  const next = open('two');
  await next.collect('ines', 'm');
  await next.collect('ines', 'm');
  expect(tray(next)).toEqual(['low water']);
  expect(next.trayOf('ines', 'm').get()[0]!.reason).toMatch(/^Written .+ in a window that ended before/);
  expect(tray(open('three'))).toEqual(['low water']);
  next.trayOf('ines', 'm').set([]);
  expect(tray(open('four'))).toEqual([]);
  expect(notes.kept.size).toBe(0);
});

test('two windows of one person have the same tray: neither writes over what the other has put in it', () => {
  const { notes, open, tray } = machine();
  const [one, two] = [open('one'), open('two')];
  const put = (window: WrittenDown, words: string) => {
    const its = window.trayOf('ines', 'm');
    its.set([...its.get(), { reason: 'refused', words }]);
  };
  /** All windows are told what was done, the one who did it too: that changes nothing. */
  const tell = () => {
    for (let what = notes.heard.shift(); what; what = notes.heard.shift())
      for (const window of [one, two]) window.heard(what);
  };
  expect([tray(one), tray(two)]).toEqual([[], []]);
  put(one, 'low');
  put(two, 'high'); // before it has heard of the other
  tell();
  expect([tray(one), tray(two), tray(open('three'))]).toEqual([
    ['low', 'high'],
    ['low', 'high'],
    ['low', 'high'],
  ]);
  put(two, 'slack');
  one.trayOf('ines', 'm').set([]); // closes what it shows, and has not seen the last
  tell();
  expect([tray(one), tray(two), tray(open('four'))]).toEqual([['slack'], ['slack'], ['slack']]);
  two.trayOf('ines', 'm').set([]);
  tell();
  expect([tray(one), tray(two), notes.kept.size]).toEqual([[], [], 0]);
});

test('what waits in a window that lives is its own, and so is what waits for others and in other manuscripts', async () => {
  const { open, end, tray } = machine();
  const [one, two] = [open('one'), open('two')];
  const texts = [new Text(), new Text('m', 'maren'), new Text('n')];
  for (const text of texts) {
    one.watch(text);
    text.is('words');
  }
  jest.advanceTimersByTime(1000);
  for (const window of [one, two]) await window.collect('ines', 'm');
  expect([tray(one), tray(two)]).toEqual([[], []]);
  end('one');
  await two.collect('ines', 'm');
  expect([tray(two), tray(two, 'maren'), tray(two, 'ines', 'n')]).toEqual([['words'], [], []]);
});

test('where nobody knows which windows live, nothing is taken for left', async () => {
  const { notes, open } = machine();
  const text = new Text();
  open('one').watch(text);
  text.is('words');
  jest.advanceTimersByTime(1000);
  const blind = new WrittenDown(notes, 'two', () => Promise.resolve(null));
  await blind.collect('ines', 'm');
  expect([blind.trayOf('ines', 'm').get(), notes.kept.size]).toEqual([[], 1]);
});

test('what is kept, handed over or left is not written down any more; what is kept at once never is', () => {
  const { notes, open } = machine();
  const window = open('one');
  const text = new Text();
  const close = window.watch(text);
  text.is('quick');
  text.is('', 'kept');
  jest.advanceTimersByTime(1000);
  expect(notes.kept.size).toBe(0);
  text.is('slow', 'offline');
  jest.advanceTimersByTime(1000);
  expect(notes.kept.size).toBe(1);
  text.is('slow', 'gone'); // its words were handed over
  jest.advanceTimersByTime(1000);
  expect(notes.kept.size).toBe(0);
  text.is('again', 'offline');
  window.now(); // nobody waits for a second where the window may end
  expect(notes.kept.size).toBe(1);
  close();
  expect(notes.kept.size).toBe(0);
});

test('nothing stays of who has signed out; a store that is full or damaged stops nobody', async () => {
  const { notes, open, end, tray } = machine();
  const [one, two] = [open('one'), open('two')];
  const text = new Text();
  one.watch(text);
  text.is('words');
  one.now();
  two.trayOf('ines', 'm').set([{ reason: 'refused', words: 'others' }]);
  two.trayOf('maren', 'm').set([{ reason: 'refused', words: 'hers' }]);
  two.forget('ines');
  expect([tray(two), tray(two, 'maren'), notes.kept.size]).toEqual([[], ['hers'], 1]);
  notes.kept.set('waiting ines m zero', '{');
  notes.kept.set('tray ines m', '"words"');
  end('zero');
  const three = open('three');
  await three.collect('ines', 'm');
  expect(tray(three)).toEqual([]);
  notes.full = true;
  three.trayOf('ines', 'm').set([{ reason: 'refused', words: 'more' }]);
  expect(tray(three)).toEqual(['more']);
});
