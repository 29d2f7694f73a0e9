import type { Mark, Node } from 'prosemirror-model';
import { inlineProperties, type Properties } from '../../manuscript/properties.js';
import type { Loss, Manuscript } from '../../manuscript/manuscript.js';
import { unnamed } from '../../manuscript/people.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { noDate, signatureOf, type Signature } from '../../manuscript/signature.js';
import type { RemarkLine, Thread } from '../../manuscript/threads.js';
import { withChangeAnchors } from '../../threads/anchors.js';
import { encode } from '../encoding.js';
import { asides } from '../kept/asides.js';
import { commentPlaces } from '../kept/comment-places.js';
import { strangeWords } from '../kept/strange.js';
import { Tally } from '../kept/tally.js';
import { laidOut } from '../kept/laid-out.js';
import { usualText } from '../text/text.js';
import { escaped, lineStarts, spaced } from './escape.js';

/**
 * Writes Markdown (CommonMark with tables, notes and struck words), and what is pending in the spans that pandoc writes and
 * reads for it. Nothing else is said; what it cannot hold is counted.
 */

const headings: Record<string, string> = {
  title: '#',
  heading1: '#',
  heading2: '##',
  heading3: '###',
  heading4: '####',
  heading5: '#####',
  heading6: '######',
};

/** What is pending stands around all else; of the rest, what goes furthest. */
const pending = ['insertion', 'deletion'] as const;
const wrappers: ReadonlySet<string> = new Set(['link', 'bold', 'italic', 'strike', 'underline', 'highlight', 'script']);

/** A node of a line, with where it stands and what still has to be put around it. */
interface Part {
  node: Node;
  pos: number;
  marks: readonly Mark[];
}

const quoted = (value: string) => `"${value.replace(/\s+/g, ' ').replace(/["\\]/g, '\\$&')}"`;

class Writer {
  readonly losses = new Tally();
  readonly #notes: string[] = [];
  readonly #threads: Map<string, Thread>;
  readonly #places: ReturnType<typeof commentPlaces>;
  readonly #numbers = new Map<string, number>();
  #comments = 0;

  constructor(
    readonly manuscript: Manuscript,
    readonly doc: Node,
  ) {
    // What is only for oneself is in no file.
    this.#threads = new Map(manuscript.threads.filter(({ toSelf }) => !toSelf).map((one) => [one.id, one]));
    this.#places = commentPlaces(doc, manuscript, this.#threads);
  }

  #nameOf = (id: string): string => this.manuscript.people.find((one) => one.id === id)?.name ?? unnamed;

  #signed = ({ author, date, change }: Signature): string =>
    `author=${quoted(this.#nameOf(author))}${date === noDate ? '' : ` date=${quoted(date)}`} change=${quoted(change)}`;

  // ---- words

  /** Nodes of a line, those in the same of what stands around words written as one. */
  #words(parts: readonly Part[], inTable: boolean): string {
    const pieces: string[] = [];
    for (let i = 0; i < parts.length;) {
      const { node, pos, marks } = parts[i]!;
      let [best, end] = [null as Mark | null, i + 1];
      for (const mark of marks) {
        let to = i + 1;
        while (to < parts.length && mark.isInSet(parts[to]!.marks)) to++;
        const first = pending.findIndex((name) => name === mark.type.name);
        const before = best ? pending.findIndex((name) => name === best!.type.name) : -1;
        const wins = !best || (before < 0 ? first >= 0 || to > end : first >= 0 && first < before);
        if (wins) [best, end] = [mark, to];
      }
      if (!best) put(pieces, this.#atom(node, pos, inTable));
      else {
        const around = best;
        const inner = parts.slice(i, end).map((part) => ({ ...part, marks: around.removeFromSet(part.marks) }));
        put(pieces, this.#wrapped(around, this.#words(inner, inTable)));
      }
      i = end;
    }
    return pieces.join('');
  }

  #wrapped(mark: Mark, text: string): string {
    const { name } = mark.type;
    if (name === 'insertion' || name === 'deletion') return `[${text}]{.${name} ${this.#signed(signatureOf(mark)!)}}`;
    if (name === 'link') return `[${text}](<${String(mark.attrs.href).replace(/[<>\\]/g, encodeURIComponent)}>)`;
    if (name === 'underline') return `[${text}]{.underline}`;
    if (name === 'highlight') {
      this.losses.add('colour of a highlight', 'looks');
      return `[${text}]{.mark}`;
    }
    if (name === 'script') {
      const sign = mark.attrs.value === 'super' ? '^' : '~';
      return text && !/\s/.test(text) ? `${sign}${text}${sign}` : text;
    }
    const sign = { bold: '**', italic: '*', strike: '~~' }[name]!;
    return emphasized(text, sign, { bold: 'strong', italic: 'em', strike: 's' }[name]!);
  }

