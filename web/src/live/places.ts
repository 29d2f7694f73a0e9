import { getVersion, sendableSteps } from 'prosemirror-collab';
import type { EditorState } from 'prosemirror-state';
import type { Step } from 'prosemirror-transform';
import { mappedRange, type Range, type Place } from '@tea-pencil/core';
import type { Presence, Standing } from '@tea-pencil/wire';
import { Listeners } from '../kit/listeners';
import type { Channel } from './channel';

/** Someone else who has the manuscript open, and where in the text as it stands here. */
export interface Other {
  client: string;
  person: string;
  anchor: number;
  head: number;
  /** The first place they have in view. */
  top: number;
}

type Spot = Pick<Standing, 'anchor' | 'head' | 'top'>;

/** One's own place is told at most so often, and again when nothing has happened for so long, in milliseconds. */
const pause = 120;
const silence = 20_000;
/** Someone of whom nothing has been heard for so long is taken to be gone. */
const forgotten = 50_000;
/** How many steps back a place can be brought forward. */
const remembered = 400;

const mapped = ({ anchor, head, top }: Spot, map: (pos: number) => number): Spot => ({
  anchor: map(anchor),
  head: map(head),
  top: map(top),
});

const isSame = (a: Standing, b: Standing): boolean =>
  a.version === b.version && a.anchor === b.anchor && a.head === b.head && a.top === b.top;

/** Where everyone is. It is told as positions in the text that the server has, and kept nowhere. */
export class Places {
  readonly #others = new Map<string, { person: string; at: Standing; heard: number }>();
  readonly #listeners = new Listeners();
  #steps: { version: number; step: Step }[] = [];
  #top = 0;
  #told = '';
  #timer: ReturnType<typeof setTimeout> | undefined;
  #drawing: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly client: string,
    private readonly window: string,
    private readonly channel: Channel,
    private readonly state: () => EditorState | null,
  ) {}

  open(): () => void {
    const beat = setInterval(() => {
      this.#tell(false);
      for (const [client, { heard }] of this.#others) if (Date.now() - heard > forgotten) this.gone(client);
    }, silence);
    return () => {
      clearInterval(beat);
      clearTimeout(this.#timer);
      clearTimeout(this.#drawing);
    };
  }

  subscribe = this.#listeners.add;

  #changed(): void {
    this.#drawing ??= setTimeout(() => {
      this.#drawing = undefined;
      this.#listeners.tell();
    }, pause / 2);
  }

  hear({ client, person, at, asks }: Presence): void {
    if (client === this.client) return;
    const now = this.#forward(at);
    const known = this.#others.get(client);
    if (known && !isSame(known.at, now)) this.#others.delete(client); // for it comes last now
    this.#others.set(client, { person, at: now, heard: Date.now() });
    this.#changed();
    // Not all at once, where many are here.
    if (asks) setTimeout(() => this.#tell(false), Math.random() * 2 * pause);
  }

  /** Without a connection nobody knows where the others are. */
  lost(): void {
    this.#others.clear();
    this.#changed();
  }

  gone(client: string): void {
    if (this.#others.delete(client)) this.#changed();
  }

  /** A place brought forward over the steps since its version; one that is ahead waits for them. */
  #forward(at: Standing): Standing {
    let now = at;
    for (const { version, step } of this.#steps) {
      if (version !== now.version) continue;
      now = { version: version + 1, ...mapped(now, (pos) => step.getMap().map(pos)) };
    }
    return now;
  }

  /**
   * A place of the text that the server had at a version, in the text as it stands here.
   * @returns null where it cannot be known any more, or not yet
   */
  bringHere({ version, from, to }: Place): Range | null {
    const state = this.state();
    if (!state) return null;
    const now = getVersion(state);
    const first = this.#steps[0]?.version ?? now;
    if (version > now || version < Math.min(first, now)) return null;
    const passed = this.#steps.filter((one) => one.version >= version).map(({ step }) => step);
    const all = [...passed, ...(sendableSteps(state)?.steps ?? [])];
    const forward = (pos: number, side: 1 | -1) => all.reduce((p, step) => step.getMap().map(p, side), pos);
    return mappedRange({ from, to }, forward);
  }

  /** A place of the text as it stands here, as the server can understand it. */
  asKept({ from, to }: Range): Place {
    const state = this.state()!;
    const unkept = [...(sendableSteps(state)?.steps ?? [])].reverse();
    const back = (pos: number) => unkept.reduce((p, step) => step.getMap().invert().map(p), pos);
    const start = back(from);
    return { version: getVersion(state), from: start, to: Math.max(start, back(to)) };
  }

  /** Notes steps that the server has taken in. */
  passed(steps: readonly Step[]): void {
    const state = this.state();
    let version = this.#steps.length ? this.#steps[this.#steps.length - 1]!.version + 1 : getVersion(state!);
    for (const step of steps) this.#steps.push({ version: version++, step });
    if (this.#steps.length > 2 * remembered) this.#steps = this.#steps.slice(-remembered);
    for (const other of this.#others.values()) other.at = this.#forward(other.at);
    if (this.#others.size) this.#changed();
  }

  /** The server's text is another one: what led to the one before is no help any more. */
  forget(): void {
    this.#steps = [];
  }

  /** Where all the others are in the text as it stands here, by window; last the one in which something was done last. */
  others(): Other[] {
    const state = this.state();
    if (!state) return [];
    const unkept = sendableSteps(state)?.steps ?? [];
    const { size } = state.doc.content;
    const here = (pos: number) =>
      Math.min(
        size,
        unkept.reduce((p, step) => step.getMap().map(p), pos),
      );
    return [...this.#others].map(([client, { person, at }]) => ({ client, person, ...mapped(at, here) }));
  }

  /** One has come, or come back. */
  arrived(): void {
    this.#told = '';
    this.#tell(true);
  }

  /** The first place that one has in view. */
  looksAt(top: number): void {
    this.#top = top;
    this.moved();
  }

  /** One's own place may have changed. */
  moved(): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = undefined;
      const { anchor, head } = this.state()?.selection ?? {};
      if (`${anchor} ${head} ${this.#top}` !== this.#told) this.#tell(false);
    }, pause);
  }

  #tell(asks: boolean): void {
    const state = this.state();
    if (!state) return;
    const { anchor, head } = state.selection;
    const top = Math.min(this.#top, state.doc.content.size);
    this.#told = `${anchor} ${head} ${this.#top}`;
    const unkept = [...(sendableSteps(state)?.steps ?? [])].reverse();
    const kept = (pos: number) => unkept.reduce((p, step) => step.getMap().invert().map(p), pos);
    const at: Standing = { version: getVersion(state), ...mapped({ anchor, head, top }, kept) };
    this.channel.say('presence', { client: this.window, at, asks });
  }
}
