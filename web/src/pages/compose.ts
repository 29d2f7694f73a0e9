import { DOMSerializer, Node } from 'prosemirror-model';
import {
  anchors,
  describeChange,
  listChanges,
  listNumbers,
  remarkText,
  schema,
  smallEditWords,
  type Change,
  type Thread,
} from '@tea-pencil/core';
import { hueOf } from '../theme/hues';
import type { PrintedPerson, PrintJob } from '@tea-pencil/wire';

/** A text as the blocks and notes that pages are made of. */

export interface Composed {
  blocks: HTMLElement[];
  /** Footnotes of the text stand at the foot; notes about changes and threads where they are wanted. */
  notes: { element: HTMLElement; where: 'foot' | 'side' }[];
}

const made = (document: Document, tag: string, className: string, text = ''): HTMLElement => {
  const element = document.createElement(tag);
  element.className = className;
  if (text) element.textContent = text;
  return element;
};

/** The elements a change or a thread has, in reading order. */
const elementsOf = (root: HTMLElement, attribute: string): Map<string, HTMLElement[]> => {
  const found = new Map<string, HTMLElement[]>();
  for (const element of root.querySelectorAll<HTMLElement>(`[${attribute}]`)) {
    const id = element.getAttribute(attribute)!;
    const known = found.get(id);
    if (known) known.push(element);
    else found.set(id, [element]);
  }
  return found;
};

/** So many letters of a replacement are said in its note. */
const fewLetters = 40;

/** What stands for what, where both are short: on paper the words may be hard to tell apart. */
function replacedWords({ kind, before, after }: Change): string | null {
  const [gone, come] = [before.trim(), after.trim()];
  if (kind !== 'replacement' || !gone || !come || gone.length + come.length > 2 * fewLetters) return null;
  return /[\n\ufffc]/.test(gone + come) ? null : `“${gone}” › “${come}”`;
}

/** Puts something behind the words of an element, before the space they may end with. */
function putBehind(words: HTMLElement, element: HTMLElement): void {
  const { lastChild } = words;
  const text = lastChild?.nodeType === 3 ? lastChild.textContent! : '';
  const space = text.length - text.trimEnd().length;
  if (!space || space === text.length) return words.after(element);
  (lastChild as Text).splitText(text.length - space);
  (lastChild as Text).after(element);
}

class Composing {
  readonly notes: Composed['notes'] = [];
  readonly #people: Map<string, PrintedPerson>;
  readonly #document: Document;

  constructor(
    document: Document,
    readonly job: PrintJob,
  ) {
    this.#document = document;
    this.#people = new Map(job.people.map((person) => [person.id, person]));
  }

  nameOf = (id: string): string => this.#people.get(id)?.name ?? 'someone';
  initialsOf = (id: string): string => this.#people.get(id)?.initials ?? '?';

  make(tag: string, className: string, text = ''): HTMLElement {
    return made(this.#document, tag, className, text);
  }

  /** A call of a note; which is told by its place among all notes. */
  #call(name: string, element: HTMLElement, where: 'foot' | 'side', className: string): HTMLElement {
    const call = this.make('sup', `call ${className}`, name);
    call.dataset.note = String(this.notes.length);
    element.prepend(this.make('sup', 'note-name', name), ' ');
    this.notes.push({ element, where });
    return call;
  }