  #atom(node: Node, pos: number, inTable: boolean): string {
    const { starts, ends } = this.#places;
    const begin = (starts.get(pos) ?? []).map((id) => this.#comment(id, true)).join('');
    const end = (ends.get(pos + node.nodeSize) ?? []).map((id) => this.#commentEnd(id)).join('');
    this.#count(node);
    return begin + this.#content(node, pos, inTable) + end;
  }

  #content(node: Node, pos: number, inTable: boolean): string {
    if (node.isText) return escaped(node.text!, inTable);
    if (node.type.name === 'line_break') return inTable ? '<br>' : '\\\n';
    if (node.type.name === 'footnote') {
      const number = this.#notes.push('');
      if (node.attrs.kind === 'end') this.losses.add('endnote, as a footnote', 'notes');
      const lines = this.blocks(node, pos + 1)
        .join('\n\n')
        .split('\n');
      this.#notes[number - 1] =
        `[^${number}]: ${lines.map((line, i) => (i && line ? `    ${line}` : line)).join('\n')}`;
      return `[^${number}]`;
    }
    if (node.type.name === 'image') {
      this.losses.add('picture, of which only its description stays', 'pictures');
      return `![${escaped((node.attrs.alt as string) || 'picture', inTable)}](<>)`;
    }
    return escaped(strangeWords(node.attrs as Record<'part' | 'what' | 'says', string>), inTable);
  }

