import { closeHistory } from 'prosemirror-history';
import type { Node } from 'prosemirror-model';
import { TextSelection, type EditorState, type Plugin, type PluginKey, type Transaction } from 'prosemirror-state';
import {
  correction,
  corrections,
  harmOf,
  harmWords,
  isReplaced,
  limitWords,
  overLimit,
  placesOf,
  placesSince,
  record,
  sweep,
  type Correction,
  type TakenUp,
  type Hit,
  type Range,
  type Verdict,
} from '@tea-pencil/core';
import type { Outcome } from '@tea-pencil/wire';
import { wordsIn } from './batches';
import { carry } from './carrying';
import type { Channel, Unanswered } from './channel';
import type { Hearer } from './hearer';
import { changeOf, deletionOf, inHand, tidied, type DatedChange, type Hand, type Writer } from './intents';
import { MyDecisions } from './my-decisions';
import { PassedDocs } from './passed-docs';
import { PenClock } from './pen-clock';
import { SyncedText, type Synced } from './synced-text';

export interface Snapshot extends Synced {
  hand: Hand;
}

/** Two deletions of one change within this time are undone together. */
const deletionPause = 1500;

/** One manuscript, open, and what is written in it: everything that edits goes through `dispatch`, in the hand taken. */
export class LiveText extends SyncedText<Snapshot> {
  /** Steps of decisions come to everyone alike, to the one who decided too. */
  readonly #decider = `decision-${this.window}`;
  #mayInk = false;
  #fixedUntil: string | undefined;
  readonly #clock = new PenClock((because) => {
    this.take('pencil');
    this.hearer.say(`Back to pencil: ${because}`);
  });
  readonly #passed = new PassedDocs();
  #deletion = { change: '', at: 0, group: 0 };
  #cut: DatedChange | null = null;
  /** What one has decided in this window. */
  readonly mine = new MyDecisions();
  /** The threads on it. */
  #taken: TakenUp | null = null;

  constructor(
    manuscript: string,
    me: string,
    plugins: () => Plugin[],
    connect?: ConstructorParameters<typeof Channel>[2],
  ) {
    super({ state: null, kept: 'opening', problem: null, hand: 'pencil' }, manuscript, me, plugins, connect);
    this.onMapping((mapping) => this.#passed.note(this.snapshotNow.state!.doc, mapping));
  }

  override open(hearer: Hearer): () => void {
    const close = super.open(hearer);
    return () => {
      this.#clock.stop();
      close();
    };
  }

  /** Whether the person may take ink here; it can change while the manuscript is open. */
  allowInk(mayInk: boolean): void {
    this.#mayInk = mayInk;
    if (!mayInk && this.snapshotNow.hand === 'ink') this.take('pencil');
  }

  /** Fixes one's own changes as well, up to a date: a seal was put on that forbids withdrawing, or was lifted. */
  fixUntil(date: string | undefined): void {
    this.#fixedUntil = date;
  }

  /** Takes pencil or ink; ink goes back by itself, after some minutes or after one edit, where nothing else is said. */
  take(hand: Hand, howLong: 'minutes' | 'one edit' | 'until told' = 'minutes'): void {
    this.#clock.stop();
    if (hand === 'ink') {
      if (!this.#mayInk) return this.hearer.say('In this manuscript you write in pencil only.');
      if (howLong !== 'until told') this.#clock.start(howLong);
    }
    this.show({ hand });
  }

  /** Tells a plugin something, on the text as it is now: what is shown of it may be a reading. */
  tell(plugin: PluginKey, what: unknown): void {
    const { state } = this.snapshotNow;
    if (state) this.dispatch(state.tr.setMeta(plugin, what));
  }

  /** Selects words of the text as it is now. */
  select({ from, to }: Range): void {
    const { state } = this.snapshotNow;
    if (state) this.dispatch(state.tr.setSelection(TextSelection.create(state.doc, from, to)));
  }

  /** Applies a transaction of the editor, in the hand that is taken. An edit that cannot be is never lost in silence. */
  dispatch = (tr: Transaction): void => {
    try {
      this.#edit(tr);
    } catch (problem) {
      console.error(problem);
      const reason = 'This edit could not be made; the text is as it was before it.';
      this.hearer.notTaken({ reason, words: wordsIn(tr.steps) });
    }
  };

  #edit(tr: Transaction): void {
    const { state, hand: now } = this.snapshotNow;
    if (!state) return;
    // What has been long in coming may have been asked for in another hand: nothing goes unrecorded by that.
    const hand = tr.getMeta('asked in') === 'pencil' ? 'pencil' : now;
    const fixed = this.#fixedUntil === undefined ? {} : { fixedUntil: this.#fixedUntil };
    const writer: Writer = { me: this.me, hand, mayInk: this.#mayInk, cut: this.#cut, ...fixed };
    // Only what is set down from elsewhere can hold what cannot stand there; all else was made by commands.
    const harm = tr.getMeta('uiEvent') ? harmOf(tr.doc) : null;
    if (harm) return this.hearer.say(harmWords[harm]);
    const own = inHand(state, tr, writer);
    if (!own)
      return this.hearer.say('This cannot be undone any more: someone else has decided or changed it meanwhile.');
    const over = overLimit(state.doc, own.doc);
    if (over) return this.hearer.say(`This is too much: ${limitWords[over]}.`);
    this.#groupDeletions(own);
    this.#clock.watch(own);
    if (tr.getMeta('uiEvent') === 'cut') this.#cut = changeOf(own);
    if (tr.getMeta('uiEvent') === 'paste') closeHistory(own); // one step back takes what was pasted, and nothing else
    this.#taken = carry(state, tr, own, this.#taken);
    this.apply(state, own);
    // Spaces around words that went are put right, as a step back of its own.
    const tidy = tidied(state, tr, own, this.snapshotNow.state!);
    if (tidy) this.#edit(tidy.setMeta('apart', true).setMeta('asked in', hand));
  }

  /**
   * Where hits of a search stand in a later text; nowhere, where their words have changed since.
   * @param of the text they were found in
   */
  placesSince(hits: readonly Hit[], of: Node, then: Node): Range[][] {
    if (of === then) return placesOf(of, hits);
    return placesSince(of, then, this.#passed.between(of, then, this.snapshotNow.state!.doc), hits);
  }
  /** Where they stand in the text as it is. */
  placesNow = (hits: readonly Hit[], of: Node): Range[][] => this.placesSince(hits, of, this.snapshotNow.state!.doc);

  /**
   * Replaces what a search has found, as one edit that is undone as one: in pencil as one sweep, or in ink.
   * @param of the text they were found in; what others have changed since stays as it is
   * @returns in how many places something was replaced, and how many have changed meanwhile
   */
  sweep(hits: readonly Hit[], of: Node, hand: Hand): { replaced: number; changed: number } {
    const { state } = this.snapshotNow;
    const wanted = hits.filter(isReplaced);
    if (!state || (hand === 'ink' && !this.#mayInk)) return { replaced: 0, changed: 0 };
    const places = this.placesNow(wanted, of);
    const tr = sweep(state, wanted, hand === 'pencil' ? this.stamp() : null, places);
    if (tr.docChanged) this.apply(state, closeHistory(tr).setMeta('intent', hand));
    const replaced = places.filter((ranges) => ranges.length).length;
    return { replaced, changed: wanted.length - replaced };
  }

  /**
   * Puts right what the last look has found, in pencil: one place as one change, several as one sweep.
   * @returns whether anything was changed
   */
  putRight(all: readonly Correction[]): boolean {
    const { state } = this.snapshotNow;
    const [one] = all;
    if (!state || !one) return false;
    const stamp = this.stamp();
    const tr = all.length === 1 ? record(state, correction(state, one), stamp) : corrections(state, all, stamp);
    if (tr.docChanged) this.apply(state, closeHistory(tr).setMeta('intent', 'pencil'));
    return tr.docChanged;
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

  /** What is written here, and where it stands among what one decides. */
  protected override apply(before: EditorState, tr: Transaction): void {
    super.apply(before, tr);
    const { state } = this.snapshotNow;
    if (tr.docChanged && state) this.mine.wrote(tr, state);
  }

  /**
   * Decides changes; the server does it, and its steps come back to everyone.
   * @param again whether a decision that was taken back is made once more
   * @returns the id under which the decision can be taken back, or null when nothing was decided
   */
  decide(changes: readonly string[], verdict: Verdict, again = false): Promise<string | null> {
    return this.#underWay(this.#decide(changes, verdict, again));
  }

  async #decide(changes: readonly string[], verdict: Verdict, again: boolean): Promise<string | null> {
    const { state: asked } = this.snapshotNow;
    // What is written after it is a step back of its own, and later than the decision however late the answer comes.
    if (asked) this.apply(asked, closeHistory(asked.tr));
    const answer = await this.channel.askOnce('decide', { changes, verdict, client: this.#decider });
    this.#sayWhyNot(answer, 'The decision did not reach the server. Nothing was decided');
    const decision = ('taken' in answer && answer.decision) || null;
    const { state } = this.snapshotNow;
    if (decision && asked && state) this.mine.made({ decision, changes, verdict }, asked, state, again);
    return decision;
  }

  /**
   * Takes a decision back, or only some of its changes; they are pending again.
   * @param undoing whether it can then be made once more, as what is undone can
   * @returns whether it was
   */
  takeBack(decision: string, changes?: readonly string[], undoing = false): Promise<boolean> {
    return this.#underWay(this.#takeBack(decision, changes, undoing));
  }

  #decided: Promise<unknown> = Promise.resolve();
  /** Done once no decision is under way: what is undone next is known only then. */
  decided = (): Promise<unknown> => this.#decided;

  #asked = 0;
  /** Whether something is decided here of which nobody knows yet whether it is kept. */
  isDeciding = (): boolean => this.#asked > 0;

  #underWay<T>(work: Promise<T>): Promise<T> {
    this.#asked++;
    this.#decided = Promise.allSettled([this.#decided, work.finally(() => this.#asked--)]);
    return work;
  }

  async #takeBack(decision: string, changes: readonly string[] | undefined, undoing: boolean): Promise<boolean> {
    const what = { decision, ...(changes && { changes }), client: this.#decider };
    const answer = await this.channel.askOnce('takeBack', what);
    this.#sayWhyNot(answer, 'This did not reach the server. The decision stands');
    const taken = 'taken' in answer;
    // What is refused never will be; what could not be done now stands, and can be asked for once more.
    if (taken || 'refused' in answer) this.mine.tookBack(decision, taken && undoing ? this.snapshotNow.state : null);
    return taken;
  }

  #sayWhyNot(answer: Outcome | Unanswered, notSent: string): void {
    if ('refused' in answer) this.hearer.say(answer.refused);
    if ('later' in answer) this.hearer.say(answer.later);
    if ('unanswered' in answer)
      this.hearer.say(
        answer.unanswered === 'not sent'
          ? `${notSent}; try again when the connection is back.`
          : 'The connection was lost before the answer came. When it is back, the text shows what has been done.',
      );
  }
}
