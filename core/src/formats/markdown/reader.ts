import type MarkdownIt from 'markdown-it';
import { parseFragment } from 'parse5';
import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { limits } from '../../manuscript/limits.js';
import { plainParagraph, schema, type ParagraphProperties } from '../../manuscript/schema.js';
import type { Signature } from '../../manuscript/signature.js';
import type { Thread } from '../../manuscript/threads.js';
import { asText, isChangeId, isPersonId, linkOf } from '../../manuscript/values.js';
import type { PageContext } from '../html/context.js';
import type { PageElement } from '../html/page.js';
import { PageBlocks } from '../html/read-blocks.js';
import { dateOf } from '../kept/moments.js';
import { say } from '../kept/said.js';
import { TooMuch } from '../unreadable.js';
import type { Attributes, Token } from './spans.js';
import { closeOf, headingAttributes, lines, noteTokens, remarkLines, wordsOf, type Notes } from './tokens.js';

/** Makes paragraphs and tables of the tokens of the parser. */

interface State {
  list: readonly ('bullet' | 'number')[];
  isItem: boolean;
  quoted: boolean;
}

/** What stands around words. */
interface Around {
  marks: readonly Mark[];
  threads: readonly string[];
}

export class Reader {
  readonly blocks: Node[] = [];
  readonly threads: Thread[] = [];
  readonly #open = new Map<string, Thread>();
  readonly #byId = new Map<string, Thread>();
  #pending: Mark[] = [];
  #boundary: Mark[] = [];
  #last: Signature | null = null;

  constructor(
    readonly context: PageContext,
    readonly env: Notes,
    readonly md: MarkdownIt,
    readonly inNote = false,
  ) {}

  #put(attrs: Partial<ParagraphProperties>, inline: Node[], state: State): void {
    if (this.blocks.length > limits.paragraphs) throw new TooMuch('paragraphs');
    const level = Math.min(8, state.list.length - 1);
    const list = state.list.length && state.isItem ? { kind: state.list.at(-1)!, level } : null;
    const indent = state.list.length && !state.isItem ? Math.min(8, state.list.length) : 0;
    const style = attrs.style ?? (state.quoted ? 'quotation' : 'body');
    const before = this.blocks.at(-1);
    const marks = before?.isTextblock ? this.#boundary : [];
    // What was said of its end is about the boundary to the next one.
    [this.#boundary, this.#pending] = [this.#pending, []];
    const all = { ...plainParagraph, indent, list, ...attrs, style };
    this.blocks.push(schema.nodes.paragraph.create(all, Fragment.fromArray(inline), marks));
  }

  // ---- blocks

  read(tokens: readonly Token[]): void {
    const lists: ('bullet' | 'number')[] = [];
    let quotes = 0;
    let isItem = false;
    const state = (): State => ({ list: [...lists], isItem, quoted: quotes > 0 });
    for (let i = 0; i < tokens.length; i++) {
      const token = tokens[i]!;
      switch (token.type) {
        case 'bullet_list_open':
        case 'ordered_list_open':
          lists.push(token.type === 'bullet_list_open' ? 'bullet' : 'number');
          break;
        case 'bullet_list_close':
        case 'ordered_list_close':
          lists.pop();
          isItem = false;
          break;
        case 'list_item_open':
          isItem = true;
          break;
        case 'blockquote_open':
          quotes++;
          break;
        case 'blockquote_close':
          quotes--;
          break;
        case 'heading_open': {
          const level = Number(token.tag.slice(1));
          const inline = tokens[i + 1]!;
          const told = headingAttributes(inline.content);
          if (told) inline.children = this.md.parseInline(told.text, this.env)[0]?.children ?? [];
          const style = told?.attributes.classes.includes('title') ? 'title' : (`heading${level}` as 'heading1');
          this.#put({ style }, this.#line(inline.children ?? []), state());
          isItem = false;
          i++;
          break;
        }
        case 'inline':
          this.#put({}, this.#line(token.children ?? []), state());
          isItem = false;
          break;
        case 'hr':
          this.#put({ style: 'rule' }, [], { ...state(), list: [] });
          break;
        case 'fence':
        case 'code_block':
          this.context.losses.add('piece of code, its lines are kept');
          this.#put({}, lines(token.content.replace(/\n$/, '')), state());
          isItem = false;
          break;
        case 'html_block':
          this.#html(token.content, state());
          break;
        case 'table_open':
          i = this.#table(tokens, i);
          break;
      }
    }
  }

