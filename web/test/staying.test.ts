import type { Hearer, NotTaken } from '../src/live/hearer';
import { Staying, type Leavable } from '../src/live/staying';

/** A text of which the test says how it stands. */
class Text implements Leavable {
  hearer: Hearer | null = null;
  unkept = false;
  kept = 'kept';
  deciding: Promise<unknown> | null = null;
  readonly #listeners = new Set<() => void>();

  constructor(
    readonly manuscript = 'm',
    readonly me = 'ines',
  ) {}

  get isOpen() {
    return this.hearer !== null;
  }
  open(hearer: Hearer) {
    if (this.isOpen) throw new Error('opened twice');
    this.hearer = hearer;
    return () => void (this.hearer = null);
  }
  hear(hearer: Hearer) {
    this.hearer = hearer;
  }
  subscribe(listener: () => void) {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }
  snapshot = () => ({ kept: this.kept });
  hasUnkept = () => this.unkept;
  isDeciding = () => this.deciding !== null;
  decided = () => this.deciding ?? Promise.resolve();
  /** It comes to stand so. */
  is(kept: string, unkept: boolean) {
    Object.assign(this, { kept, unkept });
    for (const listener of this.#listeners) listener();
  }
}

const hearing = () => {
  const notTaken: NotTaken[] = [];
  const hearer: Hearer = {
    say: () => undefined,
    changed: () => undefined,
    signedOut: () => undefined,
    notTaken: (what) => void notTaken.push(what),
  };
  return { hearer, notTaken };
};
const house = () => {
  const said: string[] = [];
  return { said, texts: new Staying<Text>((sentence) => void said.push(sentence)) };
};

test('a text that is kept is closed when it is left, and nothing is said', () => {
  const { texts, said } = house();
  const text = new Text();
  const leave = texts.show(text, hearing().hearer);
  expect([text.isOpen, texts.holdsWords()]).toEqual([true, false]);
  leave();
  expect([text.isOpen, texts.of('m', 'ines'), texts.holdsWords(), said]).toEqual([false, null, false, []]);
});

test('one with words that are not kept stays until they are; who comes back before finds it', () => {
  const { texts, said } = house();
  const text = new Text();
  let leave = texts.show(text, hearing().hearer);
  text.is('offline', true);
  expect(texts.holdsWords()).toBe(true);
  leave();
  expect([text.isOpen, texts.of('m', 'ines'), texts.of('m', 'maren'), texts.of('n', 'ines')]).toEqual([
    true,
    text,
    null,
    null,
  ]);
  expect(said).toEqual([expect.stringContaining('not kept yet')]);

  const back = hearing();
  leave = texts.show(texts.of('m', 'ines')!, back.hearer);
  expect([text.hearer, texts.of('m', 'ines')]).toEqual([back.hearer, null]);
  text.is('kept', false);
  expect(text.isOpen).toBe(true); // it is shown
  text.is('keeping', true);
  leave();
  expect(said).toHaveLength(1); // what is on its way needs no words
  text.is('keeping', true);
  expect(text.isOpen).toBe(true);
  text.is('kept', false);
  expect([text.isOpen, texts.of('m', 'ines'), texts.holdsWords()]).toEqual([false, null, false]);
});

test('what the server refuses after one has left is said, and handed over at the next opening', () => {
  const { texts, said } = house();
  const text = new Text();
  text.unkept = true;
  texts.show(text, hearing().hearer)();
  text.hearer!.notTaken({ reason: 'Sealed.', words: 'Two ships.' });
  text.is('gone', true);
  expect(text.isOpen).toBe(false);
  expect([said.length, texts.holdsWords()]).toEqual([1, true]);
  const other = hearing();
  texts.show(new Text('n'), other.hearer);
  const again = hearing();
  texts.show(new Text(), again.hearer);
  expect([other.notTaken, again.notTaken]).toEqual([[], [{ reason: 'Sealed.', words: 'Two ships.' }]]);
  expect(texts.holdsWords()).toBe(false);
});

test('a decision that is under way is waited for, and whoever signs out leaves nothing', async () => {
  const { texts } = house();
  const text = new Text();
  let decided!: () => void;
  text.deciding = new Promise<void>((done) => (decided = done));
  texts.show(text, hearing().hearer)();
  expect(text.isOpen).toBe(true);
  text.deciding = null;
  decided();
  await Promise.resolve().then(() => undefined);
  expect(text.isOpen).toBe(false);

  const [left, shown] = [new Text(), new Text('n')];
  left.unkept = shown.unkept = true;
  texts.show(left, hearing().hearer)();
  const leave = texts.show(shown, hearing().hearer);
  texts.forget();
  expect([left.isOpen, texts.holdsWords()]).toEqual([false, false]);
  leave();
  expect([shown.isOpen, texts.of('n', 'ines')]).toEqual([false, null]);
});
