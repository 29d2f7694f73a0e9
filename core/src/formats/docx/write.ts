import { type Manuscript } from '../../manuscript/manuscript.js';
import type { DocxOrigin, DocxMemo, Source } from '../../manuscript/origin.js';
import type { WriteOptions } from '../options.js';
import { placesOf, staying } from '../kept/staying.js';
import { pack, xmlText } from '../package.js';
import { outgoingDocx } from '../outgoing/docx.js';
import { attribute, elements, elementsNamed, tag } from '../xml.js';
import { Additions } from './additions.js';
import { aligned } from '../kept/aligned.js';
import { blankPackage, head } from './blank.js';
import { make } from './memo.js';
import { namespaces } from './names.js';
import { openDocx, type Opened } from './opened.js';
import { settingsWith } from './protection.js';
import { readDocx } from './read.js';
import { emptyFrame, extended, isStrict, outline, withNames } from './start-tags.js';
import { readDefinitions } from './styles.js';
import { Target } from './target.js';
import { ownNumber, settled, type Numbers } from '../kept/unsettled.js';
import { paragraphName } from './write-comments.js';
import { knownAgain, written, type Written } from './written.js';

/**
 * Writes DOCX (ISO/IEC 29500, WordprocessingML) into the file a manuscript came from, or into a blank one: what nobody
 * changed stays as it is, byte for byte.
 */

/** What is known of a package without words. */
const nothing = (file: Opened): DocxMemo => ({
  make,
  frame: emptyFrame(file.text(file.main)!),
  most: 0,
  fragments: {},
  blocks: [],
  inner: [],
  notes: { foot: [], end: [] },
  comments: [],
});

/** Ends of ranges that stand between blocks; they are written with the words. */
const rangeEnds = /<\w*:?(?:commentRange(?:Start|End)|move(?:From|To)Range(?:Start|End))\b[^>]*?(?:\/>|>\s*<\/[^>]*>)/g;

class Writing {
  readonly #notes: Record<'foot' | 'end', Map<number, string>> = { foot: new Map(), end: new Map() };
  readonly #usedNotes: Record<'foot' | 'end', Set<string>> = { foot: new Set(), end: new Set() };
  readonly #newNotes: Record<'foot' | 'end', string[]> = { foot: [], end: [] };
  #nextNote: Record<'foot' | 'end', number> = { foot: 1, end: 1 };
  readonly #additions: Additions;
  readonly #source: string;
  readonly #inner: (number | null)[];
  #any = 0;

