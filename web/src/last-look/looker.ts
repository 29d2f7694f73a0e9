import { proxy, wrap, type Remote } from 'comlink';
import type { Node } from 'prosemirror-model';
import { passagesOf, unreadableIn, type Finding, type Passage } from '@tea-pencil/core';
import { Store } from '../kit/store';
import type { Looked, Found } from './found';
import type { LookWorker, With } from './look-worker';

const nothing: Looked = {
  ...{ doc: null, found: [], inconsistencies: [], unread: [], words: 0, looking: null, problems: [] },
};

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

  look(doc: Node, settings: With): void {
    this.#waiting = { doc, with: settings };
    if (!this.#busy) void this.#go();
  }

  close(): void {
    this.#over = true;
    this.#end();
  }

  #end(): void {
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

  async #once(doc: Node, settings: With): Promise<void> {
    const blocks = await readBlocks(doc);
    const order = blocks.map(numberOf);
    const fresh = blocks.flatMap((passages, i): [number, readonly Passage[]][] =>
      this.#sent.has(order[i]!) ? [] : [[order[i]!, passages]],
    );
    this.#show({ looking: 0 });
    const { worker, remote } = this.#worker();
    const broken = new Promise<'broken'>((resolve) => (worker.onerror = () => resolve('broken')));
    const at = (part: number) => this.#show({ looking: part });
    const asked = remote.look(settings, order, fresh, proxy(at)).catch(() => 'broken' as const);
    const answer = await Promise.race([asked, broken]);
    if (answer === 'broken') return this.#broke();
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
      ...(settings.style ? unreadableIn(settings.style) : []).map(
        (find) => `The expression “${find}” of the house style cannot be read, and is left out.`,
      ),
    ];
    this.#show({ doc, found, inconsistencies, unread, words, problems, looking: null });
  }

  /** What broke says so and waits for the next time. */
  #broke(): void {
    this.#end();
    this.#show({
      looking: null,
      problems: ['This text could not be looked over here. Reload the page, and try again.'],
    });
  }

  /** Where something is written in another way than one, of the text that was looked at last. */
  rewriting = async (such: string, form: string) => (await this.#thread?.remote.rewriting(such, form)) ?? [];

  near = async (word: string, language: string) => (await this.#thread?.remote.near(word, language)) ?? [];
}