  #html(html: string, state: State): void {
    // A sign of ours for a paragraph without words.
    if (/^<!-- -->\s*$/.test(html)) return this.#put({}, [], state);
    if (/^<!--/.test(html)) return;
    this.context.losses.add('HTML, its words are kept');
    const blocks = new PageBlocks(this.context, { byId: new Map(), around: new Set() }, 'cell');
    blocks.inside(parseFragment(html) as unknown as PageElement, blocks.start);
    for (const node of blocks.finish()) if (node.content.size) this.blocks.push(node);
  }

  /** @returns where it ends */
  #table(tokens: readonly Token[], start: number): number {
    const rows: Node[] = [];
    let cells: Node[] = [];
    let i = start;
    let count = 0;
    for (; tokens[i]!.type !== 'table_close'; i++) {
      const token = tokens[i]!;
      if (token.type === 'tr_open') cells = [];
      if (token.type === 'th_open' || token.type === 'td_open') {
        if (++count > limits.cells) throw new TooMuch('cells');
        const align = /text-align:(\w+)/.exec(token.attrGet('style') ?? '')?.[1] ?? null;
        const inner = new Reader(this.context, this.env, this.md, this.inNote);
        inner.#put(
          { align: align as ParagraphProperties['align'] },
          this.#line(tokens[i + 1]!.children ?? []),
          plainState,
        );
        const header = token.type === 'th_open';
        cells.push(schema.nodes.table_cell.create({ header }, inner.blocks));
      }
      if (token.type === 'tr_close' && cells.length) rows.push(schema.nodes.table_row.create(null, cells));
    }
    // A head without words only stands there because there has to be one.
    const isBare = rows.length > 1 && rows[0]!.textContent === '';
    const kept = isBare ? rows.slice(1) : rows;
    if (kept.length) this.blocks.push(schema.nodes.table.create(null, kept));
    this.#boundary = [];
    return i;
  }

  // ---- words

  #line(tokens: readonly Token[]): Node[] {
    const into: Node[] = [];
    this.#inline(tokens, 0, tokens.length, { marks: [], threads: [] }, into);
    return into;
  }

  #inline(tokens: readonly Token[], from: number, to: number, around: Around, into: Node[]): void {
    const put = (text: string, marks = around.marks) => {
      const clean = asText(text);
      if (clean) say(clean, this.#marks({ ...around, marks }), into);
    };
    const html: [tag: string, mark: Mark][] = [];
    const now = () => html.reduce((all, [, mark]) => mark.addToSet(all), around.marks);
    for (let i = from; i < to; i++) {
      const token = tokens[i]!;
      const { type } = token;
      if (type === 'text' || type === 'text_special') put(token.content, now());
      else if (type === 'softbreak') put(' ', now());
      else if (type === 'hardbreak') into.push(schema.nodes.line_break.create(null, null, this.#marks(around)));
      else if (type === 'code_inline') {
        this.context.losses.add('code, its words are kept');
        put(token.content, now());
      } else if (type === 'html_inline') this.#tag(token.content, html, around, into);
      else if (type === 'image') this.#picture(token, around, into);
      else if (type === 'footnote_ref') this.#note(token, around, into);
      else if (token.nesting === 1) {
        const end = closeOf(tokens, i, to);
        const inner = { ...around, marks: now() };
        if (type === 'span_open') this.#span(tokens, i + 1, end, token.meta as Attributes, inner, into);
        else this.#inline(tokens, i + 1, end, { ...inner, marks: markOf(token, inner.marks, this.context) }, into);
        i = end;
      }
    }
  }

  #tag(content: string, html: [string, Mark][], around: Around, into: Node[]): void {
    const [, close, name = ''] = /^<(\/?)([a-z]+)/i.exec(content) ?? [];
    const tag = name.toLowerCase();
    if (tag === 'br') return void into.push(schema.nodes.line_break.create(null, null, this.#marks(around)));
    const mark = Object.hasOwn(htmlMarks, tag) ? htmlMarks[tag]! : null;
    if (!mark) {
      if (tag) this.context.losses.add('HTML, its words are kept');
    } else if (!close) html.push([tag, mark]);
    else {
      const at = html.findLastIndex(([open]) => open === tag);
      if (at >= 0) html.splice(at, 1);
    }
  }

  #picture(token: Token, around: Around, into: Node[]): void {
    const alt = asText(wordsOf(token.children ?? [])).slice(0, 2000);
    const src = token.attrGet('src') ?? '';
    const img = { attrs: [{ name: 'src', value: src }] } as unknown as PageElement;
    const asset = this.context.shown(img);
    if (asset !== null) return void into.push(schema.nodes.image.create({ asset, alt }, null, this.#marks(around)));
    this.context.losses.add('picture that is not in the file');
    if (alt) say(`[${alt}]`, this.#marks(around), into);
  }

  #note(token: Token, around: Around, into: Node[]): void {
    const { id, label } = token.meta as { id: number; label?: string };
    const tokens = noteTokens(this.env, id, label);
    if (this.inNote || !tokens) return;
    const inner = new Reader(this.context, this.env, this.md, true);
    inner.read(tokens);
    const blocks = inner.blocks.filter(({ isTextblock }) => isTextblock);
    const content = blocks.length ? blocks : [schema.nodes.paragraph.create()];
    into.push(schema.nodes.footnote.create({ kind: 'foot' }, content, this.#marks(around)));
  }

  /** The words of a span, and what its class says of them. */
  #span(
    tokens: readonly Token[],
    from: number,
    to: number,
    { classes, values }: Attributes,
    around: Around,
    into: Node[],
  ): void {
    const [first = ''] = classes;
    if (first === 'comment-start') return this.#comment(tokens, from, to, values);
    if (first === 'comment-end') return void this.#open.delete(values.id ?? '');
    if (first === 'paragraph-insertion' || first === 'paragraph-deletion') {
      const type = first === 'paragraph-insertion' ? 'openingInserted' : 'openingDeleted';
      this.#pending.push(schema.marks[type].create(this.#change(values)));
      return;
    }
    let { marks } = around;
    if (first === 'insertion' || first === 'deletion')
      marks = schema.marks[first].create(this.#change(values)).addToSet(marks);
    else if (classes.includes('underline') || classes.includes('ul'))
      marks = schema.marks.underline.create().addToSet(marks);
    else if (classes.includes('mark')) marks = schema.marks.highlight.create({ value: 'tea' }).addToSet(marks);
    else if (classes.length) this.context.losses.add('class of words, the words are kept', 'looks');
    this.#inline(tokens, from, to, { ...around, marks }, into);
  }

  #change({ author, date, change }: Record<string, string>): Signature {
    const by = { author: this.context.people.of(author, undefined, undefined), date: dateOf(date) };
    const continues = this.#last?.author === by.author && this.#last.date === by.date;
    const id = isChangeId(change) ? change : continues ? this.#last!.change : this.context.newChange();
    return (this.#last = { change: id, ...by });
  }

  #comment(tokens: readonly Token[], from: number, to: number, values: Record<string, string>): void {
    const author = this.context.people.of(values.author, undefined, undefined);
    const date = dateOf(values.date);
    const own = values.thread;
    const known = own === undefined ? undefined : this.#byId.get(own);
    const id = isPersonId(own) ? own : `t${this.threads.length}`;
    const thread: Thread = known ?? { id, author, date, quote: '', resolved: values.resolved === 'true', comments: [] };
    if (!known) this.threads.push(thread);
    this.#byId.set(thread.id, thread);
    const said: Node[] = [];
    this.#inline(tokens, from, to, { marks: [], threads: [] }, said);
    thread.comments.push({
      id: `k${thread.id}-${thread.comments.length}`,
      author,
      date,
      body: { type: 'doc', content: remarkLines(said) },
    });
    if (values.id !== undefined) this.#open.set(values.id, thread);
  }

  #marks({ marks }: Around): readonly Mark[] {
    let all = marks;
    if (!marks.some(({ type }) => type.name === 'insertion' || type.name === 'deletion')) this.#last = null;
    for (const { id } of this.#open.values()) all = schema.marks.anchor.create({ thread: id }).addToSet(all);
    return all;
  }
}

const plainState: State = { list: [], isItem: false, quoted: false };

const htmlMarks: Record<string, Mark> = {
  u: schema.marks.underline.create(),
  sub: schema.marks.script.create({ value: 'sub' }),
  sup: schema.marks.script.create({ value: 'super' }),
  strong: schema.marks.bold.create(),
  b: schema.marks.bold.create(),
  em: schema.marks.italic.create(),
  i: schema.marks.italic.create(),
  s: schema.marks.strike.create(),
  mark: schema.marks.highlight.create({ value: 'tea' }),
};

function markOf(token: Token, marks: readonly Mark[], context: PageContext): readonly Mark[] {
  const { type } = token;
  if (type === 'link_open') {
    const href = linkOf(token.attrGet('href') ?? undefined);
    if (href !== null) return schema.marks.link.create({ href }).addToSet(marks);
    context.losses.add('link that leads where none may, its words are kept');
    return marks;
  }
  const mark = {
    strong_open: htmlMarks.b,
    em_open: htmlMarks.i,
    s_open: htmlMarks.s,
    sup_open: htmlMarks.sup,
    sub_open: htmlMarks.sub,
  }[type];
  return mark ? mark.addToSet(marks) : marks;
}
