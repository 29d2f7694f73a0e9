import { proxy, wrap, type Remote } from 'comlink';
import type { Node } from 'prosemirror-model';
import { passagesOf, type Finding, type HouseStyle, type Passage } from '@tea-pencil/core';
import { Store } from '../kit/store';
import type { Looked, Found } from './found';
import type { LookWorker, With } from './look-worker';

const nothing: Looked = {
  ...{ doc: null, found: [], inconsistencies: [], unread: [], words: 0, looking: null, problems: [] },
};

/** How long one expression of a style may take, in milliseconds. */
const patience = 4000;
const languageNames: Record<string, string> = {
  'en-gb': 'British English',
  en: 'American English',
  de: 'German',
  fr: 'French',
  es: 'Spanish',
};

/** Numbers for blocks, for as long as those live. */
const numbers = new WeakMap<readonly Passage[], number>();
let next = 0;
function numberOf(passages: readonly Passage[]): number {
  let number = numbers.get(passages);
  if (number === undefined) numbers.set(passages, (number = ++next));
  return number;
}

/** So long blocks are read before what waits is let through, in milliseconds. */
const breath = 10;

/** The passages of a text. Of a whole book they are read piece by piece, so that no letter waits for it. */
async function readBlocks(doc: Node): Promise<(readonly Passage[])[]> {
  const all: (readonly Passage[])[] = [];
  let begun = performance.now();
  for (const block of doc.children) {
    all.push(passagesOf(block));
    if (performance.now() - begun < breath) continue;
    await new Promise((go) => setTimeout(go));
    begun = performance.now();
  }
  return all;
}

/** Looks at the text of a manuscript, in a thread of its own; asked again while it looks, it goes on with the newest. */
export class Looker {
  readonly looked = new Store(nothing);
  #thread: { worker: Worker; remote: Remote<LookWorker> } | null = null;
  #sent = new Set<number>();
  #found = new Map<number, readonly Finding[]>();
  #waiting: { doc: Node; with: With } | null = null;
  #busy = false;
  #over = false;
  /** Rules that were stopped, as text: they are not run again. */
  readonly #stopped = new Set<string>();
  #clock: ReturnType<typeof setTimeout> | undefined;

  look(doc: Node, settings: With): void {
    this.#waiting = { doc, with: settings };
    if (!this.#busy) void this.#go();
  }

  close(): void {
    this.#over = true;
    this.#end();
  }

  #end(): void {
    clearTimeout(this.#clock);
    this.#thread?.worker.terminate();
    this.#thread = null;
    this.#sent = new Set();
    this.#found = new Map();
  }

  #show(part: Partial<Looked>): void {
    if (!this.#over) this.looked.set({ ...this.looked.get(), ...part });
  }

  async #go(): Promise<void> {
    this.#busy = true;
    while (this.#waiting && !this.#over) {
      const { doc, with: settings } = this.#waiting;
      this.#waiting = null;
      await this.#once(doc, settings);
    }
    this.#busy = false;
  }

  #worker() {
    if (!this.#thread) {
      const worker = new Worker(new URL('./look-worker.ts', import.meta.url), { type: 'module' });
      this.#thread = { worker, remote: wrap<LookWorker>(worker) };
    }
    return this.#thread;
  }

  /** The style without the rules that were stopped. */
  #runnable(style: HouseStyle | null): HouseStyle | null {
    if (!style || !this.#stopped.size) return style;
    return { ...style, rules: style.rules.filter((rule) => !this.#stopped.has(JSON.stringify(rule))) };
  }

  async #once(doc: Node, settings: With): Promise<void> {
    const blocks = await readBlocks(doc);
    const order = blocks.map(numberOf);
    const style = this.#runnable(settings.style);
    const fresh = blocks.flatMap((passages, i): [number, readonly Passage[]][] =>
      this.#sent.has(order[i]!) ? [] : [[order[i]!, passages]],
    );
    this.#show({ looking: 0 });
    const { worker, remote } = this.#worker();
    let giveUp: (because: string) => void = () => {};
    const given = new Promise<string>((resolve) => (giveUp = resolve));
    worker.onerror = () => giveUp('broken');
    const at = (what: { rule: number } | { part: number }) => {
      if ('part' in what) return this.#show({ looking: what.part });
      clearTimeout(this.#clock);
      this.#clock = setTimeout(() => {
        this.#stopped.add(JSON.stringify(style!.rules[what.rule]));
        giveUp(`endless ${style!.rules[what.rule]!.not[0]}`);
      }, patience);
    };
    const asked = remote.look({ ...settings, style }, order, fresh, proxy(at)).catch(() => 'broken');
    const answer = await Promise.race([asked, given]);
    clearTimeout(this.#clock);
    if (typeof answer === 'string') return this.#gaveUp(answer, doc, settings);
    this.#sent = new Set(order);
    const now = new Map(order.map((number) => [number, this.#found.get(number) ?? []]));
    for (const [number, findings] of answer.found) now.set(number, findings);
    this.#found = now;
    const found = order.flatMap((number, i) => now.get(number)!.map((one): Found => ({ ...one, block: doc.child(i) })));
    const { inconsistencies, unread, words, missing } = answer;
    const problems = [
      ...missing.map(
        (name) =>
          `The ${languageNames[name]} dictionary could not be fetched; its words are not looked at. Reload to try again.`,
      ),
      ...[...this.#stopped].map((rule) => {
        const { not } = JSON.parse(rule) as { not: string[] };
        return `The expression “${not[0]}” of the house style does not come to an end in this text; it was stopped and is left out.`;
      }),
    ];
    this.#show({ doc, found, inconsistencies, unread, words, problems, looking: null });
  }

  /** What was given up is begun anew, without the rule that did not end; what broke says so and waits for the next time. */
  #gaveUp(because: string, doc: Node, settings: With): void {
    this.#end();
    if (because === 'broken')
      return this.#show({
        looking: null,
        problems: ['This text could not be looked over here. Reload the page, and try again.'],
      });
    this.#waiting ??= { doc, with: settings };
  }

  /** Where something is written in another way than one, of the text that was looked at last. */
  rewriting = async (such: string, form: string) => (await this.#thread?.remote.rewriting(such, form)) ?? [];

  near = async (word: string, language: string) => (await this.#thread?.remote.near(word, language)) ?? [];
}
