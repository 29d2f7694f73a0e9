import type { Node } from 'prosemirror-model';
import { fromByteArray } from 'base64-js';
import { describeChange } from '../../changes/describe.js';
import { listChanges } from '../../changes/list.js';
import { headings } from '../../manuscript/appearance.js';
import { inlineProperties } from '../../manuscript/properties.js';
import type { Manuscript } from '../../manuscript/manuscript.js';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { noDate, signatureOf, type Signature } from '../../manuscript/signature.js';
import type { Thread } from '../../manuscript/threads.js';
import { entriesOf } from '../../row/entries.js';
import { anchors, withChangeAnchors } from '../../threads/anchors.js';
import { asides } from '../kept/asides.js';
import { commentFacts, threadFacts } from '../kept/comment-facts.js';
import { strangeWords } from '../kept/strange.js';
import { attributes, Telling } from '../kept/telling.js';
import { settled } from '../kept/unsettled.js';
import { escapeHtml, remarkHtml } from './remark.js';
import { pageStyle } from './style.js';

/**
 * Writes a page (WHATWG HTML) that is one file and reads well by itself: words with `ins` and `del`, threads and changes
 * listed below them, pictures inside, in both themes and on paper, without a script. What the elements cannot say stands
 * in `data-` attributes, so that reading the page again gives the same manuscript.
 */

/**
 * An element with its content. It is never written short: HTML reads the start tag alone and leaves it open (WHATWG HTML,
 * 13.2.2, non-void-html-element-start-tag-with-trailing-solidus).
 */
const element = (name: string, attributes: string, content: string): string =>
  `<${name}${attributes}>${content}</${name}>`;

class Telltale extends Telling {
  /** Pictures that only changes speak of. */
  readonly spokenOf = new Set<string>();
  constructor({ people }: Manuscript) {
    super(people, { people: {}, changes: {} }, {}, { bound: {}, depth: 0 }, {});
  }
  protected leadTo = (asset: string): string => {
    this.spokenOf.add(asset);
    return asset;
  };
}

const blockReview = new Set(['openingInserted', 'openingDeleted', 'restyled', 'insertion', 'deletion']);

class Page {
  readonly #telling: Telltale;
  readonly #hues = new Map<string, number>();
  readonly #notes: string[] = [];
  readonly #threads: Map<string, Thread>;
  readonly #starts = new Map<number, string[]>();
  readonly #ends = new Map<number, string[]>();
  readonly #shown = new Set<string>();
  readonly #numbers = new Map<string, number>();

