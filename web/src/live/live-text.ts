import { collab, getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab';
import { closeHistory, history } from 'prosemirror-history';
import { Node } from 'prosemirror-model';
import { EditorState, type Plugin, type Transaction } from 'prosemirror-state';
import { Step, type Mapping } from 'prosemirror-transform';
import { io, type Socket } from 'socket.io-client';
import { nanoid } from 'nanoid';
import { schema, sweep, toDate, type Hit, type Verdict } from '@tea-pencil/core';
import { deletionOf, inHand, intentOf, sealOf, tidied, type Hand, type Seal, type Writer } from './intents';

/** How the text stands to the server. */
export type Kept = 'opening' | 'kept' | 'keeping' | 'offline' | 'gone';

export interface Snapshot {
  state: EditorState | null;
  kept: Kept;
  /** Why the manuscript cannot be shown. */
  problem: string | null;
  /** Who has it open, by person id. */
  here: readonly string[];
  hand: Hand;
}

/** Words that the server did not take in, and why. */
export interface NotTaken {
  reason: string;
  words: string;
}

/** Who is told what the text cannot show by itself. */
export interface Hearer {
  notTaken(what: NotTaken): void;
  say(sentence: string): void;
  changed(what: 'threads' | 'people'): void;
  signedOut(): void;
}

type Answer = { taken: true; version: number; decision?: string } | { behind: true } | { refused: string };
type Joined =
  { version: number; doc: object } | { version: number; steps: object[]; clients: string[] } | { refused: string };
interface Steps {
  manuscript: string;
  version: number;
  steps: object[];
  client: string;
}

const mostAtOnce = 400;
/** Two deletions of one change within this time are undone together. */
const deletionPause = 1500;
/** How long ink stays in hand before it goes back to pencil. */
export const inkMinutes = 10;
/** Ink for one edit goes back to pencil when the writer has paused that long, or has gone elsewhere. */
const oneEditPause = 5000;

/**
 * One manuscript, open: its editor state, and the exchange of steps with the server. Everything that edits goes through
 * `dispatch`; whoever shows it subscribes.
 */
export class LiveText {
  #snapshot: Snapshot = { state: null, kept: 'opening', problem: null, here: [], hand: 'pencil' };
  readonly #listeners = new Set<() => void>();
  readonly #client = nanoid(12);
  /** Steps of decisions come to everyone alike, to the one who decided too. */
  readonly #decider = `decision-${this.#client}`;
  readonly #socket: Socket;
  #sending = false;
  #mayInk = false;
  #hearer: Hearer = {
    notTaken: () => undefined,
    say: () => undefined,
    changed: () => undefined,
    signedOut: () => undefined,
  };
  #inkTimer: ReturnType<typeof setTimeout> | undefined;
  #deletion = { change: '', at: 0, group: 0 };
  #cut: Seal | null = null;
  /** Whether ink was taken for one edit, and whether that has begun. */
  #oneEdit: 'wanted' | 'begun' | null = null;

  constructor(
    readonly manuscript: string,
    readonly me: string,
    readonly plugins: () => Plugin[],
  ) {
    this.#socket = io({ path: '/api/live', transports: ['websocket'], reconnectionDelayMax: 3000, autoConnect: false });
    this.#socket.on('connect', () => void this.#join());
    this.#socket.on('disconnect', () => this.#set({ kept: 'offline' }));
    this.#socket.on('connect_error', () => this.#set({ kept: 'offline' }));
    this.#socket.on('steps', (message: Steps) => this.#receive(message));
    this.#socket.on('signed-out', () => this.#hearer.signedOut());
    this.#socket.on('presence', (message: { manuscript: string; people: string[] }) => {
      if (message.manuscript === manuscript) this.#set({ here: message.people });
    });
    this.#socket.on('changed', (message: { manuscript: string; what: 'threads' | 'people' }) => {
      if (message.manuscript === manuscript) this.#hearer.changed(message.what);
    });
  }

  /** Connects, and stays connected until closed. */
  open(hearer: Hearer): () => void {
    this.#hearer = hearer;
    addEventListener('offline', this.#lost);
    addEventListener('online', this.#found);
    this.#socket.connect();
    return () => {
      clearTimeout(this.#inkTimer);
      removeEventListener('offline', this.#lost);
      removeEventListener('online', this.#found);
      this.#socket.disconnect();
    };
  }

  /** Whether the person may take ink here; it can change while the manuscript is open. */
  allowInk(mayInk: boolean): void {
    this.#mayInk = mayInk;
    if (!mayInk && this.#snapshot.hand === 'ink') this.take('pencil');
  }

  readonly #lost = () => this.#socket.disconnect();
  readonly #found = () => this.#socket.connect();

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
    clearTimeout(this.#inkTimer);
    this.#oneEdit = null;
    if (hand === 'ink') {
      if (!this.#mayInk) return this.#hearer.say('In this manuscript you write in pencil only.');
      if (howLong === 'one edit') this.#oneEdit = 'wanted';
      this.#backToPencilIn(inkMinutes * 60_000, `ink lasts ${inkMinutes} minutes.`);
    }
    this.#set({ hand });
  }

  #backToPencilIn(time: number, because: string): void {
    clearTimeout(this.#inkTimer);
    this.#inkTimer = setTimeout(() => {
      this.take('pencil');
      this.#hearer.say(`Back to pencil: ${because}`);
    }, time);
  }

  /** Ink for one edit lasts while the writer goes on with it. */
  #watchOneEdit(tr: Transaction): void {
    if (!this.#oneEdit || tr.getMeta('remote') !== undefined) return;
    const because = 'ink was taken for one edit.';
    if (intentOf(tr) === 'ink' && tr.docChanged) {
      this.#oneEdit = 'begun';
      this.#backToPencilIn(oneEditPause, because);
    } else if (this.#oneEdit === 'begun' && tr.selectionSet) this.#backToPencilIn(0, because);
  }

  /** Applies a transaction of the editor, in the hand that is taken. */
  dispatch = (tr: Transaction): void => {
    const { state, hand } = this.#snapshot;
    if (!state) return;
    const writer: Writer = { me: this.me, hand, mayInk: this.#mayInk, cut: this.#cut };
    const own = inHand(state, tr, writer);
    if (!own)
      return this.#hearer.say('This cannot be undone any more: someone else has decided or changed it meanwhile.');
    this.#groupDeletions(own);
    this.#watchOneEdit(own);
    if (tr.getMeta('uiEvent') === 'cut') this.#cut = sealOf(own);
    this.#apply(state, own);
    // Spaces around words that went are put right, as a step back of its own.
    const tidy = tidied(state, tr, own, this.#snapshot.state!);
    if (tidy) this.dispatch(tidy.setMeta('apart', true));
  };

  /**
   * Replaces what a search has found, as one edit that is undone as one: in pencil as one sweep, or in ink.
   * @param hits found in the text as it stands
   * @returns in how many places something was replaced
   */
  sweep(hits: readonly Hit[], hand: Hand): number {
    const { state } = this.#snapshot;
    if (!state || (hand === 'ink' && !this.#mayInk)) return 0;
    const stamp = { author: this.me, date: toDate(new Date()), newChange: () => nanoid(12) };
    const tr = sweep(state, hits, hand === 'pencil' ? stamp : null);
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
    const waiting = sendableSteps(state) !== null;
    const { kept } = this.#snapshot;
    this.#set({ state, kept: kept === 'offline' ? kept : waiting ? 'keeping' : 'kept' });
    void this.#send();
  }

  /**
   * Decides changes; the server does it, and its steps come back to everyone.
   * @returns the id under which the decision can be taken back, or null when nothing was decided
   */
  async decide(changes: string[], verdict: Verdict): Promise<string | null> {
    const answer = await this.#ask<Answer>('decide', { changes, verdict, client: this.#decider });
    if (!answer)
      this.#hearer.say(
        'The decision did not reach the server. Nothing was decided; try again when the connection is back.',
      );
    else if ('refused' in answer) this.#hearer.say(answer.refused);
    return (answer && 'taken' in answer && answer.decision) || null;
  }

  /** Takes a decision back; its changes are pending again. */
  async takeBack(decision: string): Promise<void> {
    const answer = await this.#ask<Answer>('takeBack', { decision, client: this.#decider });
    if (!answer)
      this.#hearer.say('This did not reach the server. The decision stands; try again when the connection is back.');
    else if ('refused' in answer) this.#hearer.say(answer.refused);
  }

  async #ask<T>(name: string, message: object): Promise<T | null> {
    if (!this.#socket.connected) return null;
    try {
      return (await this.#socket.timeout(20_000).emitWithAck(name, { manuscript: this.manuscript, ...message })) as T;
    } catch {
      return null;
    }
  }

  async #join(): Promise<void> {
    const { state } = this.#snapshot;
    const joined = await this.#ask<Joined>('join', state ? { version: getVersion(state) } : {});
    if (!joined) return;
    if ('refused' in joined) return this.#set({ kept: 'gone', problem: joined.refused });
    if ('doc' in joined) this.#begin(joined);
    else {
      this.#set({ kept: 'kept' });
      this.#takeIn(joined.steps, joined.clients);
    }
  }

  #begin({ version, doc }: { version: number; doc: object }): void {
    const lost = this.#snapshot.state && this.#unkeptWords();
    const state = EditorState.create({
      doc: Node.fromJSON(schema, doc),
      plugins: [...this.plugins(), history({ newGroupDelay: 700 }), collab({ version, clientID: this.#client })],
    });
    this.#sending = false;
    this.#set({ state, kept: 'kept', problem: null });
    if (lost) this.#hearer.notTaken({ reason: 'The text on the server has changed too far.', words: lost });
  }

  #receive({ manuscript, version, steps, client }: Steps): void {
    const { state } = this.#snapshot;
    if (manuscript !== this.manuscript || !state) return;
    const mine = getVersion(state);
    if (version + steps.length <= mine) return; // had it already
    if (version > mine) return void this.#join(); // something between was missed
    const fresh = steps.slice(mine - version);
    this.#takeIn(
      fresh,
      fresh.map(() => client),
    );
  }

  #takeIn(steps: object[], clients: string[]): void {
    const { state } = this.#snapshot;
    if (!state) return;
    if (!steps.length) return void this.#send();
    const parsed = steps.map((json) => Step.fromJSON(schema, json));
    const tr = receiveTransaction(state, parsed, clients, { mapSelectionBackward: true }).setMeta('remote', true);
    this.#apply(state, tr);
  }

  /** Sends what is not kept yet, as batches of one intent each. */
  async #send(): Promise<void> {
    const { state, kept } = this.#snapshot;
    if (this.#sending || !state || kept === 'offline') return;
    const sendable = sendableSteps(state);
    if (!sendable) return;
    const intent = intentOf(sendable.origins[0] as Transaction);
    let n = 1;
    while (n < Math.min(sendable.steps.length, mostAtOnce) && intentOf(sendable.origins[n] as Transaction) === intent)
      n++;
    this.#sending = true;
    const steps = sendable.steps.slice(0, n).map((step) => step.toJSON() as object);
    const answer = await this.#ask<Answer>('submit', {
      version: sendable.version,
      steps,
      intent,
      client: this.#client,
    });
    this.#sending = false;
    if (answer && 'refused' in answer) return this.#giveBack(answer.refused);
    if (!answer) {
      // No answer in a long while: ask again what is kept, unless the connection itself has gone.
      setTimeout(() => this.#socket.connected && void this.#join(), 1000);
      return;
    }
    // The steps of a batch come to its sender as to everyone, before the answer; what is missing after it is fetched.
    const mine = getVersion(this.#snapshot.state!);
    if ('taken' in answer ? mine < answer.version : mine === sendable.version) await this.#join();
    else void this.#send();
  }

  /** Goes back to the server's text; what was typed and not kept is handed over to be copied. */
  async #giveBack(reason: string): Promise<void> {
    const words = this.#unkeptWords();
    const joined = await this.#ask<Joined>('join', {});
    if (joined && 'doc' in joined) {
      this.#snapshot = { ...this.#snapshot, state: null };
      this.#begin(joined);
    }
    this.#hearer.notTaken({ reason, words });
  }

  /** Whether something was written that the server has not confirmed. */
  hasUnkept(): boolean {
    const { state } = this.#snapshot;
    return !!state && sendableSteps(state) !== null;
  }

  #unkeptWords(): string {
    const { state } = this.#snapshot;
    const words = (state && sendableSteps(state)?.steps) ?? [];
    return words
      .map(
        (step) =>
          (step as { slice?: { content: { textBetween(a: number, b: number, c: string): string; size: number } } })
            .slice?.content,
      )
      .map((content) => content?.textBetween(0, content.size, '\n') ?? '')
      .join('');
  }
}
