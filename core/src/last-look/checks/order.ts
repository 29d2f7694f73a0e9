import type { Found } from '../finding.js';
import type { Passage } from '../passage.js';
import { justBefore } from '../tokens.js';

/** Numbers out of order, and references to what is not there. */

/** What a text numbers, by the words its captions begin with. */
type Numbered = 'table' | 'figure' | 'plate' | 'map' | 'box';
const captionWords: Readonly<Record<string, Numbered>> = {
  table: 'table',
  tab: 'table',
  tabelle: 'table',
  tableau: 'table',
  tabla: 'table',
  figure: 'figure',
  fig: 'figure',
  figs: 'figure',
  abbildung: 'figure',
  abb: 'figure',
  figura: 'figure',
  plate: 'plate',
  map: 'map',
  box: 'box',
};
const alternatives = Object.keys(captionWords).join('|');
const caption = new RegExp(`^(${alternatives})\\.?[ \\u00a0](\\d{1,4})(?=[\\s.:·–—)]|$)`, 'iu');
const reference = new RegExp(
  `(?<![\\p{L}])(${alternatives})(?:s|n|s\\.|\\.)?[ \\u00a0](\\d{1,4})(?![\\d.]\\d|\\p{L}{2})`,
  'giu',
);
const noteReference = /(?<!\p{L})(?:foot|end)?note[ \u00a0](\d{1,4})(?!\d)/giu;
const headingNumber = /^(\d{1,3}(?:\.\d{1,3})*)(?:[.)]|\s?[·–—:])?\s+\S/u;

interface Facts {
  caption: { what: Numbered; number: number; to: number } | null;
  heading: { number: readonly number[]; to: number } | null;
  references: { what: Numbered | 'note'; number: number; from: number; to: number }[];
}

const known = new WeakMap<Passage, Facts>();
function factsOf(passage: Passage): Facts {
  let facts = known.get(passage);
  if (facts) return facts;
  const { text, style } = passage;
  const named = caption.exec(text);
  const numbered = style.startsWith('heading') || style === 'title' ? headingNumber.exec(text) : null;
  const references: Facts['references'] = [];
  for (const { 0: all, 1: word, 2: number, index } of text.matchAll(reference))
    if (!named || index > 0)
      references.push({
        what: captionWords[word!.toLowerCase()]!,
        number: Number(number),
        from: index,
        to: index + all.length,
      });
  for (const { 0: all, 1: number, index } of text.matchAll(noteReference))
    references.push({ what: 'note', number: Number(number), from: index, to: index + all.length });
  facts = {
    caption: named && { what: captionWords[named[1]!.toLowerCase()]!, number: Number(named[2]), to: named[0].length },
    heading: numbered && { number: numbered[1]!.split('.').map(Number), to: numbered[1]!.length },
    references,
  };
  known.set(passage, facts);
  return facts;
}

/** Whether a passage has anything to do with any of this. */
function matters(passage: Passage): boolean {
  const { caption: one, heading, references: some } = factsOf(passage);
  const { supers, links: all, targets, pictures, notes, style } = passage;
  return !!(
    one ||
    heading ||
    some.length ||
    supers.length ||
    all.length ||
    targets.length ||
    pictures ||
    notes ||
    style !== 'body'
  );
}

/** A finding, and in which passage. */
export type Placed = Found & { at: number };

const put = (at: number, kind: Found['kind'], text: string, from: number, to: number, why: string, such: string): Placed => ({
  ...{ at, kind, from, to, why, such: `${kind}|${such}` },
  words: text.slice(from, to),
  proposals: [],
}); // prettier-ignore
const instead = (found: Placed, text: string): Placed => ({ ...found, proposals: [{ text }] });

/** Captions whose numbers do not follow on each other. */
function captions(passages: readonly Passage[]): Placed[] {
  const found: Placed[] = [];
  const last = new Map<Numbered, number>();
  passages.forEach((passage, at) => {
    const { caption: one } = factsOf(passage);
    if (!one) return;
    const before = last.get(one.what) ?? 0;
    if (one.number !== before + 1) {
      const digits = String(one.number).length;
      const why = before
        ? `The ${one.what} before it has the number ${before}.`
        : `The first ${one.what} of this text has the number ${one.number}.`;
      // A part of a book may begin with any number.
      if (before)
        found.push(instead(put(at, 'order', passage.text, one.to - digits, one.to, why, one.what), `${before + 1}`));
    }
    last.set(one.what, one.number);
  });
  return found;
}

