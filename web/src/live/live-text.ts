import { collab, getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab';
import { closeHistory, history } from 'prosemirror-history';
import { Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Plugin, type Transaction } from 'prosemirror-state';
import { Step, type Mapping } from 'prosemirror-transform';
import { nanoid } from 'nanoid';
import { sameValue, schema, sweep, toDate, type Carried, type Hit, type Stamp, type Verdict } from '@tea-pencil/core';
import { batchesOf, corrected, wordsIn, type Batch } from './batches';
import { carry } from './carrying';
import type { Joined, Missed, Outcome, Steps, WholeText } from '@tea-pencil/wire';
import { Channel, type Heard } from './channel';
import { nobody, type Hearer } from './hearer';
import { deletionOf, inHand, changeOf, tidied, type Hand, type DatedChange, type Writer } from './intents';
import { PenClock } from './pen-clock';
import { Places } from './places';

/** How the text stands to the server. */
export type Kept = 'opening' | 'kept' | 'keeping' | 'waiting' | 'offline' | 'gone';

export interface Snapshot {
  state: EditorState | null;
  kept: Kept;
  /** Why the manuscript cannot be shown. */
  problem: string | null;
  hand: Hand;
}

/** Two deletions of one change within this time are undone together. */
const deletionPause = 1500;
/** How long one waits before asking a server again that cannot keep anything. */
const laterPause = 1500;

/** The JSON of a text as it was sent (RFC 1952, gzip). */
const unpacked = (bytes: Uint8Array): Promise<unknown> =>
  new Response(new Blob([new Uint8Array(bytes)]).stream().pipeThrough(new DecompressionStream('gzip'))).json();

/**
 * One manuscript, open: its editor state, and the exchange of steps with the server. Everything that edits goes through
 * `dispatch`; whoever shows it subscribes.
 */
export class LiveText {
  #snapshot: Snapshot = { state: null, kept: 'opening', problem: null, hand: 'pencil' };
  readonly #listeners = new Set<() => void>();
  readonly #client = nanoid(12);
  /** Steps of decisions come to everyone alike, to the one who decided too. */
  readonly #decider = `decision-${this.#client}`;
  readonly #channel: Channel;
  /** Where the others are. */
  readonly places: Places;
  #sending = false;
  /** The text as the server is known to have it, without what is not kept yet. */
  #base: Node | null = null;
  /** Whether what is not kept yet has been carried over what others did. */
  #carried = false;
  #mayInk = false;
  #hearer: Hearer = nobody;
  readonly #clock = new PenClock((because) => {
    this.take('pencil');
    this.#hearer.say(`Back to pencil: ${because}`);
  });
  #deletion = { change: '', at: 0, group: 0 };
  #cut: DatedChange | null = null;
  /** The threads on it. */
  #taken: Carried | null = null;

  constructor(
    readonly manuscript: string,
    readonly me: string,
    readonly plugins: () => Plugin[],
    connect?: ConstructorParameters<typeof Channel>[2],
  ) {
    const heard: Heard = {
      connect: () => void this.#join(),
      lost: () => {
        this.#set({ kept: 'offline' });
        this.places.lost();
      },
      steps: (message) => this.#receive(message),
      presence: (message) => this.places.hear(message),
      gone: (client) => this.places.gone(client),
      changed: (what) => this.#hearer.changed(what),
      removed: (problem) => this.#set({ kept: 'gone', problem }),
      signedOut: () => this.#hearer.signedOut(),
    };
    this.#channel = new Channel(manuscript, heard, connect);
    this.places = new Places(this.#client, this.#channel, () => this.#snapshot.state);
  }

  /** Connects, and stays connected until closed. */
  open(hearer: Hearer): () => void {
    this.#hearer = hearer;
    const close = this.#channel.open();
    const forget = this.places.open();
    return () => {
      this.#clock.stop();
      forget();
      close();
    };
  }

  /** Whether the person may take ink here; it can change while the manuscript is open. */
  allowInk(mayInk: boolean): void {
    this.#mayInk = mayInk;
    if (!mayInk && this.#snapshot.hand === 'ink') this.take('pencil');
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): Snapshot => this.#snapshot;

  readonly #mapped = new Set<(mapping: Mapping) => void>();
  /** Calls back with how positions have moved, whoever edited. */
  onMapping(listener: (mapping: Mapping) => void): () => void {
    this.#mapped.add(listener);
    return () => this.#mapped.delete(listener);
  }

  #set(part: Partial<Snapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }

  /** Takes pencil or ink; ink goes back by itself, after some minutes or after one edit. */
  take(hand: Hand, howLong: 'minutes' | 'one edit' = 'minutes'): void {
    this.#clock.stop();
    if (hand === 'ink') {
      if (!this.#mayInk) return this.#hearer.say('In this manuscript you write in pencil only.');
      this.#clock.start(howLong);
    }
    this.#set({ hand });
  }

  #stamp = (): Stamp => ({ author: this.me, date: toDate(new Date()), newChange: () => nanoid(12) });

  /** Applies a transaction of the editor, in the hand that is taken. An edit that cannot be is never lost in silence. */
  dispatch = (tr: Transaction): void => {
    try {
      this.#edit(tr);
    } catch (problem) {
      console.error(problem);
      const reason = 'This edit could not be made; the text is as it was before it.';
      this.#hearer.notTaken({ reason, words: wordsIn(tr.steps) });
    }
  };

  #edit(tr: Transaction): void {
    const { state, hand } = this.#snapshot;
    if (!state) return;
    const writer: Writer = { me: this.me, hand, mayInk: this.#mayInk, cut: this.#cut };
    const own = inHand(state, tr, writer);
    if (!own)
      return this.#hearer.say('This cannot be undone any more: someone else has decided or changed it meanwhile.');
    this.#groupDeletions(own);
    this.#clock.watch(own);
    if (tr.getMeta('uiEvent') === 'cut') this.#cut = changeOf(own);
    this.#taken = carry(state, tr, own, this.#taken);
    this.#apply(state, own);
    // Spaces around words that went are put right, as a step back of its own.
    const tidy = tidied(state, tr, own, this.#snapshot.state!);
    if (tidy) this.#edit(tidy.setMeta('apart', true));
  }

  /**
   * Replaces what a search has found, as one edit that is undone as one: in pencil as one sweep, or in ink.
   * @param hits found in the text as it stands
   * @returns in how many places something was replaced
   */
  sweep(hits: readonly Hit[], hand: Hand): number {
    const { state } = this.#snapshot;
    if (!state || (hand === 'ink' && !this.#mayInk)) return 0;
    const tr = sweep(state, hits, hand === 'pencil' ? this.#stamp() : null);
    if (tr.docChanged) this.#apply(state, closeHistory(tr).setMeta('intent', hand));
    return hits.filter(({ text, replacement }) => text !== replacement).length;
  }

  /** Whether words have been cut that can be set down elsewhere as a move. */
  hasCut = (): boolean => this.#cut !== null;

  /** Neighbouring deletions are one step back, as neighbouring letters are. */
  #groupDeletions(tr: Transaction): void {
    const change = tr.getMeta('intent') === 'pencil' ? deletionOf(tr) : null;
    if (!change) return;
    const { change: last, at, group } = this.#deletion;
    const goesOn = change === last && tr.time - at < deletionPause && !tr.getMeta('apart');
    const next = goesOn ? group : group + 1;
    this.#deletion = { change, at: tr.time, group: next };
    tr.setMeta('composition', `deletion ${next}`);
  }

  #apply(before: EditorState, tr: Transaction): void {
    const state = before.apply(tr);
    if (tr.docChanged) for (const listener of this.#mapped) listener(tr.mapping);
    this.#show(state);
    void this.#send();
  }

  #show(state: EditorState): void {
    const waiting = sendableSteps(state) !== null;
    if (!waiting) {
      this.#base = state.doc;
      this.#carried = false;
    }
    const { kept } = this.#snapshot;
    const held = kept === 'offline' || (kept === 'waiting' && waiting);
    this.#set({ state, kept: held ? kept : waiting ? 'keeping' : 'kept' });
    this.places.moved();
  }

  /**
   * Decides changes; the server does it, and its steps come back to everyone.
   * @returns the id under which the decision can be taken back, or null when nothing was decided
   */
  async decide(changes: string[], verdict: Verdict): Promise<string | null> {
    const answer = await this.#channel.ask<Outcome>('decide', { changes, verdict, client: this.#decider });
    if (!answer)
      this.#hearer.say(
        'The decision did not reach the server. Nothing was decided; try again when the connection is back.',
      );
    else this.#sayWhyNot(answer);
    return (answer && 'taken' in answer && answer.decision) || null;
  }

  /** Takes a decision back; its changes are pending again. */
  async takeBack(decision: string): Promise<void> {
    const answer = await this.#channel.ask<Outcome>('takeBack', { decision, client: this.#decider });
    if (!answer)
      this.#hearer.say('This did not reach the server. The decision stands; try again when the connection is back.');
    else this.#sayWhyNot(answer);
  }

  #sayWhyNot(answer: Outcome): void {
    if ('refused' in answer) this.#hearer.say(answer.refused);
    if ('later' in answer) this.#hearer.say(answer.later);
  }

  async #join(): Promise<void> {
    const { state } = this.#snapshot;
    const from = state ? { version: getVersion(state) } : {};
    const joined = await this.#channel.ask<Joined>('join', { ...from, client: this.#client });
    if (!joined) {
      // Lost on the way, though the connection stands: asked again.
      setTimeout(() => this.#channel.connected && void this.#join(), laterPause);
      return;
    }
    if ('refused' in joined) return this.#set({ kept: 'gone', problem: joined.refused });
    if ('later' in joined) return this.#askLater();
    if ('packed' in joined) await this.#begin(joined);
    else {
      this.#set({ kept: 'kept' });
      this.#takeIn(joined);
    }
    // What was said of people, threads and decisions meanwhile has been missed.
    if (state) for (const what of ['people', 'threads', 'ledger'] as const) this.#hearer.changed(what);
    this.places.arrived();
  }

  /** The server cannot keep anything just now: the words wait here. */
  #askLater(): void {
    this.#set({ kept: 'waiting' });
    setTimeout(() => this.#channel.connected && void this.#join(), laterPause);
  }

  async #begin({ version, packed }: WholeText): Promise<void> {
    const doc = Node.fromJSON(schema, await unpacked(packed));
    const lost = this.#snapshot.state && this.#unkeptWords();
    this.#startFrom(doc, version);
    this.places.forget();
    if (lost) this.#hearer.notTaken({ reason: 'The text on the server has changed too far.', words: lost });
  }

  #startFrom(doc: Node, version: number): void {
    const state = EditorState.create({
      doc,
      plugins: [...this.plugins(), history({ newGroupDelay: 700 }), collab({ version, clientID: this.#client })],
    });
    this.#sending = false;
    this.#base = doc;
    this.#carried = false;
    this.#set({ state, kept: 'kept', problem: null });
  }

  #receive(message: Steps): void {
    const { state } = this.#snapshot;
    if (!state) return;
    const { version, steps } = message;
    const mine = getVersion(state);
    if (version + steps.length <= mine) return; // had it already
    if (version > mine) return void this.#join(); // something between was missed
    this.#takeIn(message);
    if (message.intents?.includes('decision')) this.#hearer.changed('ledger');
  }

  /** Takes in steps, those of one client after those of another; one's own are confirmed by it. */
  #takeIn({ version, steps, clients }: Missed): void {
    const { state } = this.#snapshot;
    if (!state) return;
    let now = state;
    for (let i = getVersion(state) - version; i < steps.length;) {
      const client = clients[i]!;
      let end = i;
      while (end < steps.length && clients[end] === client) end++;
      const run = steps.slice(i, end);
      if (client === this.#client && !this.#areMine(now, run)) return void this.#startAgain();
      const parsed = run.map((json) => Step.fromJSON(schema, json));
      const tr = receiveTransaction(
        now,
        parsed,
        parsed.map(() => client),
        { mapSelectionBackward: true },
      ).setMeta('remote', true);
      this.#base = parsed.reduce((doc, step) => step.apply(doc).doc!, this.#base!);
      this.#carried ||= client !== this.#client;
      this.places.passed(parsed);
      now = now.apply(tr);
      if (tr.docChanged) for (const listener of this.#mapped) listener(tr.mapping);
      i = end;
    }
    this.#show(now);
    void this.#send();
  }

  /** Whether steps that the server has as mine are those I hold: it carries them over others' steps as I do. */
  #areMine(state: EditorState, run: readonly object[]): boolean {
    const own = sendableSteps(state)?.steps ?? [];
    return run.every((json, k) => own[k] && sameValue(own[k]!.toJSON(), json));
  }

  /** Sends what is not kept yet, batch after batch. */
  async #send(): Promise<void> {
    const { kept } = this.#snapshot;
    if (this.#sending || !this.#snapshot.state || kept === 'offline' || kept === 'waiting') return;
    this.#putRight();
    const { state } = this.#snapshot;
    const [batch] = batchesOf(state);
    if (!batch) return;
    this.#sending = true;
    const version = getVersion(state);
    const steps = batch.steps.map((step) => step.toJSON() as object);
    const { intent } = batch;
    const answer = await this.#channel.ask<Outcome>('submit', { version, steps, intent, client: this.#client });
    this.#sending = false;
    if (answer && 'refused' in answer) return this.#giveBack(answer.refused);
    if (answer && 'later' in answer) return this.#askLater();
    if (!answer) {
      // No answer in a long while: ask again what is kept, unless the connection itself has gone.
      setTimeout(() => this.#channel.connected && void this.#join(), 1000);
      return;
    }
    // The steps of a batch come to its sender as to everyone, before the answer; what is missing after it is fetched.
    const mine = getVersion(this.#snapshot.state!);
    if ('taken' in answer ? mine < answer.version : mine === version) await this.#join();
    else void this.#send();
  }

  /**
   * What others did may have made wrong what is not kept yet; and edits that are right one by one (such as those that
   * undo one another) may come to something that is not, taken together. Then it is corrected before it is sent.
   */
  #putRight(): void {
    const { state } = this.#snapshot;
    const batches = batchesOf(state!);
    if (!this.#carried && (batches[0]?.steps.length ?? 0) < 2 && batches.length < 2) return;
    this.#carried = false;
    const right = corrected(this.#base!, batches, this.#stamp());
    if (!right) return;
    if (batches.length === 1) {
      const { tr } = state!;
      for (const step of right[0]!.steps.slice(batches[0]!.steps.length)) tr.step(step);
      this.#show(state!.apply(tr.setMeta('intent', 'pencil').setMeta('addToHistory', false)));
    } else this.#writeAgain(right);
  }

  /** What is not kept yet, written anew on the server's text. */
  #writeAgain(batches: readonly Batch[]): void {
    const { state } = this.#snapshot;
    const { head } = state!.selection;
    this.#startFrom(this.#base!, getVersion(state!));
    const base = this.#base;
    let now = this.#snapshot.state!;
    for (const { steps, intent } of batches) {
      const { tr } = now;
      for (const step of steps) tr.step(step);
      now = now.apply(tr.setMeta('intent', intent));
    }
    const { tr } = now;
    now = now.apply(tr.setSelection(TextSelection.near(tr.doc.resolve(Math.min(head, tr.doc.content.size)))));
    this.#show(now);
    if (sendableSteps(now)) this.#base = base;
  }

  /** Goes back to the server's text; what was typed and not kept is handed over to be copied. */
  async #giveBack(reason: string): Promise<void> {
    const words = this.#unkeptWords();
    if (await this.#startAgain(true)) this.#hearer.notTaken({ reason, words });
  }

  /** The server's text again, whole. */
  async #startAgain(silently = false): Promise<boolean> {
    const joined = await this.#channel.ask<Joined>('join', { client: this.#client });
    if (!joined || !('packed' in joined)) return false;
    if (silently) this.#snapshot = { ...this.#snapshot, state: null };
    await this.#begin(joined);
    return true;
  }

  /** Whether something was written that the server has not confirmed. */
  hasUnkept(): boolean {
    const { state } = this.#snapshot;
    return !!state && sendableSteps(state) !== null;
  }

  #unkeptWords(): string {
    const { state } = this.#snapshot;
    return wordsIn((state && sendableSteps(state)?.steps) ?? []);
  }
}
