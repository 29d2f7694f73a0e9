import type { Node } from 'prosemirror-model';
import { Mapping, Transform, type Step } from 'prosemirror-transform';
import { carriedOver, changeIds, OnBlocks, type ChangeId } from '@tea-pencil/core';
import { packed } from './packing.js';

/** What is known of a change: who made it and when. */
export interface Known {
  author: string;
  date: string;
}

/** A batch as it was taken in. */
interface Run {
  version: number;
  /** The text before it, where that is kept: else it comes about from the last that is. */
  before: Node | null;
  /** How many steps ago a text was last kept for good; 0 where this one is. */
  since: number;
  steps: readonly Step[];
  client: string;
}

/** How many of the newest batches a batch can be carried over that was made before them; while one is looked at, more. */
const remembered = 400;
const rememberedFor = 3000;

/**
 * Of the newest batches the text before each is kept, of those before them one every so many steps: each names all the
 * blocks of the manuscript, and hundreds of that would be many times as large as the text.
 */
const textsKept = 64;
const stepsBetween = 32;

/** How many steps are carried over how many of others at most, multiplied. */
const mostCarried = 4_000_000;

/** One step, carried over batch after batch; null when its place has gone. */
const mapped = (step: Step, runs: readonly Run[]): Step | null =>
  runs.reduce<Step | null>((now, { steps }) => now && now.map(new Mapping(steps.map((other) => other.getMap()))), step);

/** The text of a manuscript as this process holds it: its newest version, and the last batches that led there. */
export class OpenText {
  #runs: Run[];
  /** When it was last asked for, in milliseconds. */
  used = Date.now();

  /** @param known the changes that stand in the text or have been asked about */
  constructor(
    public doc: Node,
    public version: number,
    readonly known: Map<ChangeId, Known> = changeIds(doc),
    runs: Run[] = [],
  ) {
    this.#runs = runs;
  }

  #packed: { doc: Node; bytes: Promise<Buffer> } | null = null;
  /** The text as it is sent to those who open it; made once for all who do so at the same version. */
  packed(): Promise<Buffer> {
    if (this.#packed?.doc !== this.doc) this.#packed = { doc: this.doc, bytes: packed(this.doc) };
    return this.#packed.bytes;
  }

  /** Takes in a batch that makes the next versions. */
  take({ steps, doc }: Transform, client: string): void {
    const last = this.#runs.at(-1);
    const since = last ? last.since + last.steps.length : 0;
    const run = { version: this.version, before: this.doc, since: since < stepsBetween ? since : 0, steps, client };
    this.#runs.push(run);
    const older = this.#runs.at(-textsKept - 1);
    if (older?.since) older.before = null;
    const most = this.#asked.size ? rememberedFor : remembered;
    if (this.#runs.length > 2 * most) this.#runs = this.#runs.slice(this.#kept(this.#runs.length - most));
    this.doc = doc;
    this.version += steps.length;
  }

  readonly #asked = new Set<symbol>();
  /**
   * Remembers more while a batch is looked at that is to be carried over what comes meanwhile.
   * @returns to be called when it has been
   */
  remembering(): () => void {
    const one = Symbol();
    this.#asked.add(one);
    return () => void this.#asked.delete(one);
  }

  /** The same text, to try batches on before they are kept. */
  trial = (): OpenText => new OpenText(this.doc, this.version, this.known, [...this.#runs]);

  /** What has been taken in since the version that a client’s batch was made on; null where that is not known any more. */
  #since(version: number, client: string): readonly Run[] | null {
    const since = this.#runs.slice(this.#runs.findLastIndex((run) => run.version < version) + 1);
    const isKnown = (since[0]?.version ?? this.version) === version;
    return isKnown && !since.some((run) => run.client === client) ? since : null;
  }

  /** Whether a client’s batch can be carried over what came since the version it was made on. */
  reaches = (version: number, client: string): boolean => this.#since(version, client) !== null;

  /** The last batch up to this one of which the text before it is kept. */
  #kept = (index: number): number => this.#runs.findLastIndex(({ before }, n) => n <= index && before);

  /** The text before the first of the newest batches; the text as it is, where there are none of those. */
  *#before(newest: number): Generator<undefined, Node> {
    const index = this.#runs.length - newest;
    const kept = newest ? this.#kept(index) : index;
    const before = this.#runs[kept]?.before ?? this.doc;
    if (kept === index) return before;
    const on = new OnBlocks(before);
    for (const step of this.#runs.slice(kept, index).flatMap(({ steps }) => steps)) {
      on.step(step);
      yield;
    }
    return on.now;
  }

  /** A batch on the text that it was made on; null where that is not known any more. */
  *asMade(version: number, steps: readonly Step[], client: string): Generator<undefined, Transform | null> {
    const since = this.#since(version, client);
    if (!since) return null;
    const before = yield* this.#before(since.length);
    const on = new OnBlocks(before);
    for (const step of steps) {
      on.step(step);
      yield;
    }
    return on.addTo(new Transform(before));
  }

  /**
   * A batch on top of the text, carried over what has been taken in since the version it was made on. All of that at
   * once: it comes to what batch after batch would come to, and costs no more where thousands were taken in.
   * @returns null when that cannot be done: the client must have missed something
   * @throws where the steps do not fit the text they say they were made on
   */
  *batch(version: number, steps: readonly Step[], client: string): Generator<undefined, Transform | null> {
    const made = yield* this.asMade(version, steps, client);
    const since = this.#since(version, client);
    if (!made || !since?.length) return made;
    const [only] = steps;
    if (only && steps.length === 1) {
      const step = mapped(only, since);
      const here = new Transform(this.doc);
      if (step) here.maybeStep(step);
      return here;
    }
    // Its sender carries it over too, and sends it again when that is done.
    const theirs = since.flatMap((run) => run.steps.map((step) => step.getMap()));
    if (steps.length * theirs.length > mostCarried) return null;
    const here = new OnBlocks(this.doc);
    for (const step of yield* carriedOver(steps, theirs, this.doc)) {
      here.step(step);
      yield;
    }
    return here.addTo(new Transform(this.doc));
  }
}
