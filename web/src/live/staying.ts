import type { Hearer, NotTaken } from './hearer';

/** What of a live text matters when it is left. */
export interface Leavable {
  readonly manuscript: string;
  readonly me: string;
  /** Connects it, until the returned function is called. */
  open(hearer: Hearer): () => void;
  /** From now on somebody else is told. */
  hear(hearer: Hearer): void;
  subscribe(listener: () => void): () => void;
  snapshot(): { kept: string };
  hasUnkept(): boolean;
  isDeciding(): boolean;
  decided(): Promise<unknown>;
}

interface Left<Text> {
  text: Text;
  close(): void;
  unfollow(): void;
}

/** Whether something was written or decided in it that is not kept yet, and still can be. */
const waits = (text: Leavable): boolean => text.snapshot().kept !== 'gone' && (text.hasUnkept() || text.isDeciding());

/**
 * The texts of a window. One that is left with something that is not kept yet stays connected until it is; who comes back
 * before finds it as it was left. What the server refuses meanwhile is handed over when it is shown again.
 */
export class Staying<Text extends Leavable> {
  readonly #shown = new Set<Text>();
  readonly #left = new Map<string, Left<Text>>();
  readonly #notTaken = new Map<string, NotTaken[]>();

  /**
   * @param say says a sentence, wherever in the window one is
   * @param watch looks after a text as long as it is connected, until the returned function is called
   */
  constructor(
    readonly say: (sentence: string) => void,
    readonly watch: (text: Text) => () => void = () => () => undefined,
  ) {}

  /** A text that somebody has left and that is not kept yet. */
  of = (manuscript: string, me: string): Text | null => this.#left.get(`${me} ${manuscript}`)?.text ?? null;

  /** Whether something would be lost with the window. */
  holdsWords = (): boolean => [...this.#shown].some(waits) || this.#left.size > 0 || this.#notTaken.size > 0;

  /** Whoever wrote them has signed out: nothing stays. */
  forget(): void {
    for (const { close, unfollow } of this.#left.values()) {
      unfollow();
      close();
    }
    for (const all of [this.#left, this.#notTaken, this.#shown]) all.clear();
  }

  /** Shows a text to somebody, until the returned function is called. */
  show(text: Text, hearer: Hearer): () => void {
    const key = `${text.me} ${text.manuscript}`;
    const left = this.#left.get(key);
    const close = left?.text === text ? this.#back(key, left, hearer) : this.#open(text, hearer);
    this.#shown.add(text);
    for (const what of this.#notTaken.get(key) ?? []) hearer.notTaken(what);
    this.#notTaken.delete(key);
    return () => {
      if (this.#shown.delete(text) && waits(text)) this.#stay(key, text, close);
      else close();
    };
  }

  #open(text: Text, hearer: Hearer): () => void {
    const close = text.open(hearer);
    const unwatch = this.watch(text);
    return () => {
      close();
      unwatch();
    };
  }

  #back(key: string, { text, close, unfollow }: Left<Text>, hearer: Hearer): () => void {
    unfollow();
    this.#left.delete(key);
    text.hear(hearer);
    return close;
  }

  #stay(key: string, text: Text, close: () => void): void {
    const look = () => {
      const left = this.#left.get(key);
      if (left?.text !== text || waits(text)) return;
      left.unfollow();
      this.#left.delete(key);
      close();
    };
    text.hear({
      say: this.say,
      changed: () => undefined,
      signedOut: () => undefined,
      notTaken: (what) => {
        this.#notTaken.set(key, [...(this.#notTaken.get(key) ?? []), what]);
        this.say('Words of yours were not taken in. They wait where you wrote them: open that manuscript again.');
      },
    });
    this.#left.set(key, { text, close, unfollow: text.subscribe(look) });
    void text.decided().then(look);
    if (['offline', 'waiting'].includes(text.snapshot().kept))
      this.say('What you did last is not kept yet. It waits in this window, and is sent as soon as it can be.');
  }
}
