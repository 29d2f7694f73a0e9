import { asText } from '../manuscript/values.js';
import { countWords } from '../manuscript/words.js';
import { broughtInBy } from './brought-in.js';
import { leftovers } from './checks/leftovers.js';
import { punctuation, repeated, spaces } from './checks/local.js';
import { order, type Placed } from './checks/order.js';
import { pairs } from './checks/pairs.js';
import { asksForEnds, ends, sentences } from './checks/sentences.js';
import { writtenIn, type Written } from './checks/signs.js';
import { keyOf, type Finding, type Found } from './finding.js';
import { Kept, Together } from './kept.js';
import type { Passage } from './passage.js';
import { context, rewritten } from './rewritten.js';
import type { Check, Ruling } from './ruling.js';
import { Names, nameOf, spellingOf, type Spellers, type Spelt } from './spelling/unknown.js';
import { justBefore, partsOf } from './tokens.js';
import { AllWays, type Inconsistency } from './ways.js';

/**
 * The last look at a text: all that may be wrong with it, kept up while it is written. Of what has changed only the blocks
 * that are new are read again.
 */

/** What it looks with. */
export interface LookingWith {
  /** The language of the manuscript (BCP 47); null where it has none. */
  language: string | null;
  spellers: Spellers;
  ruling: Ruling | null;
  /** How far it is, from 0 to 1, while a whole text is read. */
  progress?(part: number): void;
}

export interface Looked {
  /** What is found in each block, in the order of the text; the same array as before where nothing has changed. */
  found: (readonly Finding[])[];
  inconsistencies: Inconsistency[];
  /** How many words are of languages that no dictionary here is for. */
  unread: { language: string; words: number }[];
  words: number;
}

/** A stretch of a text, and what would stand there instead. */
export interface Rewriting {
  block: number;
  passage: number;
  from: number;
  to: number;
  words: string;
  text: string;
}

/** What is known of one passage. */
interface Facts {
  passage: Passage;
  local: Found[];
  spelt: Spelt;
  written: Written[];
  styled: Found[];
}

interface Block {
  facts: Facts[];
  /** Those of its passages that are of the running text. */
  running: readonly Passage[];
  isTable: boolean;
  words: number;
  /** What was found last, part by part, and in view of what. */
  ends: Kept<Finding[]>;
  ways: Kept<Finding[]>;
  spelling: Kept<Finding[]>;
  all: Kept<readonly Finding[]>;
  whole: Kept<readonly Finding[]>;
}

/** What of the whole text matters to each block; each the same object for as long as it is the same. */
interface Around {
  asksForEnds: boolean;
  alone: boolean;
  ways: ReadonlyMap<string, Inconsistency>;
  names: string;
}

/** A text as it is given to be looked at: its blocks, told by the same array for as long as they are the same. */
export type Blocks = readonly (readonly Passage[])[];

const plainLanguage = 'und';

export class LastLook {
  readonly #with: LookingWith;
  readonly #known = new Map<readonly Passage[], Block>();
  readonly #names = new Names();
  readonly #ways = new AllWays();
  #order: Block[] = [];
  #several: ReadonlyMap<string, Inconsistency> = new Map();
  readonly #around = new Together<Around>();

  constructor(looking: LookingWith) {
    this.#with = looking;
  }

