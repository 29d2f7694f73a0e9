import { letters } from '../row/row.js';
import { plural } from '../manuscript/counted.js';
import { countWords } from '../manuscript/words.js';
import { describeGrid } from './grid-facts.js';
import type { Change, ChangeKind } from './list.js';
import { isUnseen, signName } from './small-edits.js';

const kindWords: Record<ChangeKind, string> = {
  insertion: 'inserted',
  deletion: 'deleted',
  replacement: 'replaced',
  move: 'moved',
  formatting: 'changed the bearing of',
  paragraph: 'changed a paragraph',
  table: 'changed',
};

const numbers = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine'];
const numberOf = (n: number) => numbers[n] ?? n.toLocaleString('en');
const wordsOf = (n: number) => `${numberOf(n)} ${plural(n, 'word')}`;

const styleWords: Record<string, string> = {
  body: 'body text',
  title: 'title',
  quotation: 'quotation',
  rule: 'rule',
};
const styleWord = (style: unknown) => styleWords[String(style)] ?? String(style).replace('heading', 'heading ');
const listWord = (list: unknown) => {
  if (!list) return 'no list';
  const { kind, level } = list as { kind: string; level: number };
  return `${kind === 'number' ? 'numbered' : 'bulleted'} list${level ? `, level ${level + 1}` : ''}`;
};
const alignWords: Record<string, string> = { center: 'centred', left: 'left', right: 'right', justify: 'justified' };

const directionWords: Record<string, string> = { ltr: 'left to right', rtl: 'right to left' };
const names = new Intl.DisplayNames('en', { type: 'language' });
/** What a language is called: "British English" (Unicode CLDR, by Intl.DisplayNames). */
export const languageName = (tag: string): string => names.of(tag) ?? tag;

/** What became of one property, in words: "bold", "no longer italic", "heading 2, was body text". */
export function describeProperty(name: string, was: unknown, now: unknown): string {
  if (name === 'style') return `${styleWord(now)}, was ${styleWord(was)}`;
  if (name === 'list') {
    if (!now) return 'no longer a list';
    const [before, after] = [was, now] as ({ kind: string; level: number } | null)[];
    if (before && after!.kind === before.kind) return `list level ${after!.level + 1}, was level ${before.level + 1}`;
    return `${listWord(now)}, was ${listWord(was)}`;
  }
  if (name === 'align') return now ? alignWords[String(now)]! : 'no longer ' + alignWords[String(was)];
  if (name === 'direction') return now ? directionWords[String(now)]! : 'direction as its words have it';
  if (name === 'language') return now ? `in ${languageName(String(now))}` : 'in the language of the manuscript';
  if (name === 'indent') return Number(now) > Number(was) ? 'indented' : 'less indented';
  if (name === 'script') return now ? `${String(now)}script` : `no longer ${String(was)}script`;
  if (name === 'asset') return 'another picture';
  if (name === 'alt') return now ? `described as “${String(now)}”` : 'no longer described';
  if (name === 'width' || name === 'height') return `${name} ${now === null ? 'as it is' : `${String(now)} pixels`}`;
  if (name === 'header') return now ? 'header cell' : 'no longer a header cell';
  if (name === 'size') return now === null ? 'usual size' : `${String(now)} points`;
  if (name === 'highlight' || name === 'colour') {
    const what = name === 'colour' ? 'coloured' : 'highlighted';
    return now === null ? `no longer ${what}` : `${what} ${String(now)}`;
  }
  if (name === 'carried' || name === 'carriedLook') return 'another look of its file';
  if (now === null) return `no longer ${name === 'link' ? 'a link' : name}`;
  if (name === 'link') return was ? `link to ${String(now)}` : `now a link to ${String(now)}`;
  return now === true ? name : `${name} ${String(now)}`;
}

/** What must be known of a change to say what it does. */
type Told = Pick<Change, 'kind' | 'before' | 'after' | 'was' | 'now' | 'objects' | 'marks' | 'grid' | 'footnotes'>;

const blockWords: Record<string, string> = { table: 'a table', table_row: 'a row', table_cell: 'cells' };

