import { getHeapStatistics } from 'node:v8';
import { weightOf } from '@tea-pencil/core';
import type { OpenText } from './open-text.js';

/** How long a text that nobody asks for stays in memory, in milliseconds. */
const idleTime = 10 * 60_000;
/** How often those are looked for. */
const pause = 60_000;

/** How many times as large a text is in memory as it is written down: measured, 2.6 full of changes, 3.2 in short lines. */
const inMemory = 3;
/** What part of what this process may use its texts may take. */
const share = 4;
const mostWeight = getHeapStatistics().heap_size_limit / share / inMemory;

/**
 * The texts that this process holds. Those that nobody asks for are let go after a while; before that those that were
 * asked for longest ago, where all of them are more than its memory is for. Nothing is lost by it: what is kept stands in
 * the log, and is read again when it is asked for.
 */
export class HeldTexts {
  readonly #held = new Map<string, { reading: Promise<OpenText | null>; text?: OpenText | null }>();
  readonly #sweeper = setInterval(() => this.#forgetIdle(), pause).unref();

  /**
   * @param read reads the newest text; null where there is none
   * @param isBusy whether somebody is just working with it
   * @param most how large all may be together, in letters as they are written down
   */
  constructor(
    private readonly read: (manuscript: string) => Promise<OpenText | null>,
    private readonly isBusy: (manuscript: string) => boolean,
    private readonly most = mostWeight,
  ) {}

  stop = (): void => clearInterval(this.#sweeper);

  has = (manuscript: string): boolean => this.#held.has(manuscript);

  /** The text if it is held, as it is held; it counts as not asked for. */
  async atHand(manuscript: string): Promise<OpenText | null> {
    return (await this.#held.get(manuscript)?.reading.catch(() => null)) ?? null;
  }

  /** The text, read where it is not held. */
  async get(manuscript: string): Promise<OpenText | null> {
    const held = this.#held.get(manuscript);
    const text = await (held ?? this.#begin(manuscript)).reading;
    if (text) text.used = Date.now();
    return text;
  }

  #begin(manuscript: string): { reading: Promise<OpenText | null> } {
    const held: { reading: Promise<OpenText | null>; text?: OpenText | null } = { reading: this.read(manuscript) };
    this.#held.set(manuscript, held);
    const notThere = () => void (this.#held.get(manuscript) === held && this.#held.delete(manuscript));
    held.reading.then((text) => {
      held.text = text;
      if (text) this.#makeRoom(manuscript);
      else notThere();
    }, notThere);
    return held;
  }

  /** The next who asks has it read anew. */
  forget = (manuscript: string): void => void this.#held.delete(manuscript);

  /** Those that nobody is just working with, the one that was asked for longest ago first. */
  #unused(): [string, OpenText][] {
    const read = [...this.#held].flatMap(([id, { text }]): [string, OpenText][] => (text ? [[id, text]] : []));
    return read.filter(([id]) => !this.isBusy(id)).sort(([, a], [, b]) => a.used - b.used);
  }

  #makeRoom(besides: string): void {
    let all = [...this.#held.values()].reduce((sum, { text }) => sum + (text ? weightOf(text.doc) : 0), 0);
    for (const [manuscript, { doc }] of this.#unused()) {
      if (all <= this.most) return;
      if (manuscript === besides) continue;
      all -= weightOf(doc);
      this.forget(manuscript);
    }
  }

  #forgetIdle(): void {
    for (const [manuscript, { used }] of this.#unused()) if (Date.now() - used >= idleTime) this.forget(manuscript);
  }
}
