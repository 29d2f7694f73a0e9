import type { Mark } from 'prosemirror-model';
import { schema } from '../../manuscript/schema.js';
import type { Comment, Remark, RemarkLine, RemarkMark, RemarkPiece, Thread } from '../../manuscript/threads.js';
import { asText, isChangeId, isPersonId, linkOf } from '../../manuscript/values.js';
import { readCommentFacts, readThreadFacts } from '../kept/comment-facts.js';
import { attribute, elements, textOf, type Element } from '../xml.js';
import type { Context } from './context.js';
import { Line } from '../kept/line.js';

/** Annotations (OpenDocument 1.3 part 3, 14.1 to 14.3) as comments, and the threads they make together. */

/** An attribute by what it is called, in whatever namespace a later edition or a program puts it. */
const anyAttribute = (element: Element, local: string): string | undefined =>
  Object.entries(element.attributes).find(([name]) => name === local || name.endsWith(`:${local}`))?.[1];

/** Marks of one piece, in the order in which they are always kept. */
const order = ['link', 'italic', 'bold'] as const;

/** Reads what an annotation says. */
class LineReader {
  readonly lines: RemarkPiece[][] = [[]];
  readonly #line = new Line();
  constructor(readonly context: Context) {}

  read(parent: Element, look: { link: string | null; italic: boolean; bold: boolean }): void {
    for (const node of parent.children) {
      if (typeof node === 'string') this.#push(this.#line.text(asText(node)), look);
      else this.#element(node, look);
    }
  }

  #element(element: Element, look: { link: string | null; italic: boolean; bold: boolean }): void {
    const { name } = element;
    const mention = attribute(element, 'tp:mention');
    if (isPersonId(mention)) {
      const person = this.context.person(textOf(element).replace(/^@/, ''), mention);
      this.lines.at(-1)!.push({ type: 'mention', attrs: { person } });
      this.#line.other();
    } else if (name === 'text:s' || name === 'text:tab') {
      const n = Math.min(1000, Number(attribute(element, 'text:c') ?? 1) || 1);
      this.#push(name === 'text:s' ? ' '.repeat(n) : '\t', look);
      this.#line.other();
    } else if (name === 'text:line-break') this.lines.push([]);
    else if (name === 'text:a') {
      this.read(element, { ...look, link: linkOf(attribute(element, 'xlink:href')) ?? look.link });
    } else if (name === 'text:span') {
      const { bold, italic } = this.context.definitions.lookOfText(attribute(element, 'text:style-name'));
      this.read(element, { ...look, bold: !!(bold ?? look.bold), italic: !!(italic ?? look.italic) });
    } else if (!/^(text:(note|change|number)|office:)/.test(name)) this.read(element, look);
  }

  #push(text: string, look: { link: string | null; italic: boolean; bold: boolean }): void {
    if (!text) return;
    const marks: RemarkMark[] = order
      .filter((type) => look[type])
      .map((type) => (type === 'link' ? { type, attrs: { href: look.link! } } : { type }));
    const line = this.lines.at(-1)!;
    const last = line.at(-1);
    if (last?.type === 'text' && JSON.stringify(last.marks ?? []) === JSON.stringify(marks)) last.text += text;
    else line.push({ type: 'text', text, ...(marks.length && { marks }) });
  }
}

/** The paragraphs of an annotation as lines, items of lists among them. */
function linesOf(parent: Element, context: Context, list: RemarkLine['attrs']['list']): RemarkLine[] {
  const lines: RemarkLine[] = [];
  for (const element of elements(parent)) {
    if (element.name === 'text:list') {
      const kind = context.definitions.listKind(attribute(element, 'text:style-name'), 0);
      for (const item of elements(element)) lines.push(...linesOf(item, context, kind));
    } else if ((element.name === 'text:p' || element.name === 'text:h') && !attribute(element, 'tp:aside')) {
      const reader = new LineReader(context);
      reader.read(element, { link: null, italic: false, bold: false });
      for (const content of reader.lines)
        lines.push({ type: 'line', attrs: { list }, ...(content.length && { content }) });
    }
  }
  return lines;
}

export function remarkIn(parent: Element, context: Context): Remark {
  const lines = linesOf(parent, context, null);
  return { type: 'doc', content: lines.length ? lines : [{ type: 'line', attrs: { list: null } }] };
}

/** The names of annotations of a text whose words have an end. */
export const endedIn = (content: string): ReadonlySet<string> =>
  new Set(
    [...content.matchAll(/<[\w.-]*:?annotation-end\b[^>]*?\boffice:name\s*=\s*["']([^"']*)["']/g)].map(
      ([, name]) => name!,
    ),
  );

export class Annotations {
  /** Threads whose words one now reads, by the names of their annotations. */
  readonly #open = new Map<string, Thread>();
  readonly #byName = new Map<string, Thread>();
  readonly #byId = new Map<string, Thread>();
  #count = 0;

  constructor(
    readonly context: Context,
    /** The annotations whose words have an end. */
    readonly ended: ReadonlySet<string>,
  ) {}

  /** An annotation, where it stands. */
  begin(element: Element, { placed }: { placed(thread: Thread): void }): void {
    const { context } = this;
    const n = ++this.#count;
    const { author, date } = context.signed(element, element);
    const name = attribute(element, 'office:name');
    const { bare, quote = '', ...facts } = readThreadFacts(attribute(element, 'tp:threadFacts'), context.person);
    const said = attribute(element, 'tp:thread');
    const own = isPersonId(said) ? said : undefined;
    const parent = anyAttribute(element, 'parent-name');
    let thread = own === undefined ? this.#byName.get(parent ?? '') : this.#byId.get(own);
    const isNew = !thread;
    if (!thread) {
      const change = attribute(element, 'tp:change');
      const about = isChangeId(change) ? { change } : {};
      const resolved = anyAttribute(element, 'resolved') === 'true';
      thread = { id: own ?? `t${n}`, author, date, ...about, quote, resolved, ...facts, comments: [] };
      context.threads.push(thread);
      this.#byId.set(thread.id, thread);
    }
    if (!bare) {
      const { people: _, ...known } = readCommentFacts(attribute(element, 'tp:facts'), context.person);
      const id = attribute(element, 'tp:comment') ?? `k${n}`;
      const comment: Comment = { id, author, date, body: remarkIn(element, context), ...known };
      thread.comments.push(comment);
    }
    if (name !== undefined && !this.#byName.has(name)) this.#byName.set(name, thread);
    if (name !== undefined && this.ended.has(name)) this.#open.set(name, thread);
    else if (isNew) placed(thread);
  }

  end(element: Element): void {
    this.#open.delete(attribute(element, 'office:name') ?? '');
  }

  /** Marks of words, with the threads that are about them. */
  fastened(marks: readonly Mark[]): readonly Mark[] {
    let all = marks;
    for (const { id } of this.#open.values()) all = schema.marks.anchor.create({ thread: id }).addToSet(all);
    return all;
  }
}