  constructor(
    readonly target: Target,
    readonly memo: DocxMemo,
    readonly text: Written,
    /** The settings, where they are to say something else than they do. */
    readonly settings: string | null,
  ) {
    this.#source = target.file.text(target.file.main)!;
    this.#additions = new Additions(target.file, target, isStrict(memo.frame.root));
    this.#inner = aligned(
      text.inner.map(({ print }) => print),
      memo.inner.map(({ print }) => print || null),
    );
  }

  /** A piece of the main text that stays; the notes it refers to stay with it. */
  #kept({ start, end }: Source): string {
    const xml = this.#source.slice(start, end);
    for (const [, kind, id] of xml.matchAll(/(foot|end)noteReference\b[^>]*?\bid="(-?\d+)"/g))
      this.#usedNotes[kind as 'foot' | 'end'].add(id!);
    return xml;
  }

  readonly #numbers: Numbers = {
    any: () => this.#any++,
    list: (kind, index) => this.#additions.list(kind, index),
    elsewhere: (kind, index) => this.#note(kind as 'foot' | 'end', index),
    inner: (index) => {
      const i = this.#inner[index];
      return i === null || i === undefined ? this.text.inner[index]!.xml : this.#kept(this.memo.inner[i]!);
    },
  };

  /** The number of a note: that of the file where it says the same, else one of its own. */
  #note(kind: 'foot' | 'end', index: number): string {
    const known = this.#notes[kind].get(index);
    if (known !== undefined) return known;
    const { print, xml } = this.text.notes[kind][index]!;
    const used = this.#usedNotes[kind];
    let id = this.memo.notes[kind].find((one) => one.print === print && !used.has(one.id))?.id;
    if (id === undefined) {
      id = String(this.#nextNote[kind]++);
      this.#newNotes[kind].push(settled(xml, this.#numbers).replace(ownNumber, id));
    } else used.add(id);
    this.#notes[kind].set(index, id);
    return id;
  }

  /** The main text; null where it stays as it is. */
  #body(): string | null {
    const { blocks, together } = this.text;
    const { blocks: sources } = this.memo;
    const found = aligned(
      blocks.map(({ print }) => print),
      sources.map(({ print }) => print || null),
    );
    const stay = staying(found, together);
    if (stay.length === sources.length && sources.length > 0 && stay.every((i, k) => i === k)) {
      for (const source of sources) this.#kept(source);
      return null;
    }
    const source = this.#source;
    const { root, body, tail: end } = this.memo.frame;
    this.#any = this.memo.most + 1;
    // Notes of what stays keep their numbers, whatever comes before it.
    const kept = stay.map((i) => (i === null ? null : this.#kept(sources[i]!)));
    const places = placesOf(stay, sources.length);
    let next = 0;
    let inner = '';
    const between = (to: number) => {
      for (; next <= to; next++) {
        const from = next ? sources[next - 1]!.end : body.inside;
        inner += source.slice(from, sources[next]!.start).replace(rangeEnds, '');
      }
    };
    blocks.forEach(({ xml }, k) => {
      const place = places[k];
      if (place !== null && place !== undefined && place >= next) between(place);
      inner += kept[k] ?? settled(xml, this.#numbers);
    });
    between(sources.length - 1);
    const isEmpty = source.slice(body.start, body.inside).endsWith('/>');
    const tail = sources.at(-1)?.end ?? end;
    const start = withNames(source.slice(root.start, root.inside), root);
    const open = source.slice(root.inside, body.inside).replace(/\s*\/>$/, isEmpty ? '>' : '$&');
    const first = source.slice(0, root.start).replace(/encoding="UTF-16[^"]*"/i, 'encoding="UTF-8"');
    const close = isEmpty ? '</w:body>' : '';
    return first + start + open + inner + close + source.slice(tail).replace(rangeEnds, '');
  }

  /** The part with notes of a kind: those that the text no longer has go, new ones come. */
  #notePart(kind: 'foot' | 'end'): void {
    const type = `${kind}notes`;
    const name = this.target.file.related(this.target.file.main, type);
    const source = this.target.file.text(name);
    const fresh = this.#newNotes[kind];
    const gone = this.memo.notes[kind].filter(({ id }) => !this.#usedNotes[kind].has(id));
    if (!fresh.length && !gone.length) return;
    if (source === undefined) {
      const rule = (id: number, of: string) =>
        `<w:${kind}note w:type="${of}" w:id="${id}"><w:p><w:r><w:${of}/></w:r></w:p></w:${kind}note>`;
      const rules = rule(-1, 'separator') + rule(0, 'continuationSeparator');
      this.#additions.put(type, head + tag(`w:${type}`, namespaces, rules + fresh.join('')));
      return;
    }
    const { root, children } = outline(source);
    const goes = new Set(gone.map(({ id }) => id));
    const without = children.filter(
      (one) => goes.has(attribute(one, 'w:id') ?? '') && (attribute(one, 'w:type') ?? 'normal') === 'normal',
    );
    this.#additions.put(type, extended(source, root, fresh.join(''), without));
  }

  #commentParts(): void {
    const { comments, numbered } = this.text;
    const { file } = this.target;
    const name = file.related(file.main, 'comments');
    const stays = new Set(numbered.same);
    const gone = this.memo.comments.filter((_, i) => !stays.has(i));
    const fresh = comments.flatMap((comment, k) =>
      numbered.same[k] === null ? [settled(comment.xml(numbered.numbers[k]!), this.#numbers)] : [],
    );
    if (fresh.length || gone.length) {
      const source = file.text(name);
      if (source === undefined) this.#additions.put('comments', head + tag('w:comments', namespaces, fresh.join('')));
      else {
        const { root, children } = outline(source);
        const goes = new Set(gone.map(({ start }) => start));
        const without = children.filter(({ start }) => goes.has(start));
        this.#additions.put('comments', extended(source, root, fresh.join(''), without));
      }
    }
    this.#answers(fresh.length + gone.length > 0);
  }

  /** Who answers whom, and what is resolved: the published extension part. */
  #answers(changed: boolean): void {
    const { comments, numbered } = this.text;
    const { file } = this.target;
    const nameOf = (k: number) => {
      const i = numbered.same[k];
      return i === null || i === undefined ? paragraphName(numbered.numbers[k]!) : this.memo.comments[i]!.paragraph;
    };
    const firstOf = new Map<string, string | null>();
    const lines = comments.flatMap(({ thread, nth }, k) => {
      const name = nameOf(k);
      if (nth === 0) firstOf.set(thread.id, name);
      if (name === null) return [];
      const parent = nth ? (firstOf.get(thread.id) ?? undefined) : undefined;
      return [{ name, parent, done: thread.resolved ? '1' : '0' }];
    });
    const root = file.parsed(file.related(file.main, 'commentsExtended'));
    const said = new Map([...elements(root)].map((one) => [attribute(one, 'w15:paraId'), one]));
    const same = lines.every(({ name, parent, done }) => {
      const one = said.get(name);
      return attribute(one, 'w15:paraIdParent') === parent && (attribute(one, 'w15:done') ?? '0') === done;
    });
    if ((!changed && same) || (!root && !lines.length)) return;
    const xml = lines
      .map(({ name, parent, done }) =>
        tag('w15:commentEx', { 'w15:paraId': name, 'w15:paraIdParent': parent, 'w15:done': done }),
      )
      .join('');
    this.#additions.put('commentsExtended', head + tag('w15:commentsEx', namespaces, xml));
  }

  /** The parts of the file; null where all stay as they are. */
  parts(): Map<string, string | Uint8Array> | null {
    const { file } = this.target;
    for (const kind of ['foot', 'end'] as const) {
      const there = elements(file.parsed(file.related(file.main, `${kind}notes`)));
      for (const one of there)
        this.#nextNote[kind] = Math.max(this.#nextNote[kind], (Number(attribute(one, 'w:id')) || 0) + 1);
    }
    const body = this.#body();
    this.#commentParts();
    for (const kind of ['foot', 'end'] as const) this.#notePart(kind);
    const all = new Map<string, string | Uint8Array>(file.parts);
    if (body !== null) {
      all.set(file.nameOf(file.main)!, body);
      this.#additions.styles(new Set(body.match(/(?<=<w:pStyle w:val=")[^"]+/g)?.map(styleOf)));
    }
    this.#additions.numbering();
    if (this.settings !== null) this.#additions.put('settings', this.settings);
    this.#additions.finish();
    if (body === null && !this.#additions.parts.size) return null;
    for (const [name, content] of this.#additions.parts) all.set(file.nameOf(name) ?? name, content);
    return all;
  }
}

/** Our style of an id that we give. */
const styleOf = (id: string): string =>
  ({ Title: 'title', Quote: 'quotation', Rule: 'rule' })[id] ?? (/^Heading\d$/.test(id) ? id.toLowerCase() : '');

/** Changes of properties that a manuscript does not know (17.13.5): of sections, paragraph marks, grids, joined cells. */
const unknownChanges =
  /<w:(sectPrChange|rPrChange|pPrChange|tblGridChange|tblPrExChange|numberingChange)\b(?:[^>]*\/>|.*?<\/w:\1>)|<w:(?:cellMerge|(?:customXml|)(?:Ins|Del|MoveFrom|MoveTo)Range(?:Start|End))\b[^>]*\/>/gs;

/** What those who changed something in the file are called (a published extension), for the changes that are in it. */
const changers = elementsNamed('person');
/** Who made the file (ISO/IEC 29500-2, 11; part 1, 22.2 and 22.3), by the ends of the names of their parts. */
const makers: readonly [part: RegExp, names: RegExp][] = [
  [/(^|\/)core\.xml$/, elementsNamed('creator', 'lastModifiedBy')],
  [/(^|\/)app\.xml$/, elementsNamed('Manager', 'Company')],
  [/(^|\/)custom\.xml$/, elementsNamed('property')],
];

/** A part without what the options leave out. */
function without({ clean, nameless }: WriteOptions, name: string, content: string | Uint8Array): string | Uint8Array {
  const goes = [
    ...(clean && /\/(document|footnotes|endnotes|header\d*|footer\d*|styles|numbering)\w*\.xml$/.test(name)
      ? [unknownChanges]
      : []),
    ...(clean && /\/people\w*\.xml$/.test(name) ? [changers] : []),
    ...(nameless ? makers.flatMap(([part, names]) => (part.test(name) ? [names] : [])) : []),
  ];
  if (!goes.length) return content;
  const source = typeof content === 'string' ? content : xmlText(content);
  const left = goes.reduce((xml, one) => xml.replace(one, ''), source);
  return left === source ? content : left;
}

/** What is known of the file; found out again where another make found it out. */
async function memoOf({ file, memo }: DocxOrigin): Promise<DocxMemo> {
  if (memo.make === make) return memo;
  const { manuscript } = await readDocx(file);
  return (manuscript.origin as DocxOrigin).memo;
}

/**
 * Writes a manuscript as a DOCX file: text, pending changes with author and date, and threads with their replies. Of a
 * manuscript that came from such a file, all stays as it was that nobody changed.
 * The change a mark belongs to is kept in ignorable attributes, so that reading the file again gives the same changes.
 * @param how `clean`: without what is proposed about things that are carried as they are, such as a section’s layout;
 *   `protection`: what keeps everyone to recorded changes (17.15.1.29); `nameless`: nothing in it names people; `inert`:
 *   nothing in it runs or reaches outside
 */
export async function writeDocx(manuscript: Manuscript, how: WriteOptions = {}): Promise<Uint8Array> {
  const { protection } = how;
  const leavesOut = [how.clean, how.nameless, how.inert].some(Boolean);
  const origin = manuscript.origin?.format === 'docx' ? manuscript.origin : undefined;
  const file = openDocx(origin?.file ?? blankPackage());
  const memo = origin ? await memoOf(origin) : nothing(file);
  const { people, assets } = manuscript;
  const definitions = readDefinitions(file);
  const names = origin ?? { assets: {}, people: {}, changes: {} };
  const scope = { bound: memo.frame.body.bound, depth: 0 };
  const target = new Target(file, definitions, memo.fragments, people, assets, names.assets, names, scope);
  const text = written(manuscript, target, (comments) => knownAgain(memo.comments, comments));
  const settings = protection === undefined ? null : settingsWith(file, protection);
  const parts = new Writing(target, memo, text, settings).parts() ?? (leavesOut ? file.parts : null);
  if (!parts) return origin!.file;
  if (!leavesOut) return pack(parts);
  const all = new Map([...parts].map(([name, content]) => [name, without(how, name, content)] as const));
  return pack(outgoingDocx(all, how).parts);
}
