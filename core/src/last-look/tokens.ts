import type { Passage } from './passage.js';

/** A word of a passage. */
export interface Word {
  text: string;
  from: number;
  to: number;
}

// Letters with their marks, joined by apostrophes and hyphens: a compound with a hyphen is one word (as UAX #29 has it
// for apostrophes; that hyphens join is common practice of copy editing, no published source).
const words = /[\p{L}\p{N}][\p{L}\p{M}\p{N}]*(?:['’‐‑-][\p{L}\p{N}][\p{L}\p{M}\p{N}]*)*['’]?/gu;

/** Addresses of the net and of mail, names of files, and what stands for code: nothing in them is a word. */
const addresses =
  /\b(?:https?:\/\/|www\.)\S+|(?<!\S)\S{1,64}@\S{1,255}\.\p{L}{2,}|(?<![\w-])[\w-]{1,100}\.(?:org|com|net|edu|gov|docx|odt|txt|pdf|png|jpg|html)\b(?:\/\S*)?/giu;

const addressesKnown = new WeakMap<Passage, readonly Word[]>();

/** The addresses in a passage. */
export function addressesOf(passage: Passage): readonly Word[] {
  let found = addressesKnown.get(passage);
  if (!found) {
    found = [...passage.text.matchAll(addresses)].map(({ 0: text, index }) => ({
      text,
      from: index,
      to: index + text.length,
    }));
    addressesKnown.set(passage, found);
  }
  return found;
}

const known = new WeakMap<Passage, readonly Word[]>();

/** The words of a passage, in order; those of addresses are none. A closing apostrophe belongs to the word before. */
export function wordsOfPassage(passage: Passage): readonly Word[] {
  let found = known.get(passage);
  if (!found) {
    const all: Word[] = [];
    const skipped = addressesOf(passage);
    let next = 0;
    for (const { 0: text, index } of passage.text.matchAll(words)) {
      while (next < skipped.length && skipped[next]!.to <= index) next++;
      if (next < skipped.length && index >= skipped[next]!.from) continue;
      all.push({ text, from: index, to: index + text.length });
    }
    known.set(passage, (found = all));
  }
  return found;
}

/** The parts of the words of a text, in small letters: runs of letters and digits. */
export const partsOf = (text: string): Set<string> =>
  new Set(text.match(/[\p{L}\p{N}]+/gu)?.map((part) => part.toLowerCase()));

/** The signs before a place, but not more of them than matter: a paragraph may be a million letters long. */
export const justBefore = (text: string, at: number, many = 24): string => text.slice(Math.max(0, at - many), at);

/** The language at a place of a passage. */
export const languageAt = ({ languages }: Passage, at: number, whole: string): string =>
  languages.length ? (languages.find(({ from, to }) => from <= at && at < to)?.tag ?? whole) : whole;

/** The part of a tag that says which language it is (BCP 47). */
export const baseOf = (tag: string): string => tag.split('-')[0]!;
