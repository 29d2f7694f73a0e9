import { collab, getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab';
import { history } from 'prosemirror-history';
import { Node } from 'prosemirror-model';
import { EditorState, type Plugin, type Transaction } from 'prosemirror-state';
import { Mapping, Step } from 'prosemirror-transform';
import { nanoid } from 'nanoid';
import { clientOf, sameValue, schema, stayed, toDate, type Stamp } from '@tea-pencil/core';
import type { Joined, Missed, Outcome, Steps, WholeText } from '@tea-pencil/wire';
import { Listeners } from '../kit/listeners';
import { AskingLater } from './asking-later';
import { batchesOf, corrected, wordsIn, type Batch } from './batches';
import { Channel, type Heard } from './channel';
import { HeldSteps } from './held-steps';
import { nobody, type Hearer } from './hearer';
import { Places } from './places';

/** How a text stands to the server. */
export type Kept = 'opening' | 'kept' | 'keeping' | 'waiting' | 'offline' | 'gone';

/** A text as it is at a moment. */
export interface Synced {
  state: EditorState | null;
  kept: Kept;
  /** Why the manuscript cannot be shown; where it waits, why what is written is not kept yet. */
  problem: string | null;
}

/** How long one waits before asking again what was lost on the way. */
const lostPause = 1500;

/**
 * With so many own steps on their way, what others do is taken in together, now and then: own steps are carried over a
 * hundred of their letters in the time that one would take.
 */
const manyOwn = 100;

/** The JSON of a text as it was sent (RFC 1952, gzip). */
const unpacked = (bytes: Uint8Array): Promise<unknown> =>
  new Response(new Blob([new Uint8Array(bytes)]).stream().pipeThrough(new DecompressionStream('gzip'))).json();

/**
 * A manuscript's text and its exchange of steps with the server: what comes is taken in, what is written is sent until
 * it is kept. What the server does not take in is handed over to be copied, always.
 */
export class SyncedText<Shown extends Synced> {
  protected snapshotNow: Shown;
  readonly #listeners = new Listeners();
  /** What this window calls itself, and the client that it is to everyone. */
  protected readonly window = nanoid(12);
  protected readonly client: string;
  protected readonly channel: Channel;
  /** Where the others are. */
  readonly places: Places;
  #sending = false;
  /** How many own steps the last batch had that was sent. */
  #sent = 0;
  readonly #held = new HeldSteps((missed) => this.#takeIn(missed));
  /** The version with which the server has taken in what was sent: until it is here, what was sent stays as it is. */
  #takenAt = 0;
  /** The text as the server is known to have it, without what is not kept yet. */
  #base: Node | null = null;
  /** Whether what is not kept yet has been carried over what others did. */
  #carried = false;
  readonly #asking = new AskingLater(() => this.channel.connected);
  #toldSignedOut = false;
  protected hearer: Hearer = nobody;

  constructor(
    first: Shown,
    readonly manuscript: string,
    readonly me: string,
    readonly plugins: () => Plugin[],
    connect?: ConstructorParameters<typeof Channel>[2],
  ) {
    this.snapshotNow = first;
    this.client = clientOf(me, this.window);
    const heard: Heard = {
      connect: () => void this.#join(),
      lost: () => {
        this.#mark('offline');
        this.places.lost();
      },
      steps: (message) => this.#receive(message),
      presence: (message) => this.places.hear(message),
      gone: (client) => this.places.gone(client),
      changed: (what) => this.hearer.changed(what),
      removed: (problem) => this.#close(problem),
      signedOut: () => this.#signedOut(),
    };
    this.channel = new Channel(manuscript, heard, connect);
    this.places = new Places(this.client, this.window, this.channel, () => this.snapshotNow.state);
  }

  /** From now on somebody else is told. */
  hear(hearer: Hearer): void {
    this.hearer = hearer;
  }

  /** Connects, and stays connected until closed. */
  open(hearer: Hearer): () => void {
    this.hear(hearer);
    const close = this.channel.open();
    const forget = this.places.open();
    return () => {
      forget();
      close();
    };
  }

  subscribe = this.#listeners.add;
  snapshot = (): Shown => this.snapshotNow;

  /** The version the text is at, once all that was written here is kept; null before. */
  keptVersion(): number | null {
    const { state } = this.snapshotNow;
    return state && !sendableSteps(state) ? getVersion(state) : null;
  }

  readonly #mapped = new Listeners<[Mapping]>();
  /** Calls back with how positions have moved, whoever edited. */
  onMapping = this.#mapped.add;

  readonly #before = new Listeners();
  /** Calls back before anything of others’ is taken in. */
  beforeOthers = this.#before.add;

  /** Shows something else of it. */
  protected show(part: Partial<Shown>): void {
    this.snapshotNow = { ...this.snapshotNow, ...part };
    this.#listeners.tell();
  }

  #mark(kept: Kept): void {
    this.show({ kept, problem: null } as Partial<Shown>);
  }

  protected stamp = (): Stamp => ({ author: this.me, date: toDate(new Date()), newChange: () => nanoid(12) });

  /** Applies what was written here, and sends it. */
  protected apply(before: EditorState, tr: Transaction): void {
    const state = before.apply(tr);
    if (tr.docChanged) this.#mapped.tell(tr.mapping);
    this.#stand(state);
    void this.#send();
  }

  #stand(state: EditorState): void {
    const waiting = sendableSteps(state) !== null;
    if (!waiting) {
      this.#base = state.doc;
      this.#carried = false;
    }
    const { kept } = this.snapshotNow;
    const held = kept === 'offline' || (kept === 'waiting' && waiting);
    this.show({ state, kept: held ? kept : waiting ? 'keeping' : 'kept' } as Partial<Shown>);
    this.places.moved();
  }

  async #join(): Promise<void> {
    const { state } = this.snapshotNow;
    const from = state ? { version: getVersion(state) } : {};
    const joined = await this.channel.ask<Joined>('join', { ...from, client: this.window });
    if (!joined) {
      // Lost on the way, though the connection stands: asked again.
      setTimeout(() => this.channel.connected && void this.#join(), lostPause);
      return;
    }
    if ('refused' in joined) return this.#close(joined.refused);
    if ('later' in joined) return this.#later(joined.later, () => this.#join());
    this.#asking.done();
    this.#toldSignedOut = false;
    if ('packed' in joined) await this.#begin(joined);
    else {
      this.#mark('kept');
      this.#takeIn(joined);
    }
    if (state) this.#hasMissed();
    this.places.arrived();
  }

  /** What was said of people, threads and decisions meanwhile has been missed. */
  #hasMissed(): void {
    for (const what of ['people', 'threads', 'ledger'] as const) this.hearer.changed(what);
  }

  /** The server cannot keep anything just now: the words wait here, and it is asked again. */
  #later(problem: string, again: () => Promise<void>): void {
    this.show({ kept: 'waiting', problem } as Partial<Shown>);
    this.#asking.again(again);
  }

  /** Begins with the server's text. What has been written until this moment and is not kept is handed over. */
  async #begin({ version, packed }: WholeText, reason = 'The text on the server has changed too far.', taken = 0) {
    const doc = Node.fromJSON(schema, await unpacked(packed));
    const words = this.unkeptWords(taken);
    const { state: before } = this.snapshotNow;
    this.#takenAt = 0;
    this.#held.forget();
    const state = this.#startFrom(doc, version);
    this.places.forget();
    this.show({ state: before ? this.#goOn(before, state) : state, kept: 'kept', problem: null } as Partial<Shown>);
    if (words) this.hearer.notTaken({ reason, words });
  }

  /** Who is signed out while words wait keeps them in the window; in another one they can sign in again. */
  #signedOut(): void {
    if (!this.hasUnkept()) return this.hearer.signedOut();
    if (this.#toldSignedOut) return;
    this.#toldSignedOut = true;
    this.hearer.say(
      'You are signed out. Sign in again in another window; your words stay in this one and are sent then.',
    );
  }

  /** It cannot be shown any more; what is not kept is handed over. */
  #close(problem: string): void {
    const words = this.unkeptWords();
    this.show({ kept: 'gone', problem } as Partial<Shown>);
    if (words) this.hearer.notTaken({ reason: problem, words });
  }

  /** The first state of a text that nothing has been written in. */
  #startFrom(doc: Node, version: number): EditorState {
    this.#sending = false;
    this.#base = doc;
    this.#carried = false;
    return EditorState.create({
      doc,
      plugins: [
        ...this.plugins(),
        history({ newGroupDelay: 700, depth: 500 }),
        collab({ version, clientID: this.client }),
      ],
    });
  }

  /**
   * The text has become another one, and nobody knows how: the caret, and all that keeps a place in it, is where its
   * words are now.
   */
  #goOn(before: EditorState, now: EditorState): EditorState {
    const mapping = new Mapping([stayed(before.doc, now.doc)]);
    this.#mapped.tell(mapping);
    return now.apply(now.tr.setSelection(before.selection.getBookmark().map(mapping).resolve(now.doc)));
  }

  #receive(message: Steps): void {
    const { state } = this.snapshotNow;
    if (!state) return;
    const { version, steps, clients } = message;
    const known = this.#held.end ?? getVersion(state);
    if (version + steps.length <= known) return; // had it already
    if (version > known) return void this.#join(); // something between was missed
    const own = sendableSteps(state)?.steps.length ?? 0;
    if (own > manyOwn && !clients.includes(this.client)) this.#held.add(message);
    else {
      this.#held.takeIn();
      this.#takeIn(message);
    }
    if (message.intents?.includes('decision')) this.hearer.changed('ledger');
  }

  /**
   * Takes in steps; one's own are confirmed by it. Those of all others at once: it comes to what one client after the
   * other would come to, and who has written a page without a connection waits no longer for a thousand of them.
   */
  #takeIn({ version, steps, clients }: Missed): void {
    this.#before.tell();
    const { state } = this.snapshotNow;
    if (!state) return;
    let now = state;
    let base = this.#base!;
    for (let i = getVersion(state) - version; i < steps.length;) {
      const isMine = clients[i] === this.client;
      let end = i;
      while (end < steps.length && (clients[end] === this.client) === isMine) end++;
      const run = steps.slice(i, end);
      if (isMine && !this.#areMine(now, run)) return void this.#startAgain(undefined, this.#sent);
      const parsed = run.map((json) => Step.fromJSON(schema, json));
      const tr = receiveTransaction(now, parsed, clients.slice(i, end), { mapSelectionBackward: true }).setMeta(
        'remote',
        true,
      );
      base = parsed.reduce((doc, step) => step.apply(doc).doc!, base);
      this.#carried ||= !isMine;
      this.places.passed(parsed);
      now = now.apply(tr);
      if (tr.docChanged) this.#mapped.tell(tr.mapping);
      i = end;
    }
    this.#base = base;
    this.#stand(now);
    void this.#send();
  }

  /** Whether steps that the server has as mine are those I hold: it carries them over others' steps as I do. */
  #areMine(state: EditorState, run: readonly object[]): boolean {
    const own = sendableSteps(state)?.steps ?? [];
    return run.every((json, k) => own[k] && sameValue(own[k]!.toJSON(), json));
  }

  /**
   * Sends what is not kept yet, batch after batch.
   * @param again whether it waits because the server could not keep it, and is now tried again
   */
  async #send(again = false): Promise<void> {
    const { kept } = this.snapshotNow;
    const before = this.snapshotNow.state;
    if (this.#sending || !before || getVersion(before) < this.#takenAt) return;
    if (kept === 'offline' || (kept === 'waiting' && !again)) return;
    this.#putRight();
    const state = this.snapshotNow.state!;
    const [batch] = batchesOf(state);
    if (!batch) return;
    this.#sending = true;
    this.#sent = batch.steps.length;
    const version = getVersion(state);
    const steps = batch.steps.map((step) => step.toJSON() as object);
    const { intent } = batch;
    const answer = await this.channel.ask<Outcome>('submit', { version, steps, intent, client: this.window });
    this.#sending = false;
    this.#held.takeIn();
    if (answer && 'taken' in answer) this.#takenAt = answer.version;
    if (answer && 'refused' in answer) return this.#startAgain(answer.refused);
    if (answer && 'later' in answer) return this.#later(answer.later, () => this.#send(true));
    if (!answer) {
      // No answer in a long while: ask again what is kept, unless the connection itself has gone.
      setTimeout(() => this.channel.connected && void this.#join(), 1000);
      return;
    }
    this.#asking.done();
    if (again) {
      this.#mark(this.hasUnkept() ? 'keeping' : 'kept');
      this.#hasMissed();
    }
    // The steps of a batch come to its sender as to everyone, before the answer; what is missing after it is fetched.
    const mine = getVersion(this.snapshotNow.state!);
    if ('taken' in answer ? mine < answer.version : mine === version) await this.#join();
    else void this.#send();
  }

  /**
   * What others did may have made wrong what is not kept yet; and edits that are right one by one (such as those that
   * undo one another) may come to something that is not, taken together. Then it is corrected before it is sent.
   */
  #putRight(): void {
    const { state } = this.snapshotNow;
    const batches = batchesOf(state!);
    const [first] = batches;
    if (!first || (!this.#carried && batches.length < 2 && (first.isOneEdit || first.steps.length < 2))) return;
    this.#carried = false;
    const right = corrected(this.#base!, batches, this.stamp());
    if (!right) return;
    const [was, is] = [first.steps, right[0]?.steps ?? []];
    if (batches.length === 1 && was.every((step, i) => step === is[i])) {
      const { tr } = state!;
      for (const step of is.slice(was.length)) tr.step(step);
      this.#mapped.tell(tr.mapping);
      this.#stand(state!.apply(tr.setMeta('intent', 'pencil').setMeta('addToHistory', false)));
    } else this.#writeAgain(right);
  }

  /** What is not kept yet, written anew on the server's text. */
  #writeAgain(batches: readonly Batch[]): void {
    const state = this.snapshotNow.state!;
    let now = this.#startFrom(this.#base!, getVersion(state));
    for (const { steps, intent } of batches) {
      const { tr } = now;
      for (const step of steps) tr.step(step);
      now = now.apply(tr.setMeta('intent', intent));
    }
    this.#stand(this.#goOn(state, now));
  }

  /**
   * Goes back to the server's text, whole; what was written and not kept is handed over to be copied.
   * @param taken how many steps the server has taken in, though not as they are here
   */
  async #startAgain(reason?: string, taken = 0): Promise<void> {
    const joined = await this.channel.ask<Joined>('join', { client: this.window });
    if (joined && 'packed' in joined) return this.#begin(joined, reason, taken);
    if (joined && 'refused' in joined) return this.#close(joined.refused);
    // Lost on the way: the words are here still, and are refused again when they are sent again.
    setTimeout(() => this.channel.connected && void this.#join(), lostPause);
  }

  /** Whether something was written that the server has not confirmed. */
  hasUnkept(): boolean {
    const { state } = this.snapshotNow;
    return !!state && sendableSteps(state) !== null;
  }

  /** The words in it. @param from how many steps are left out at the beginning */
  unkeptWords(from = 0): string {
    const { state } = this.snapshotNow;
    return wordsIn(((state && sendableSteps(state)?.steps) ?? []).slice(from));
  }
}
