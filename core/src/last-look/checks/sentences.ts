import type { Found } from '../finding.js';
import type { Passage } from '../passage.js';
import { baseOf, justBefore, languageAt } from '../tokens.js';

/** Sentences that have lost their end or their capital, as where a decision has taken it with it. */

/** Abbreviations after which a sentence goes on (common practice, no published source). */
const abbreviations = new Set(
  (
    'e.g i.e etc cf vs viz al approx ca c fig figs p pp vol vols no nos ed eds mr mrs ms dr prof st co inc ltd jr sr ' +
    'z.b d.h u.a usw bzw ca vgl nr bd hrsg evtl ggf s abb jan feb mar apr aug sept oct nov dec ' +
    'p.ex c.-à-d env av apr ex sr sra ud uds pág núm a.m p.m spp sp ssp var'
  ).split(' '),
);

/** Small words that stand with a capital only where a sentence begins. */
const starters: Readonly<Record<string, ReadonlySet<string>>> = {
  en: new Set(
    'The A An This These Those It He She They We You There If When While Although Because But And So Then In On At From With As Its Their His Her Our'.split(
      ' ',
    ),
  ),
  de: new Set('Der Die Das Ein Eine Es Er Wir Und Aber Wenn Weil Dann Dort Hier Dieser Diese Dieses Im Am'.split(' ')),
  fr: new Set('Le La Les Un Une Des Il Elle Ils Elles Nous On Mais Et Si Quand Dans Ce Cette Ces'.split(' ')),
  es: new Set('El La Los Las Un Una Pero Y Si Cuando En Este Esta Estos Es'.split(' ')),
};

const isProse = ({ style, list, where, text }: Passage) =>
  (style === 'body' || style === 'quotation') && !list && where === 'text' && text.trim() !== '';

/** Whether a passage ends as a sentence does; what ends with a thing is not asked. */
const endsWell = (text: string): boolean =>
  /[.!?…:;,—–\ufffc]["'”’»“‘)\]]*$|[)\]]$/u.test(justBefore(text, text.trimEnd().length));

/** Prose that is long enough to be a sentence. */
const isLong = (passage: Passage): boolean => isProse(passage) && passage.text.split(/\s+/).length >= 8;

/** A small letter where a sentence begins, and a capital in the midst of one. */
export function sentences(passage: Passage, language: string): Found[] {
  const { text } = passage;
  const found: Found[] = [];
  if (passage.style === 'rule') return found;
  for (const match of text.matchAll(/(?<=[\p{L}\p{N})’”"][.!?]["”’)]? )(\p{Ll})[\p{L}’]*/gu)) {
    const at = match.index;
    const before = /([\p{L}.-]+)[.!?]["”’)]? $/u.exec(text.slice(Math.max(0, at - 30), at))?.[1] ?? '';
    if (abbreviations.has(before.toLowerCase()) || /^\p{L}$/u.test(before) || /\p{L}\.\p{L}$/u.test(before)) continue;
    // Words that are spoken go on after their mark: “Is it?” she said.
    if (/[!?…]["”’)]* $|[”’")] $/u.test(justBefore(text, at))) continue;
    found.push({
      kind: 'sentence',
      from: at,
      to: at + match[0].length,
      words: match[0],
      why: 'A sentence begins here with a small letter.',
      proposals: [{ text: match[1]!.toUpperCase() + match[0].slice(1) }],
      such: `sentence|small|${match[0]}`,
    });
  }
  for (const match of text.matchAll(/(?<=\p{Ll}{2}) (\p{Lu}\p{L}*) (?=\p{Ll})/gu)) {
    const [, word] = match;
    const at = match.index + 1;
    if (!starters[baseOf(languageAt(passage, at, language))]?.has(word!)) continue;
    if (passage.italics.some(({ from, to }) => from <= at && at < to) || passage.style.startsWith('heading')) continue;
    // Words that are quoted or named may begin so.
    found.push({
      kind: 'sentence',
      from: at,
      to: at + word!.length,
      words: word!,
      why: 'A capital stands here in the midst of a sentence; a sentence may have lost its end.',
      proposals: [
        { text: '. ', from: at - 1, to: at, says: 'End the sentence before it' },
        { text: word!.toLowerCase() },
      ],
      such: `sentence|capital|${word}`,
    });
  }
  return found;
}

/**
 * A paragraph that begins small or ends without its point.
 * @param asked whether the paragraphs of this text end with one
 * @param previous the passage before it @param next and the one after it
 */
export function ends(passage: Passage, previous: Passage | null, next: Passage | null, asked: boolean): Found[] {
  if (!asked || !isLong(passage)) return [];
  const found: Found[] = [];
  const { text } = passage;
  const end = text.trimEnd().length;
  if (!endsWell(text) && !next?.joins && !next?.list)
    found.push({
      kind: 'sentence',
      from: Math.max(0, text.lastIndexOf(' ', end - 1) + 1),
      to: end,
      words: text.slice(Math.max(0, text.lastIndexOf(' ', end - 1) + 1), end),
      why: 'The paragraph ends without a point.',
      proposals: [{ text: '.', from: end, to: end }],
      such: 'sentence|end',
    });
  const begins = /^(\p{Ll})[\p{L}’-]*/u.exec(text);
  const goesOn = previous && (/[:;,]$/.test(previous.text.trim()) || previous.list || previous.pictures > 0);
  if (begins && !passage.joins && !goesOn)
    found.push({
      kind: 'sentence',
      from: 0,
      to: begins[0].length,
      words: begins[0],
      why: 'The paragraph begins with a small letter.',
      proposals: [{ text: begins[1]!.toUpperCase() + begins[0].slice(1) }],
      such: `sentence|small|${begins[0]}`,
    });
  return found;
}

const known = new WeakMap<Passage, 'short' | 'well' | 'open'>();

/** Whether the paragraphs of a text end with a point: most of the long ones do. Where they do not, none is asked to. */
export function asksForEnds(passages: readonly Passage[]): boolean {
  let long = 0;
  let well = 0;
  for (const passage of passages) {
    let how = known.get(passage);
    if (!how) known.set(passage, (how = !isLong(passage) ? 'short' : endsWell(passage.text) ? 'well' : 'open'));
    if (how === 'short') continue;
    long++;
    if (how === 'well') well++;
  }
  return long > 0 && well >= long * 0.75;
}