  /** What is said in a thread, by whom. */
  #said({ comments }: Thread): string {
    return comments
      .filter(({ deleted }) => !deleted)
      .map(
        ({ author, body }) =>
          `${this.initialsOf(author)}: ${remarkText(body, this.nameOf).replace(/\s+/g, ' ').trim()}`,
      )
      .join(' · ');
  }

  /** The footnotes of the text go to the foot, and their number stays. */
  footnotes(root: HTMLElement): void {
    root.querySelectorAll<HTMLElement>('span.footnote').forEach((footnote, i) => {
      const note = this.make('div', 'note');
      note.setAttribute('role', 'doc-footnote');
      note.append(...footnote.childNodes);
      footnote.replaceWith(this.#call(String(i + 1), note, 'foot', 'footnote-call'));
    });
  }

  /** Pictures, as wide as the lines at most. */
  pictures(root: HTMLElement): void {
    for (const picture of root.querySelectorAll<HTMLImageElement>('img[data-asset]')) {
      const address = this.job.pictures[picture.dataset.asset ?? ''];
      if (address) picture.src = address;
    }
  }

  /** Where words stand for others, a sign between them says so. */
  joints(root: HTMLElement): void {
    for (const gone of root.querySelectorAll<HTMLElement>('del.deletion')) {
      const next = gone.nextSibling as HTMLElement | null;
      if (next?.nodeType === 1 && next.matches('ins.insertion') && next.dataset.change === gone.dataset.change)
        next.classList.add('stands-for');
    }
  }

  /** Initials, or numbered notes, behind each change; notes behind what threads are about. */
  marks(root: HTMLElement, doc: Node): void {
    const { notes, hues } = this.job.how;
    const changes = listChanges(doc);
    if (hues)
      for (const element of root.querySelectorAll<HTMLElement>('[data-author]')) {
        const { line, wash } = hueOf(this.#people.get(element.dataset.author!)?.hue ?? 0, 'light');
        element.style.setProperty('--line', line);
        element.style.setProperty('--wash', wash);
      }
    const talk = this.job.threads.filter(
      ({ toSelf, resolved, comments }) => !toSelf && !resolved && comments.length > 0,
    );
    const about = new Map<string, Thread[]>();
    for (const thread of talk)
      if (thread.change) about.set(thread.change, [...(about.get(thread.change) ?? []), thread]);
    const anchored = anchors(doc);
    const places = [
      ...changes.map((change) => ({ at: change.ranges.at(-1)!.to, change, thread: null })),
      ...(notes === 'none' ? [] : talk)
        .filter(({ id, change }) => !change && anchored.has(id))
        .map((thread) => ({ at: anchored.get(thread.id)!.at(-1)!.to, change: null, thread })),
    ].sort((a, b) => a.at - b.at);
    const ofChanges = elementsOf(root, 'data-change');
    const ofThreads = elementsOf(root, 'data-thread');
    let number = 0;
    for (const { change, thread } of places) {
      const last = (change ? ofChanges.get(change.id) : ofThreads.get(thread!.id))?.at(-1);
      if (!last) continue;
      const inside = last.matches('div, table, tr, td, th')
        ? (last.querySelector('p, h1, h2, h3, h4, h5, h6, blockquote') ?? last)
        : null;
      const put = (element: HTMLElement) => (inside ? inside.prepend(element) : putBehind(last, element));
      if (notes === 'none') {
        put(this.make('sup', 'by', this.initialsOf(change!.author)));
        continue;
      }
      const note = this.make('div', 'note');
      if (change) {
        const talked = (about.get(change.id) ?? []).map((one) => this.#said(one)).join(' · ');
        const what = smallEditWords(change) ?? replacedWords(change) ?? describeChange(change);
        note.append(this.make('b', '', this.initialsOf(change.author)), ` ${what}${talked && `. ${talked}`}`);
      } else note.append(this.#said(thread!));
      put(this.#call(String(++number), note, notes, change ? 'change-call' : 'thread-call'));
    }
  }

  /** What marks and initials mean, where there are any. */
  legend(doc: Node): HTMLElement | null {
    const changes = listChanges(doc);
    if (!changes.length) return null;
    const authors = [...new Set(changes.map(({ author }) => author))];
    const legend = this.make('p', 'paragraph legend');
    const sample = (tag: string, className: string, text: string) =>
      legend.append(this.make(tag, className, text), ' ');
    sample('ins', 'insertion', 'put in');
    sample('del', 'deletion', 'taken out');
    sample('span', 'formatting', 'looks otherwise');
    legend.append(authors.map((id) => `${this.initialsOf(id)} ${this.nameOf(id)}`).join(', '));
    return legend;
  }
}

/** Numbers of list items, as the sheet counts them. */
function numberItems(root: HTMLElement): void {
  const paragraphs = [...root.querySelectorAll<HTMLElement>('.paragraph')];
  const numbers = listNumbers(
    paragraphs.map(({ className, classList }) => {
      const level = /level-(\d)/.exec(className)?.[1];
      return level ? { kind: classList.contains('list-number') ? 'number' : 'bullet', level: Number(level) } : null;
    }),
  );
  numbers.forEach((number, i) => number && (paragraphs[i]!.dataset.item = `${number}.`));
}

/** Makes the blocks and notes of a job. What is in the doc is shown, so a clean print is of a text without changes. */
export function compose(document: Document, job: PrintJob): Composed {
  const doc = Node.fromJSON(schema, job.doc);
  const root = document.createElement('div');
  root.append(DOMSerializer.fromSchema(schema).serializeFragment(doc.content, { document }));
  const composing = new Composing(document, job);
  markThemselves(root);
  composing.footnotes(root);
  composing.pictures(root);
  composing.joints(root);
  composing.marks(root, doc);
  numberItems(root);
  for (const table of root.querySelectorAll('table')) asHead(document, table);
  const blocks = [...root.children] as HTMLElement[];
  const legend = composing.legend(doc);
  if (legend) blocks.splice(blocks[0]?.matches('.style-title') ? 1 : 0, 0, legend);
  return { blocks, notes: composing.notes };
}

/** What is pending about a table, a row or a cell stands on itself, not around it: elements of tables hold no others. */
function markThemselves(root: HTMLElement): void {
  const around = [...root.querySelectorAll<HTMLElement>('.block-insertion, .block-deletion, .restyled')].reverse();
  for (const mark of around) {
    const only = mark.firstElementChild as HTMLElement | null;
    if (!only?.matches('table, tr, td, th')) continue;
    only.classList.add(...mark.classList);
    Object.assign(only.dataset, mark.dataset);
    mark.replaceWith(only);
  }
}

/** A first row of header cells is the head of its table (WHATWG HTML, 4.9.6), so that it can be repeated. */
function asHead(document: Document, table: HTMLTableElement): void {
  const first = table.rows[0];
  if (!first || ![...first.cells].every((cell) => cell.matches('th'))) return;
  const head = document.createElement('thead');
  for (const cell of first.cells) cell.scope = 'col';
  head.append(first);
  table.prepend(head);
}