  get #language(): string {
    return this.#with.language ?? plainLanguage;
  }

  #checks(open: boolean): Check[] {
    return (this.#with.ruling?.checks ?? []).filter((one) => one.open === open);
  }

  #read(passages: readonly Passage[]): Block {
    const language = this.#language;
    const checks = this.#checks(false);
    // Of a thousand rules about words a few have to do with a passage.
    const stands = (passage: Passage) => {
      const parts = partsOf(passage.text);
      return ({ needs }: Check) => !needs || needs.some((part) => parts.has(part));
    };
    const facts = passages.map((passage): Facts => ({
      passage,
      local: [
        ...repeated(passage, language),
        ...spaces(passage, language),
        ...punctuation(passage),
        ...sentences(passage, language),
      ],
      spelt: spellingOf(passage, language, this.#with.spellers),
      written: writtenIn(passage, language),
      styled: checks.length ? checks.filter(stands(passage)).flatMap((one) => one.findings(passage, language)) : [],
    }));
    for (const { spelt, written } of facts) {
      this.#names.add(spelt.unknown);
      this.#ways.add(written);
    }
    return {
      facts,
      running: passages.filter(({ where }) => where === 'text'),
      isTable: passages.some(({ where }) => where === 'table'),
      words: passages.reduce((sum, { text }) => sum + countWords(text), 0),
      ends: new Kept(),
      ways: new Kept(),
      spelling: new Kept(),
      all: new Kept(),
      whole: new Kept(),
    };
  }

  #forget({ facts }: Block): void {
    for (const { spelt, written } of facts) {
      this.#names.remove(spelt.unknown);
      this.#ways.remove(written);
    }
  }

  /** The expressions of the style, one after the other over all that is new. */
  #runExpressions(fresh: readonly Block[]): void {
    if (!fresh.length) return;
    for (const check of this.#checks(true))
      for (const { facts } of fresh)
        for (const { styled, passage } of facts) styled.push(...check.findings(passage, this.#language));
  }

  /** Looks at a text, or again at what has changed in it. */
  look(blocks: Blocks): Looked {
    const gone = new Set(this.#known.keys());
    const fresh: Block[] = [];
    this.#order = blocks.map((passages, i) => {
      gone.delete(passages);
      let block = this.#known.get(passages);
      if (!block) {
        this.#known.set(passages, (block = this.#read(passages)));
        fresh.push(block);
        if (fresh.length % 50 === 0) this.#with.progress?.(i / blocks.length);
      }
      return block;
    });
    for (const passages of gone) {
      this.#forget(this.#known.get(passages)!);
      this.#known.delete(passages);
    }
    this.#runExpressions(fresh);
    return this.#all();
  }

  #all(): Looked {
    const passages: Passage[] = [];
    const unread = new Map<string, number>();
    let tables = 0;
    let words = 0;
    for (const block of this.#order) {
      if (block.isTable) tables++;
      words += block.words;
      for (const { passage, spelt } of block.facts) {
        passages.push(passage);
        for (const [language, many] of spelt.unread) unread.set(language, (unread.get(language) ?? 0) + many);
      }
    }
    const around = this.#lookAround(passages);
    const found = this.#each(around);
    this.#inOrder(found, order(passages, tables));
    return {
      found,
      inconsistencies: [...around.ways.values()],
      unread: [...unread].map(([language, many]) => ({ language, words: many })),
      words,
    };
  }

  /** What of the whole text matters to each block. */
  #lookAround(passages: readonly Passage[]): Around {
    const { ruling } = this.#with;
    const inconsistencies = this.#ways.several().filter((one) => !ruling?.settles(one));
    const ways = new Map(inconsistencies.map((one) => [one.such, one]));
    if (!sameWays(this.#several, ways)) this.#several = ways;
    return this.#around.same({
      asksForEnds: asksForEnds(passages),
      alone: passages.length === 1,
      ways: this.#several,
      names: this.#names.signature(),
    });
  }

  /** What is found in each block, in view of the passages before and after it. */
  #each(around: Around): (readonly Finding[])[] {
    const blocks = this.#order;
    let before: Passage | null = null;
    let upcoming = 0;
    return blocks.map((block, i) => {
      upcoming = Math.max(upcoming, i + 1);
      while (upcoming < blocks.length && !blocks[upcoming]!.running.length) upcoming++;
      const next = blocks[upcoming]?.running[0] ?? null;
      const previous = before;
      before = block.running[block.running.length - 1] ?? before;
      return block.whole.get([around, previous, next], () => this.#findIn(block, around, previous, next));
    });
  }

  #findIn(block: Block, around: Around, before: Passage | null, next: Passage | null): readonly Finding[] {
    const { facts } = block;
    const { asksForEnds: asked, alone, ways, names } = around;
    const each = (find: (one: Facts, n: number) => Found[]) =>
      facts.flatMap((one, n) => find(one, n).map((found) => findingIn(one.passage, n, found)));
    const atEnds = block.ends.get([asked, alone, before, next], () => {
      const inText = block.running;
      return each(({ passage, local, styled }) => {
        const at = inText.indexOf(passage);
        const previous = at < 0 ? null : (inText[at - 1] ?? before);
        const following = at < 0 ? null : (inText[at + 1] ?? next);
        return [
          ...local,
          ...styled,
          ...ends(passage, previous, following, asked),
          ...pairs(passage, following),
          ...leftovers(passage, following, alone),
        ];
      });
    });
    const written = block.ways.get([ways], () =>
      ways.size === 0
        ? []
        : each((one) =>
            one.written.flatMap((each) => {
              const all = ways.get(each.such);
              return all && all.forms[0]!.form !== each.form ? [this.#mixed(each, all, one.passage)] : [];
            }),
          ),
    );
    const unknown = facts.some(({ spelt }) => spelt.unknown.length > 0);
    const spelt = block.spelling.get([unknown && names], () =>
      unknown ? each((one) => one.spelt.unknown.flatMap((word) => this.#spelling(word) ?? [])) : [],
    );
    return block.all.get([atEnds, written, spelt], () => {
      // What the style says of a word is enough.
      const styled = atEnds.filter(({ kind }) => kind === 'style');
      const unsaid = ({ passage, from, to }: Finding) =>
        !styled.some((one) => one.passage === passage && one.from <= from && one.to >= to);
      const all = [...atEnds, ...written, ...(styled.length ? spelt.filter(unsaid) : spelt)];
      return all.length ? all.sort(inReadingOrder) : nothing;
    });
  }

  /** Puts what only shows in the whole text where it belongs. @param placed each with the number of its passage in the text */
  #inOrder(found: (readonly Finding[])[], placed: readonly Placed[]): void {
    if (!placed.length) return;
    const begins: number[] = [];
    let n = 0;
    for (const { facts } of this.#order) {
      begins.push(n);
      n += facts.length;
    }
    const byBlock = new Map<number, Finding[]>();
    for (const { at, ...one } of placed) {
      const block = begins.findLastIndex((begin) => begin <= at);
      const number = at - begins[block]!;
      const finding = findingIn(this.#order[block]!.facts[number]!.passage, number, one);
      byBlock.set(block, [...(byBlock.get(block) ?? []), finding]);
    }
    for (const [block, more] of byBlock) found[block] = [...found[block]!, ...more].sort(inReadingOrder);
  }

  #spelling({ text, from, to, language, named }: Spelt['unknown'][number]): Found | null {
    if (this.#with.ruling?.isRight(nameOf(text))) return null;
    const often = this.#names.often(text);
    const meant = /^\p{Lu}/u.test(text) ? this.#names.meant(text) : null;
    if (often && !meant) return null;
    const name = nameOf(text);
    return {
      kind: 'spelling',
      from,
      to,
      words: text,
      why: meant
        ? `“${text}” is not in the dictionary; “${nameOf(meant)}” stands here often.`
        : named
          ? `“${name}” is not in the dictionary; it may be a name.`
          : `“${text}” is not in the dictionary.`,
      proposals: meant ? [{ text: meant }] : [],
      such: `spelling|${language}|${name}`,
      language,
      later: true,
    };
  }

  #mixed({ such, form, from, to }: Written, { forms, what }: Inconsistency, passage: Passage): Found {
    const old = passage.text.slice(from, to);
    const [first] = forms;
    const instead = rewritten(such, old, first!.form, justBefore(passage.text, from, context), this.#language);
    const many = forms.find((one) => one.form === form)!.many;
    return {
      kind: such.startsWith('mixed') ? 'mixed' : 'variants',
      from,
      to,
      words: old,
      why: such.startsWith('mixed')
        ? `Two kinds of ${what} stand in this text: ${shown(first!.form)} ${first!.many} times, ${shown(form)} ${many} times.`
        : `Written in two ways: ${shown(first!.form)} ${first!.many} times, ${shown(form)} ${many} times.`,
      proposals: instead === old ? [] : [{ text: instead }],
      such,
    };
  }

  /** Where something is written in another way than one, and what it would become. */
  rewriting(such: string, form: string): Rewriting[] {
    const all: Rewriting[] = [];
    this.#order.forEach(({ facts }, block) =>
      facts.forEach(({ passage: { text }, written }, passage) => {
        for (const one of written) {
          if (one.such !== such || one.form === form) continue;
          const words = text.slice(one.from, one.to);
          const instead = rewritten(such, words, form, justBefore(text, one.from, context), this.#language);
          if (instead !== words) all.push({ block, passage, from: one.from, to: one.to, words, text: instead });
        }
      }),
    );
    return all;
  }

  /** Words that are like one that is not known, the likeliest first. */
  near(word: string, speller: keyof Spellers | null): string[] {
    return (speller && this.#with.spellers[speller]?.near(word)) ?? [];
  }
}

/** A way of writing as a sentence can show it. */
const shown = (form: string) => `“${form.trim() || form}”`;

/** What findings have in common is told by so many letters at most. */
const longestSuch = 200;

const nothing: readonly Finding[] = [];
const inReadingOrder = (a: Finding, b: Finding) => a.passage - b.passage || a.from - b.from || a.to - b.to;

/** A finding with the passage it is in, and the change that has brought it in. */
function findingIn(where: Passage, passage: number, found: Found): Finding {
  const edit = broughtInBy(where, found);
  const such = asText(found.such.slice(0, longestSuch));
  return { ...found, such, ...(edit && { change: edit.change }), passage, key: keyOf({ ...found, such }, where.text) };
}

const sameWays = (a: Around['ways'], b: Around['ways']): boolean =>
  a.size === b.size &&
  [...a].every(([such, { forms }]) => {
    const other = b.get(such)?.forms;
    return (
      other?.length === forms.length &&
      forms.every(({ form, many }, i) => other[i]!.form === form && other[i]!.many === many)
    );
  });
