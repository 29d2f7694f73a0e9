import type { Node } from 'prosemirror-model';
import { Mapping, Step, Transform } from 'prosemirror-transform';
import { carriedOver, changeIds, OnBlocks, schema, type ChangeId } from '@tea-pencil/core';
import { packed } from './packing.js';

/** What is known of a change: who made it and when. */
export interface Known {
  author: string;
  date: string;
}

/** A batch as it was taken in, with the text before it. */
interface Run {
  version: number;
  before: Node;
  steps: readonly Step[];
  client: string;
}

/** How many of the newest batches a batch can be carried over that was made before them. */
const remembered = 400;

/** How many steps are carried over how many batches at most, multiplied. */
const mostCarried = 1_000_000;

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
    this.#runs.push({ version: this.version, before: this.doc, steps, client });
    if (this.#runs.length > 2 * remembered) this.#runs = this.#runs.slice(-remembered);
    this.doc = doc;
    this.version += steps.length;
  }

  /** The same text, to try batches on before they are kept. */
  trial = (): OpenText => new OpenText(this.doc, this.version, this.known, [...this.#runs]);

  /**
   * A batch on top of the text, carried over what has been taken in since the version it was made on, as an editor
   * does it: batch after batch, so that both come out the same.
   * @returns null when that cannot be done: the client must have missed something
   * @throws where the steps do not fit the text they say they were made on
   */
  *batch(version: number, steps: readonly object[], client: string): Generator<undefined, Transform | null> {
    const since = this.#runs.slice(this.#runs.findLastIndex((run) => run.version < version) + 1);
    if ((since[0]?.version ?? this.version) !== version || since.some((run) => run.client === client)) return null;
    const on = new OnBlocks(since[0]?.before ?? this.doc);
    let own: Step[] = [];
    for (const json of steps) {
      const step = Step.fromJSON(schema, json);
      on.step(step);
      own.push(step);
      yield;
    }
    if (!since.length) return on.addTo(new Transform(this.doc));
    const [only] = own;
    if (only && own.length === 1) {
      const step = mapped(only, since);
      const here = new Transform(this.doc);
      if (step) here.maybeStep(step);
      return here;
    }
    // Its sender carries it over too, and sends it again when that is done.
    if (own.length * since.length > mostCarried) return null;
    for (const [i, { steps: others }] of since.entries()) {
      const maps = others.map((step) => step.getMap());
      own = yield* carriedOver(own, maps, since[i + 1]?.before ?? this.doc);
    }
    const here = new OnBlocks(this.doc);
    for (const step of own) {
      here.step(step);
      yield;
    }
    return here.addTo(new Transform(this.doc));
  }
}