  constructor(
    readonly manuscript: Manuscript,
    readonly doc: Node,
  ) {
    this.#telling = new Telltale(manuscript);
    manuscript.people.forEach(({ id }, i) => this.#hues.set(id, i % 8));
    // What is only for oneself is on no page.
    const threads = manuscript.threads.filter(({ toSelf }) => !toSelf);
    this.#threads = new Map(threads.map((thread) => [thread.id, thread]));
    threads.forEach(({ id }, i) => this.#numbers.set(id, i + 1));
    for (const [id, ranges] of anchors(doc)) {
      if (!this.#threads.has(id)) continue;
      const note = (map: Map<number, string[]>, pos: number) => map.set(pos, [...(map.get(pos) ?? []), id]);
      note(this.#starts, ranges[0]!.from);
      note(this.#ends, ranges.at(-1)!.to);
    }
  }

  #by = (person: string): string => `by-${this.#hues.get(person) ?? 0}`;

  /** What an element of a change says of it. */
  #signed(signature: Signature, more = ''): string {
    const { author, date, change } = signature;
    const name = this.#telling.nameOf(author);
    const day = date === noDate ? '' : `, ${date.slice(0, 10)}`;
    return attributes({
      class: `${this.#by(author)}${more && ` ${more}`}`,
      cite: `#change-${change}`,
      datetime: date === noDate ? undefined : date,
      title: `${name}${day}`,
      'data-change': change,
      'data-author': name,
      'data-person': author,
    });
  }

  // ---- blocks

  /** The blocks of a container, items of lists in lists. */
  blocks(content: Node, start: number): string {
    let html = '';
    const open: { tag: string; item: boolean }[] = [];
    const close = (depth: number) => {
      while (open.length > depth) html += `${open.at(-1)!.item ? '</li>' : ''}</${open.pop()!.tag}>`;
    };
    content.forEach((node, offset, i) => {
      const pos = start + offset;
      const list = node.isTextblock ? (node.attrs as ParagraphProperties).list : null;
      if (!list) {
        close(0);
        html += node.isTextblock ? this.#paragraph(node, pos, i) : this.#table(node, pos);
        return;
      }
      const tag = list.kind === 'number' ? 'ol' : 'ul';
      const depth = list.level + 1;
      close(open[list.level] && open[list.level]!.tag !== tag ? list.level : depth);
      while (open.length < depth) {
        const above = open.at(-1);
        if (above && !above.item) {
          html += '<li class="bare">';
          above.item = true;
        }
        html += `<${tag}>`;
        open.push({ tag, item: false });
      }
      const last = open.at(-1)!;
      if (last.item) html += '</li>';
      html += `<li>${this.#paragraph(node, pos, i)}`;
      last.item = true;
    });
    close(0);
    return html;
  }

  #paragraph(node: Node, pos: number, i: number): string {
    const { style, align, indent, direction } = node.attrs as ParagraphProperties;
    const review = node.marks.filter(({ type }) => blockReview.has(type.name));
    const top = entriesOf(node.marks, 'restyled').at(-1);
    const classes = [
      ...(align ? [`align-${align}`] : []),
      ...(indent ? [`indent-${indent}`] : []),
      ...(top ? ['restyled', this.#by(top.author)] : []),
    ];
    const own =
      attributes({
        class: classes.join(' ') || undefined,
        dir: direction ?? 'auto',
        'data-dir': direction ?? undefined,
        'data-style': style === 'heading6' ? style : undefined,
      }) + (review.length ? this.#telling.told('data-marks', review) : '');
    if (style === 'rule' && !node.childCount) return `<hr${own}>`;
    const name = style === 'rule' ? 'p' : (headings[style] ?? 'p');
    const ruled = style === 'rule' ? ' data-style="rule"' : '';
    const line = this.#openings(node, i) + this.#line(node, pos + 1) || '<br>';
    // Without a class, it only holds an empty paragraph open.
    const lone = line === '<br>' && node.childCount > 0;
    return element(name, own + ruled, lone ? '<br class="line">' : line);
  }

  /** Signs of what is pending about a paragraph's beginning, for those who read. */
  #openings({ marks }: Node, i: number): string {
    if (!i) return '';
    return marks
      .map((mark) => {
        const name = { openingInserted: 'ins', openingDeleted: 'del' }[mark.type.name];
        return name ? element(name, this.#signed(signatureOf(mark)!, 'opening'), '¶') : '';
      })
      .join('');
  }

  #table(table: Node, start: number): string {
    let html = '';
    table.forEach((row, rowOffset) => {
      let cells = '';
      row.forEach((cell, cellOffset) => {
        const { header, colspan, rowspan, colwidth } = cell.attrs as Record<string, number> & { header: boolean };
        const own =
          attributes({
            colspan: colspan! > 1 ? colspan : undefined,
            rowspan: rowspan! > 1 ? rowspan : undefined,
            'data-colwidth': colwidth ? JSON.stringify(colwidth) : undefined,
          }) + this.#structure(cell);
        const pos = start + 1 + rowOffset + 1 + cellOffset;
        cells += element(header ? 'th' : 'td', own, this.blocks(cell, pos + 1));
      });
      html += element('tr', this.#structure(row), cells);
    });
    const body = `<table${this.#structure(table)}><tbody>${html}</tbody></table>`;
    return ['insertion', 'deletion'].reduce((inner, type) => {
      const mark = table.marks.find((one) => one.type.name === type);
      return mark
        ? element(type === 'insertion' ? 'ins' : 'del', this.#signed(signatureOf(mark)!, 'whole'), inner)
        : inner;
    }, body);
  }

  #structure({ marks }: Node): string {
    const [first] = marks;
    if (!first) return '';
    return attributes({ class: this.#by(first.attrs.author as string) }) + this.#telling.told('data-marks', marks);
  }

  // ---- words

  #line(paragraph: Node, start: number): string {
    let html = '';
    paragraph.forEach((node, offset) => {
      const pos = start + offset;
      html += this.#inline(node, pos);
      for (const id of this.#ends.get(pos + node.nodeSize) ?? []) html += this.#reference(id);
    });
    return html;
  }

  /** Leads from words to what is said of them. */
  #reference(id: string): string {
    const number = this.#numbers.get(id)!;
    const link = `<a id="said-${escapeHtml(id)}" href="#thread-${escapeHtml(id)}" role="doc-noteref">${number}</a>`;
    return `<sup class="ref said" data-tp="aside">${link}</sup>`;
  }

  #inline(node: Node, pos: number): string {
    const { link, bold, italic, underline, strike, script, colour, highlight, size, language } = inlineProperties(
      node.marks,
    ) as Record<string, string | number | boolean | undefined>;
    let html = this.#content(node, pos);
    // Marks around nothing would say nothing.
    if (!html) return '';
    const put = (name: string, own: Record<string, string | number | undefined> = {}) =>
      void (html = element(name, attributes(own), html));
    if (script) put(script === 'super' ? 'sup' : 'sub');
    if (strike) put('s');
    if (underline) put('u');
    if (italic) put('em');
    if (bold) put('strong');
    if (size !== undefined) put('span', { style: `font-size: ${size}pt`, 'data-size': Number(size) });
    if (typeof colour === 'string')
      put('span', colour.startsWith('#') ? { style: `color: ${colour}` } : { class: `colour-${colour}` });
    if (highlight) put('mark', { class: `tint-${String(highlight)}` });
    if (language) put('span', { lang: String(language) });
    if (typeof link === 'string') put('a', { href: link });
    const entries = entriesOf(node.marks, 'formatting');
    const top = entries.at(-1);
    if (top) {
      const told = this.#telling.told(
        'data-entries',
        entries.map(({ mark }) => mark),
      );
      const title = `${this.#telling.nameOf(top.author)}: another look`;
      html = element('span', attributes({ class: `formatting ${this.#by(top.author)}`, title }) + told, html);
    }
    for (const [type, name] of [
      ['deletion', 'del'],
      ['insertion', 'ins'],
    ] as const)
      for (const mark of node.marks.filter((one) => one.type.name === type))
        html = element(name, this.#signed(signatureOf(mark)!), html);
    for (const mark of node.marks) {
      const thread = mark.attrs.thread as string | undefined;
      if (mark.type.name !== 'anchor' || thread === undefined || !this.#threads.has(thread)) continue;
      const id = this.#starts.get(pos)?.includes(thread) ? `words-${thread}` : undefined;
      html = element('span', attributes({ class: 'about', id, 'data-thread': thread }), html);
    }
    return html;
  }

  #content(node: Node, pos: number): string {
    if (node.isText) return escapeHtml(node.text!);
    if (node.type.name === 'line_break') return '<br>';
    if (node.type.name === 'image') return this.#picture(node);
    if (node.type.name === 'footnote') return this.#note(node, pos);
    const words = strangeWords(node.attrs as Record<'part' | 'what' | 'says', string>);
    return words && `<span class="carried">${escapeHtml(words)}</span>`;
  }

  #picture({ attrs }: Node): string {
    const { asset, alt, width, height } = attrs as Record<'asset' | 'alt', string> & Record<'width' | 'height', number>;
    this.#shown.add(asset);
    const own = { width: width ?? undefined, height: height ?? undefined, 'data-asset': asset };
    return `<img${attributes({ src: this.#source(asset), alt, ...own })}${alt ? '' : ' alt=""'}>`;
  }

  #source(asset: string): string | undefined {
    const file = this.manuscript.assets.find(({ id }) => id === asset);
    return file && `data:${file.type};base64,${fromByteArray(file.bytes)}`;
  }

  #note(node: Node, pos: number): string {
    const number = this.#notes.push('');
    const kind = node.attrs.kind === 'end' ? ' data-kind="end"' : '';
    const back = `<a href="#note-ref-${number}" role="doc-backlink" data-tp="aside">↩︎</a>`;
    this.#notes[number - 1] =
      `<li id="note-${number}" role="doc-endnote"${kind}>${this.blocks(node, pos + 1)}${back}</li>`;
    return `<sup class="ref"><a id="note-ref-${number}" href="#note-${number}" role="doc-noteref">${number}</a></sup>`;
  }

  // ---- what stands below

  #thread(thread: Thread): string {
    const { nameOf } = this.#telling;
    const number = this.#numbers.get(thread.id)!;
    const said = thread.comments.map((comment) => {
      const head = `<header>${escapeHtml(nameOf(comment.author))}${timeHtml(comment.date)}</header>`;
      const body = comment.deleted ? '' : `<div class="said">${remarkHtml(comment.body, nameOf, true)}</div>`;
      const beside = asides(comment, nameOf).map((text) => `<p data-tp="aside">${escapeHtml(text)}</p>`);
      const own = attributes({
        'data-comment': comment.id,
        'data-author': nameOf(comment.author),
        'data-person': comment.author,
        'data-date': comment.date,
        'data-facts': commentFacts(comment, nameOf),
      });
      return element('article', own, head + body + beside.join(''));
    });
    const own = attributes({
      id: `thread-${thread.id}`,
      class: this.#by(thread.author),
      'aria-label': `Comments ${number}`,
      'data-thread': thread.id,
      'data-author': nameOf(thread.author),
      'data-person': thread.author,
      'data-date': thread.date,
      'data-change': thread.change,
      'data-resolved': thread.resolved ? 'true' : undefined,
      'data-facts': threadFacts(thread, false, nameOf),
      'data-place': thread.place ? JSON.stringify([thread.place.from, thread.place.to]) : undefined,
    });
    const back = this.#fastened.has(thread.id)
      ? `<a href="#said-${escapeHtml(thread.id)}" role="doc-backlink">${number}</a>`
      : String(number);
    const about = thread.quote ? `${back} · “${escapeHtml(thread.quote)}”` : back;
    const state = thread.resolved ? ' · resolved' : '';
    return element('aside', own, `<p data-tp="aside">${about}${state}</p>${said.join('')}`);
  }

  readonly #fastened = new Set<string>();

  #changes(): string {
    const changes = listChanges(this.doc);
    if (!changes.length) return '';
    const { nameOf } = this.#telling;
    const rows = changes.map((change, i) => {
      const { id, author, date, before, after } = change;
      const words = (text: string) => escapeHtml(text.replace(/\s+/g, ' ').slice(0, 160));
      const cells = [
        String(i + 1),
        escapeHtml(nameOf(author)),
        timeHtml(date),
        escapeHtml(describeChange(change)),
        words(before),
        words(after),
      ];
      return `<tr id="change-${escapeHtml(id)}" class="${this.#by(author)}">${cells.map((cell) => `<td>${cell}</td>`).join('')}</tr>`;
    });
    const heads = ['', 'Who', 'When', 'What', 'Before', 'After'].map((head) => `<th scope="col">${head}</th>`).join('');
    return `<section data-tp="aside" aria-label="Changes"><h2>Changes to decide</h2><table><thead><tr>${heads}</tr></thead><tbody>${rows.join('')}</tbody></table></section>`;
  }

  html(): string {
    const body = this.blocks(this.doc, 0);
    for (const ids of this.#ends.values()) for (const id of ids) this.#fastened.add(id);
    const first = this.doc.children.find(
      (block) => /^(title|heading)/.test(block.attrs.style as string) && block.textContent,
    );
    const notes = this.#notes.length
      ? `<section role="doc-endnotes" aria-label="Notes"><ol>${this.#notes.join('')}</ol></section>`
      : '';
    const threads = [...this.#threads.values()].map((thread) => this.#thread(thread));
    const said = threads.length
      ? `<section class="threads" aria-label="Comments"><h2 data-tp="aside">Comments</h2>${threads.join('')}</section>`
      : '';
    const hidden = [...this.#telling.spokenOf]
      .filter((asset) => !this.#shown.has(asset) && this.#source(asset))
      .map((asset) => `<img${attributes({ src: this.#source(asset), 'data-asset': asset })} alt="">`);
    const kept = hidden.length ? `<div hidden data-tp="pictures">${hidden.join('')}</div>` : '';
    const foot = notes + said + this.#changes() + kept;
    return settled(
      '<!doctype html>\n<html data-tea-pencil="1"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">' +
        `<meta name="generator" content="Tea Pencil"><title>${escapeHtml(first?.textContent ?? 'Manuscript')}</title><style>${pageStyle}</style></head>` +
        `<body><main>${body}</main>${foot && `<footer>${foot}</footer>`}</body></html>\n`,
      { any: () => 0, elsewhere: () => '', list: () => 0, inner: () => '' },
    );
  }
}

const timeHtml = (date: string): string =>
  date === noDate ? '' : ` <time datetime="${date}">${date.slice(0, 10)} ${date.slice(11, 16)}</time>`;

/** Writes a manuscript as a page, with its pending changes and its threads; of a reading, the reading. */
export async function writeHtml(manuscript: Manuscript): Promise<Uint8Array> {
  const doc = withChangeAnchors(manuscript.doc, manuscript.threads);
  return new TextEncoder().encode(new Page(manuscript, doc).html());
}