  /** Counts what is said of something and Markdown has no signs for. */
  #count({ marks, attrs }: Node): void {
    const { colour, size, language } = inlineProperties(marks) as Properties;
    for (const [name, value] of Object.entries({ colour, size, language })) if (value) this.losses.add(name, 'looks');
    if (marks.some(({ type }) => type.name === 'formatting'))
      this.losses.add('what words looked like before a change', 'changes');
    if (attrs.what && attrs.part !== 'end') this.losses.add(`${String(attrs.what)} of the file it came from`);
  }

  // ---- comments

  #numberOf(id: string, nth: number): number {
    const key = `${nth} ${id}`;
    const known = this.#numbers.get(key) ?? this.#comments++;
    this.#numbers.set(key, known);
    return known;
  }

  #said(thread: Thread): { author: string; date: string; text: string }[] {
    const bare = thread.tint
      ? [{ author: thread.author, date: thread.date, text: escaped('(Highlighted.)', false) }]
      : [];
    return [
      ...bare,
      ...thread.comments.map((comment) => {
        const lines = comment.deleted ? [] : comment.body.content.map((line) => this.#remark(line));
        const beside = asides(comment, this.#nameOf).map((text) => escaped(text, false));
        if (comment.query || comment.proposal) this.losses.add('query or proposed wording, as words only', 'comments');
        return { author: comment.author, date: comment.date, text: [...lines, ...beside].join('\\\n') };
      }),
    ];
  }

  #remark = ({ attrs, content = [] }: RemarkLine): string =>
    (attrs.list ? '• ' : '') +
    content
      .map((piece) => {
        if (piece.type === 'mention') return escaped(`@${this.#nameOf(piece.attrs.person)}`, false);
        const text = escaped(piece.text, false);
        return (piece.marks ?? []).reduceRight(
          (all, { type, attrs: link }) =>
            type === 'link'
              ? `[${all}](<${link?.href ?? ''}>)`
              : emphasized(all, type === 'bold' ? '**' : '*', type === 'bold' ? 'strong' : 'em'),
          text,
        );
      })
      .join('');

  #comment(id: string, hasEnd: boolean): string {
    const thread = this.#threads.get(id)!;
    return this.#said(thread)
      .map(({ author, date, text }, nth) => {
        const number = this.#numberOf(id, nth);
        const resolved = thread.resolved && !nth ? ' resolved="true"' : '';
        const when = date === noDate ? '' : ` date=${quoted(date)}`;
        const own = `id="${number}" author=${quoted(this.#nameOf(author))}${when} thread=${quoted(id)}${resolved}`;
        return `[${text}]{.comment-start ${own}}${hasEnd ? '' : `[]{.comment-end id="${number}"}`}`;
      })
      .join('');
  }

  #commentEnd(id: string): string {
    return this.#said(this.#threads.get(id)!)
      .map((_, nth) => `[]{.comment-end id="${this.#numberOf(id, nth)}"}`)
      .join('');
  }

  // ---- blocks

  #line(node: Node, pos: number, next: Node | undefined, inTable = false): string {
    const parts: Part[] = [];
    node.forEach((one, offset) => {
      const marks = one.marks.filter(
        ({ type: { name } }) => wrappers.has(name) || name === 'insertion' || name === 'deletion',
      );
      parts.push({ node: one, pos: pos + 1 + offset, marks });
    });
    const placed = (this.#places.placed.get(pos) ?? []).map((id) => this.#comment(id, false)).join('');
    const boundary = (next?.marks ?? [])
      .filter(({ type }) => type.name.startsWith('opening'))
      .map(
        (mark) =>
          `[]{.paragraph-${mark.type.name === 'openingInserted' ? 'insertion' : 'deletion'} ${this.#signed(signatureOf(mark)!)}}`,
      );
    if (node.marks.some(({ type }) => type.name === 'restyled'))
      this.losses.add('what a paragraph was before a change', 'changes');
    // A break at the end of a paragraph would be none.
    const words = this.#words(parts, inTable).replace(/(\\\n)+$/, (breaks) => '<br>'.repeat(breaks.length / 2));
    return spaced(placed + words + boundary.join(''));
  }

  /** The blocks of a container, each as lines. */
  blocks(container: Node, start: number): string[] {
    const all: string[] = [];
    let items: string[] = [];
    const counts: { kind: string; n: number }[] = [];
    const close = () => {
      if (items.length) all.push(items.join('\n'));
      items = [];
      counts.length = 0;
    };
    container.forEach((node, offset, i) => {
      const pos = start + offset;
      if (!node.isTextblock) {
        close();
        return void all.push(this.#table(node, pos));
      }
      // What only stands there because a text does not end with a table is none here.
      const isLast = i > 0 && i === container.childCount - 1 && !container.child(i - 1).isTextblock;
      if (isLast && !node.childCount && !node.marks.length) return close();
      const { style, list, align, indent, direction } = node.attrs as ParagraphProperties;
      const inItem = !list && items.length > 0 && indent <= counts.length;
      for (const [name, value] of Object.entries({ alignment: align, indentation: inItem ? 0 : indent, direction }))
        if (value) this.losses.add(name, 'paragraphs');
      const next = container.maybeChild(i + 1);
      const line = this.#line(node, pos, next?.isTextblock ? next : undefined);
      const text = this.#styled(style, line, node);
      if (list) return void items.push(this.#item(list, text, counts));
      // What goes on in an item stands under its words.
      if (inItem && indent && style !== 'rule')
        return void items.push(`\n${text.replace(/^/gm, '    '.repeat(indent))}`);
      close();
      all.push(text);
    });
    close();
    return all;
  }

  /** A paragraph with what its style puts before it. */
  #styled(style: ParagraphProperties['style'], line: string, node: Node): string {
    const mark = headings[style];
    if (mark) {
      const words = line.replace(/\\\n/g, '<br>').replace(/(^| )(#+)$/, '$1\\$2');
      return `${mark} ${words}${style === 'title' ? ' {.title}' : ''}`.trimEnd();
    }
    if (style === 'rule' && !node.childCount) return '* * *';
    const text = lineStarts(line) || '<!-- -->';
    return style === 'quotation' ? text.replace(/^/gm, '> ') : text;
  }

  #item(
    { kind, level }: NonNullable<ParagraphProperties['list']>,
    text: string,
    counts: { kind: string; n: number }[],
  ): string {
    const isJump = level > counts.length;
    const at = Math.min(level, counts.length);
    counts.length = Math.min(counts.length, level + 1);
    // A list of another kind at the same level is another one.
    const other = counts[level] && counts[level]!.kind !== kind;
    if (other) counts.length = level;
    let marker = '';
    for (let i = at; i < level; i++) {
      counts.push({ kind, n: 1 });
      marker += kind === 'number' ? '1.  ' : '-   ';
    }
    if (!counts[level]) counts.push({ kind, n: 0 });
    const n = Math.min(99, ++counts[level]!.n);
    marker += (kind === 'number' ? `${n}.` : '-').padEnd(4);
    const indent = '    '.repeat(isJump ? at : level);
    const rest = '    '.repeat(level + 1);
    return `${other ? '\n' : ''}${indent}${marker}${text.replace(/\n/g, `\n${rest}`)}`;
  }

  #table(table: Node, start: number): string {
    const { rows, width } = laidOut(table, start);
    if (
      table.marks.length ||
      table.children.some((row) => row.marks.length || row.children.some((cell) => cell.marks.length))
    )
      this.losses.add('what is pending about a table, its rows or columns', 'changes');
    const lines = rows.map(({ all }, r) => {
      const cells = Array.from({ length: width }, () => '');
      for (const { cell, pos, row, column } of all) {
        if (row !== r) continue;
        if ((cell.attrs.colspan as number) > 1 || (cell.attrs.rowspan as number) > 1)
          this.losses.add('joined cell', 'tables');
        const paragraphs: string[] = [];
        cell.forEach((paragraph, offset, i) =>
          paragraphs.push(this.#line(paragraph, pos + 1 + offset, cell.maybeChild(i + 1) ?? undefined, true)),
        );
        if (paragraphs.length > 1) this.losses.add('paragraphs in a cell, as lines', 'tables');
        cells[column] = paragraphs.join('<br>');
      }
      return `| ${cells.join(' | ')} |`;
    });
    const isHead = table.child(0).children.every(({ attrs }) => attrs.header as boolean);
    const rule = `|${' --- |'.repeat(width)}`;
    const blank = `|${'  |'.repeat(width)}`;
    return (isHead ? [lines[0], rule, ...lines.slice(1)] : [blank, rule, ...lines]).join('\n');
  }

  whole(): string {
    const blocks = this.blocks(this.doc, 0);
    return [...blocks, ...this.#notes].join('\n\n') + '\n';
  }
}

/** Puts a piece behind those of a line; signs that would run together are kept apart. */
function put(pieces: string[], piece: string): void {
  const last = pieces.at(-1) ?? '';
  const runsOn = (last.endsWith('*') && piece.startsWith('*')) || (last.endsWith('~') && piece.startsWith('~'));
  if (runsOn) pieces.push('<!-- -->');
  if (piece) pieces.push(piece);
}

/** Words set off by signs; spaces at their ends stand outside, and where signs would not be taken for such, elements do it. */
function emphasized(text: string, sign: string, tag: string): string {
  const [, before, inner, after] = /^((?:\\\n|\s|&#\d+;)*)([\s\S]*?)((?:\\\n|\s|&#\d+;)*)$/.exec(text)!;
  if (!inner) return text;
  const plain = /^[\p{L}\p{N}]/u.test(inner) && /[\p{L}\p{N}]$/u.test(inner);
  return plain ? `${before}${sign}${inner}${sign}${after}` : `${before}<${tag}>${inner}</${tag}>${after}`;
}

/** What writing a manuscript as Markdown leaves behind. */
export function lostInMarkdown(manuscript: Manuscript): Loss[] {
  const writer = new Writer(manuscript, withChangeAnchors(manuscript.doc, manuscript.threads));
  writer.whole();
  return writer.losses.list();
}

/** Writes a manuscript as Markdown; of a reading, the reading. Front matter and line ends are those it came with. */
export async function writeMarkdown(manuscript: Manuscript): Promise<Uint8Array> {
  const memo = manuscript.origin?.format === 'md' ? manuscript.origin.memo : usualText;
  const doc = withChangeAnchors(manuscript.doc, manuscript.threads);
  const text = memo.front + new Writer(manuscript, doc).whole();
  return encode(text.replaceAll('\n', memo.lineEnd), memo);
}
