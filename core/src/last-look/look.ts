import { breachesIn, checkersOf, settledBy, type Checker } from '../house-style/check.js';
import type { HouseStyle } from '../house-style/rules.js';
import { leftovers } from './checks/leftovers.js';
import { punctuation, repeated, spaces } from './checks/local.js';
import { order } from './checks/order.js';
import { pairs } from './checks/pairs.js';
import { ends, endsWell, isLong, sentences } from './checks/sentences.js';
import { writtenIn, type Written } from './checks/signs.js';
import { keyOf, type Finding, type Found } from './finding.js';
import type { Passage } from './passage.js';
import { rewritten } from './rewritten.js';
import { justBefore } from './tokens.js';
import { Names, nameOf, spellingOf, type Spellers, type Spelt } from './spelling/unknown.js';
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
  style: HouseStyle | null;
  /** Told before each expression that somebody wrote is run: one may never come to an end. */
  atRule?(rule: number): void;
  /** How far it is, from 0 to 1, while a whole text is read. */
  progress?(part: number): void;
}

export interface Looked {
  findings: Finding[];
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
  /** What its ends were found to be last, and between which passages. */
  ends: { before: Passage | null; next: Passage | null; asked: boolean; found: Found[] } | null;
}

interface Block {
  passages: readonly Passage[];
  facts: Facts[];
  isTable: boolean;
}

/** A text as it is given to be looked at: its blocks, told by the same array for as long as they are the same. */
export type Blocks = readonly (readonly Passage[])[];

const plainLanguage = 'und';
/** So many letters before a quotation mark say whether it opens. */
const context = 400;

export class LastLook {
  #with: LookingWith;
  #checkers: Checker[];
  #settled: ReadonlySet<string>;
  readonly #known = new Map<readonly Passage[], Block>();
  readonly #names = new Names();
  readonly #ways = new AllWays();
  #order: Block[] = [];

  constructor(looking: LookingWith) {
    this.#with = looking;
    this.#checkers = checkersOf(looking.style);
    this.#settled = settledBy(looking.style);
  }

  get #language(): string {
    return this.#with.language ?? plainLanguage;
  }

  #read(passages: readonly Passage[]): Block {
    const language = this.#language;
    const facts = passages.map((passage): Facts => {
      const next = null;
      return {
        passage,
        local: [
          ...repeated(passage, language),
          ...spaces(passage, language),
          ...punctuation(passage),
          ...sentences(passage, language),
        ],
        spelt: spellingOf(passage, language, this.#with.spellers),
        written: writtenIn(passage, language),
        styled: this.#checkers.filter(({ open }) => !open).flatMap((one) => breachesIn(one, passage, language)),
        ends: next,
      };
    });
    for (const { spelt, written } of facts) {
      this.#names.add(spelt.unknown);
      this.#ways.add(written);
    }
    return { passages, facts, isTable: passages.some(({ where }) => where === 'table') };
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
    for (const [i, checker] of this.#checkers.entries()) {
      if (!checker.open) continue;
      this.#with.atRule?.(this.#with.style!.rules.indexOf(checker.rule));
      for (const { facts } of fresh)
        for (const one of facts) one.styled.push(...breachesIn(this.#checkers[i]!, one.passage, this.#language));
    }
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
    const places: { block: number; passage: number; facts: Facts }[] = [];
    let tables = 0;
    this.#order.forEach(({ facts, isTable }, block) => {
      if (isTable) tables++;
      facts.forEach((one, passage) => places.push({ block, passage, facts: one }));
    });
    const passages = places.map(({ facts }) => facts.passage);
    const findings: Finding[] = [];
    const put = (at: number, found: Found) => {
      const { block, passage, facts } = places[at]!;
      const { edits, text } = facts.passage;
      const { from, to } = found;
      const edit = found.change ? undefined : edits.find((one) => one.from <= to && one.to >= from);
      findings.push({ ...found, ...(edit && { change: edit.change }), block, passage, key: keyOf(found, text) });
    };
    const asked = this.#asksForEnds(passages);
    const inText = passages.map(({ where }) => where === 'text');
    const inconsistencies = this.#ways.several().filter(({ such }) => !this.#settled.has(such));
    const rare = new Map(inconsistencies.map((one) => [one.such, one]));
    const unread = new Map<string, number>();
    places.forEach(({ facts }, at) => {
      const { passage, local, spelt, styled, written } = facts;
      for (const found of local) put(at, found);
      for (const found of styled) put(at, found);
      const [before, next] = inText[at]
        ? [neighbour(passages, inText, at, -1), neighbour(passages, inText, at, 1)]
        : [null, null];
      for (const found of endsOf(facts, before, next, asked)) put(at, found);
      for (const found of leftovers(passage, next, passages.length === 1)) put(at, found);
      for (const unknown of spelt.unknown) {
        const found = this.#spelling(unknown);
        if (found) put(at, found);
      }
      for (const [language, words] of spelt.unread) unread.set(language, (unread.get(language) ?? 0) + words);
      if (rare.size)
        for (const one of written) {
          const all = rare.get(one.such);
          if (all && all.forms[0]!.form !== one.form) put(at, this.#mixed(one, all, passage));
        }
    });
    for (const { at, ...found } of order(passages, tables)) put(at, found);
    findings.sort((a, b) => a.block - b.block || a.passage - b.passage || a.from - b.from);
    let words = 0;
    for (const { facts } of places) words += facts.passage.text.match(/\S+/g)?.length ?? 0;
    return {
      findings,
      inconsistencies,
      unread: [...unread].map(([language, many]) => ({ language, words: many })),
      words,
    };
  }

  /** Whether the paragraphs of a text end with a point: most of the long ones do. */
  #asksForEnds(passages: readonly Passage[]): boolean {
    let long = 0;
    let well = 0;
    for (const passage of passages) {
      if (!isLongKnown(passage)) continue;
      long++;
      if (endsWellKnown(passage)) well++;
    }
    return long > 0 && well >= long * 0.75;
  }

  #spelling({ text, from, to, language, named }: Spelt['unknown'][number]): Found | null {
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

/** The passage of the running text before or after one. */
function neighbour(passages: readonly Passage[], inText: readonly boolean[], at: number, step: 1 | -1): Passage | null {
  for (let i = at + step; i >= 0 && i < passages.length; i += step) if (inText[i]) return passages[i]!;
  return null;
}

const remembered = <T>(of: (passage: Passage) => T): ((passage: Passage) => T) => {
  const known = new WeakMap<Passage, { value: T }>();
  return (passage) => {
    let found = known.get(passage);
    if (!found) known.set(passage, (found = { value: of(passage) }));
    return found.value;
  };
};
const isLongKnown = remembered(isLong);
const endsWellKnown = remembered(({ text }) => endsWell(text));

/** What depends on the passages around it, found once for as long as those are the same. */
function endsOf(facts: Facts, before: Passage | null, next: Passage | null, asked: boolean): Found[] {
  const known = facts.ends;
  if (known && known.before === before && known.next === next && known.asked === asked) return known.found;
  const { passage } = facts;
  const found = [...ends(passage, before, next, asked), ...pairs(passage, next)];
  facts.ends = { before, next, asked, found };
  return found;
}