/** Headings with numbers that do not follow on each other, level by level. */
function headings(passages: readonly Passage[]): Placed[] {
  const all = passages.flatMap((passage, at) => {
    const { heading } = factsOf(passage);
    return heading ? [{ ...heading, at, style: passage.style }] : [];
  });
  const found: Placed[] = [];
  const last = new Map<string, readonly number[]>();
  for (const { number, at, to, style } of all) {
    const level = `${style} ${number.length}`;
    const above = number.slice(0, -1).join('.');
    const before = last.get(level);
    const follows =
      !before || before.slice(0, -1).join('.') !== above
        ? number.length === 1 || number[number.length - 1] === 1 || !before
        : number[number.length - 1] === before[before.length - 1]! + 1;
    if (!follows) {
      const why = `The heading before it on this level has the number ${before!.join('.')}.`;
      const next =
        before!.slice(0, -1).join('.') === above
          ? [...before!.slice(0, -1), before![before!.length - 1]! + 1]
          : [...number.slice(0, -1), 1];
      found.push(instead(put(at, 'order', passages[at]!.text, 0, to, why, 'heading'), next.join('.')));
    }
    last.set(level, number);
  }
  return found;
}

/** Numbers of notes that were typed as superscript: each new one is one more than the one before. */
function typedNotes(passages: readonly Passage[]): Placed[] {
  const found: Placed[] = [];
  let highest = 0;
  const seen = new Set<number>();
  passages.forEach(({ supers, text, where }, at) => {
    if (where === 'note') return;
    for (const { from, to } of supers) {
      const words = text.slice(from, to);
      // A power of ten or of metres is none.
      if (!/^\d{1,3}$/.test(words) || /\d$|\b[ck]?m$/u.test(justBefore(text, from))) continue;
      const number = Number(words);
      if (!seen.has(number) && number !== highest + 1 && highest > 0)
        found.push(
          instead(
            put(at, 'order', text, from, to, `The note before it has the number ${highest}.`, 'note'),
            `${highest + 1}`,
          ),
        );
      seen.add(number);
      highest = Math.max(highest, number);
    }
  });
  return found;
}

/** References to tables, figures and notes that are not there. */
function references(passages: readonly Passage[], tables: number): Placed[] {
  const there = new Map<string, Set<number>>();
  let pictures = 0;
  let notes = 0;
  for (const passage of passages) {
    pictures += passage.pictures;
    notes += passage.notes;
    const { caption: one } = factsOf(passage);
    if (one) there.set(one.what, (there.get(one.what) ?? new Set()).add(one.number));
  }
  const without: Readonly<Record<string, number>> = {
    table: tables,
    figure: pictures,
    plate: pictures,
    map: pictures,
    box: tables,
  };
  const found: Placed[] = [];
  passages.forEach((passage, at) => {
    for (const { what, number, from, to } of factsOf(passage).references) {
      const captioned = there.get(what);
      const isThere = what === 'note' ? number <= notes : captioned ? captioned.has(number) : number <= without[what]!;
      if (isThere) continue;
      const why =
        what === 'note'
          ? `This text has ${notes === 0 ? 'no' : `only ${notes}`} notes of its own.`
          : `There is no ${what} ${number} in this text.`;
      const nearest = captioned && [...captioned].sort((a, b) => Math.abs(a - number) - Math.abs(b - number))[0];
      const one = put(at, 'reference', passage.text, from, to, why, `${what} ${number}`);
      found.push(nearest === undefined ? one : instead(one, one.words.replace(/\d+$/, String(nearest))));
    }
  });
  return found;
}

/** A name of a place in a text, as an address of the net would have it. */
const slug = (words: string) =>
  words
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replace(/\s+/g, '-');

/** Links within the text whose end is not there. */
function links(passages: readonly Passage[]): Placed[] {
  if (!passages.some((one) => one.links.some(({ href }) => href.startsWith('#')))) return [];
  const targets = new Set(passages.flatMap((one) => one.targets));
  for (const { style, text } of passages) if (style.startsWith('heading') || style === 'title') targets.add(slug(text));
  const found: Placed[] = [];
  passages.forEach((passage, at) => {
    for (const { href, from, to } of passage.links) {
      if (!href.startsWith('#')) continue;
      let name = href.slice(1);
      try {
        name = decodeURIComponent(name);
      } catch {
        // An address that is badly written is taken as it stands.
      }
      if (name && (targets.has(name) || targets.has(slug(name)))) continue;
      found.push(
        put(at, 'link', passage.text, from, to, `This link leads to “${name}”, which is not in this text.`, name),
      );
    }
  });
  return found;
}

/**
 * All of that.
 * @param passages of the whole text, in order @param tables how many tables it has
 * @returns findings, each with the number of its passage among those
 */
export function order(passages: readonly Passage[], tables: number): Placed[] {
  const numbers: number[] = [];
  passages.forEach((passage, at) => matters(passage) && numbers.push(at));
  const some = numbers.map((at) => passages[at]!);
  return [...captions(some), ...headings(some), ...typedNotes(some), ...references(some, tables), ...links(some)].map(
    (found) => ({ ...found, at: numbers[found.at]! }),
  );
}