function describeTable({ objects, marks, grid }: Told, looks: string): string {
  const inserts = marks.includes('insertion');
  const deletes = marks.includes('deletion');
  if (!inserts && !deletes) return looks;
  if (grid && inserts !== deletes) return describeGrid(grid);
  const what = ['table', 'table_row', 'table_cell'].find((name) => objects.includes(name));
  return `${inserts ? (deletes ? 'replaced' : 'inserted') : 'deleted'} ${what ? blockWords[what] : 'words in a table'}`;
}

/** What a change does, in a few words: "replaced two words", "deleted a paragraph break", "now italic". */
export function describeChange(change: Told): string {
  const resized = 'width' in change.now && 'height' in change.now;
  const looks = Object.keys(change.now)
    .filter((name) => !resized || name !== 'height')
    .map((name) =>
      resized && name === 'width' ? 'resized' : describeProperty(name, change.was[name], change.now[name]),
    )
    .sort((a, b) => Number(a.startsWith('no longer')) - Number(b.startsWith('no longer')))
    .join(', ');
  if (change.kind === 'formatting')
    return /^(now|no longer|link to) /.test(looks) || change.objects.length ? looks : `now ${looks}`;
  if (change.kind === 'table') return describeTable(change, looks);
  if (change.kind === 'paragraph') {
    if (change.after.includes('\n')) return 'split a paragraph';
    if (change.before.includes('\n')) return 'joined two paragraphs';
    return looks;
  }
  const { kind, before, after, objects, footnotes } = change;
  // The one looks like the other.
  const unseen = kind === 'replacement' && !objects.length && isUnseen(before) && isUnseen(after);
  const what =
    kind === 'insertion' ? thing(after, objects, footnotes?.after) : thing(before, objects, footnotes?.before);
  return `${kindWords[kind]} ${what}${unseen ? ` by ${spaceWords(after)}` : ''}`;
}

const objectWords: Record<string, [one: string, several: string]> = {
  image: ['a picture', 'pictures'],
  footnote: ['a footnote', 'footnotes'],
  line_break: ['a line break', 'line breaks'],
  carried_thing: ['a thing of its file', 'things of its file'],
};

/** Objects that stand without words: "two pictures", "a picture and a footnote". */
function objectsOf(text: string, objects: readonly string[]): string {
  const count = text.split('\ufffc').length - 1;
  return objects
    .map((name) => {
      const [one, several] = objectWords[name] ?? [name, name];
      return objects.length === 1 && count > 1 ? `${numberOf(count)} ${several}` : one;
    })
    .join(' and ');
}

/** What is not seen by itself, counted: "a space", "two no-break spaces". */
export function spaceWords(text: string): string {
  const all = [...text.replace(/[\n\ufffc]/g, '')];
  const name = (all.every((one) => one === all[0]) && signName(all[0] ?? '')) || 'space';
  return all.length > 1 ? `${numberOf(all.length)} ${name}s` : `${/^[aeiou]/.test(name) ? 'an' : 'a'} ${name}`;
}

/** What a change puts in or takes out, in words. */
function thing(text: string, all: readonly string[], footnotes?: { howMany: number; words: number }): string {
  const objects = footnotes ? all.filter((name) => name !== 'footnote') : all;
  if (footnotes?.howMany) {
    const { howMany, words } = footnotes;
    const pictures = objects.length && text.includes('\ufffc') ? [objectsOf(text, objects)] : [];
    const parts = [...(words ? [wordsOf(words)] : []), ...pictures];
    return [...parts, howMany > 1 ? `${numberOf(howMany)} footnotes` : 'a footnote'].join(' and ');
  }
  const visible = text.replaceAll('\ufffc', '').trim();
  // What was decided long ago says nothing of its footnotes.
  if (objects.length && (!visible || (objects.length === 1 && objects[0] === 'footnote')))
    return objectsOf(text, objects);
  if (!visible || isUnseen(visible)) return spaceWords(text);
  return /^[^\p{L}\p{N}]+$/u.test(visible) && letters(visible).length < 4
    ? `“${visible}”`
    : wordsOf(countWords(visible));
}
