import { Fragment, type Mark, type Node, type NodeType } from 'prosemirror-model';
import type { Loss } from './manuscript.js';
import { reviewMarks, schema } from './schema.js';

/**
 * Reading what is broken: a document that breaks the schema, or whose changes contradict each other, is read as well as
 * can be. What is mended is counted and said; no letter is dropped.
 */

/** A document that can be worked with, and what had to be mended. */
export interface Mended {
  doc: Node;
  mends: Loss[];
}

interface Json {
  type?: unknown;
  text?: unknown;
  attrs?: unknown;
  marks?: unknown;
  content?: unknown;
}

const objects = (value: unknown): Json[] =>
  Array.isArray(value) ? value.filter((each): each is Json => !!each && typeof each === 'object') : [];

const paragraph = schema.nodes.paragraph!;
/** Attributes that have to be said, with a value that will do while another is tried. */
const required: Record<string, object> = { image: { asset: 'none' }, footnote: { kind: 'foot' } };
const isBlock = (name: unknown) => ['paragraph', 'table', 'table_row', 'table_cell'].includes(String(name));

class Mender {
  readonly #found = new Map<string, Loss>();

  note(what: string, where = 'text'): void {
    const key = `${what}|${where}`;
    const found = this.#found.get(key);
    if (found) found.howMany++;
    else this.#found.set(key, { what, where, howMany: 1 });
  }
  list = (): Loss[] => [...this.#found.values()];

  /** The attributes that the type knows and that have a value they can have; the rest as where nothing is said. */
  attrs(type: NodeType, given: unknown): Record<string, unknown> {
    const known: Record<string, unknown> = {};
    for (const [name, value] of Object.entries((given ?? {}) as object)) {
      if (!(name in (type.spec.attrs ?? {}))) continue;
      try {
        type.create({ ...required[type.name], [name]: value });
        known[name] = value;
      } catch {
        this.note(`a value of ${name} that there is none, taken as not said`, 'properties');
      }
    }
    return known;
  }

  /** The marks that can stand on a node of that type in that place. */
  marks(given: unknown, parent: NodeType): readonly Mark[] {
    let marks: readonly Mark[] = [];
    for (const json of objects(given)) {
      try {
        const mark = schema.markFromJSON(json);
        if (!parent.allowsMarkType(mark.type)) throw new RangeError();
        marks = mark.addToSet(marks);
      } catch {
        const review = reviewMarks.has(String(json.type));
        this.note(
          review ? 'a mark of a change that cannot be read, left out' : 'a property of words, left out',
          'marks',
        );
      }
    }
    return marks;
  }

  inline(given: unknown): Node[] {
    return objects(given).flatMap((json): Node[] => {
      const { type, text } = json;
      const marks = () => this.marks(json.marks, paragraph);
      if (type === 'text') return typeof text === 'string' && text ? [schema.text(text, marks())] : [];
      if (type === 'line_break') return [schema.nodes.line_break!.create(null, null, marks())];
      if (type === 'image') {
        const attrs = this.attrs(schema.nodes.image!, json.attrs);
        if (attrs.asset !== undefined) return [schema.nodes.image!.create(attrs, null, marks())];
        this.note('a picture without its file, left out');
        return [];
      }
      if (type === 'footnote') {
        const content = this.blocks(json.content, schema.nodes.footnote!);
        const { kind = 'foot' } = this.attrs(schema.nodes.footnote!, json.attrs);
        return [schema.nodes.footnote!.create({ kind }, content, marks())];
      }
      this.note(`something that a paragraph cannot hold, its words kept`);
      return typeof text === 'string' && text ? [schema.text(text)] : this.inline(json.content);
    });
  }

  table(json: Json, parent: NodeType): Node | null {
    const { table, table_row: row, table_cell: cell } = schema.nodes;
    const rows = objects(json.content).flatMap((line) => {
      const cells = objects(line.content).map((each) =>
        cell!.create(this.attrs(cell!, each.attrs), this.blocks(each.content, cell!), this.marks(each.marks, row!)),
      );
      return cells.length ? [row!.create(null, cells, this.marks(line.marks, table!))] : [];
    });
    return rows.length ? table!.create(null, rows, this.marks(json.marks, parent)) : null;
  }

  /** Paragraphs and, where the container can hold them, tables. */
  blocks(given: unknown, container: NodeType): Fragment {
    const blocks: Node[] = [];
    let loose: Json[] = [];
    const close = () => {
      if (loose.length) {
        this.note('words outside a paragraph, put into one');
        blocks.push(paragraph.create(null, this.inline(loose)));
      }
      loose = [];
    };
    for (const json of objects(given)) {
      const { type } = json;
      const known = typeof type === 'string' && type in schema.nodes;
      if (known && !isBlock(type)) {
        loose.push(json);
        continue;
      }
      close();
      if (type === 'paragraph') {
        const marks = this.marks(json.marks, container);
        blocks.push(paragraph.create(this.attrs(paragraph, json.attrs), this.inline(json.content), marks));
      } else if (type === 'table' && container.name === 'doc') {
        const made = this.table(json, container);
        if (made) blocks.push(made);
        else this.note('a table without cells, left out');
      } else {
        this.note('something that cannot stand here, its words kept');
        const inside = objects(json.content);
        blocks.push(...this.blocks(inside.length ? inside : [{ type: 'text', text: json.text }], container).content);
      }
    }
    close();
    return Fragment.fromArray(this.between(blocks));
  }

  /** A table always stands between paragraphs, and something always stands in a container. */
  between(blocks: readonly Node[]): Node[] {
    const whole: Node[] = [];
    for (const block of blocks) {
      const last = whole[whole.length - 1];
      if (block.type.name === 'table' && (!last || last.type.name === 'table')) {
        if (whole.length || blocks.length) this.note('a table that stood between no paragraphs, given one');
        whole.push(paragraph.create());
      }
      whole.push(block);
    }
    if (!whole.length || whole[whole.length - 1]!.type.name === 'table') whole.push(paragraph.create());
    return whole;
  }
}

/** The node with every mark replaced by what the function makes of it, at every depth. */
function withMarks(node: Node, replace: (mark: Mark) => Mark | null, first = true): Node {
  const children = node.children.map((child, i) => withMarks(child, replace, i === 0));
  const marks = node.marks.map(replace).filter((mark) => mark !== null);
  const kept = node.isTextblock && first ? marks.filter(({ type }) => !/^opening/.test(type.name)) : marks;
  return node.isText ? node.mark(kept) : node.type.create(node.attrs, Fragment.fromArray(children), kept);
}

/** What the marks of a change agree on: its first author, and of the dates the earliest. */
function sealsOf(doc: Node, now: string) {
  const seals = new Map<string, { authors: string[]; date: string }>();
  doc.descendants((node) => {
    for (const { attrs } of node.marks) {
      const { change, author, date } = attrs as { change?: string; author: string; date: string };
      if (!change) continue;
      const seal = seals.get(change);
      if (!seal) seals.set(change, { authors: [author], date });
      else {
        if (!seal.authors.includes(author)) seal.authors.push(author);
        if (date < seal.date) seal.date = date;
      }
    }
  });
  for (const seal of seals.values()) if (seal.date > now) seal.date = now;
  return seals;
}

/** Gives every change one author and one date, not in the future, and leaves first openings unmarked. */
function mendChanges(doc: Node, now: string, mender: Mender): Node {
  const seals = sealsOf(doc, now);
  const taken = new Set(seals.keys());
  const others = new Map<string, string>();
  const idFor = (change: string, author: string): string => {
    const place = seals.get(change)!.authors.indexOf(author);
    if (place === 0) return change;
    const key = `${change} ${author}`;
    if (!others.has(key)) {
      let id = '';
      for (let n = place; !id || taken.has(id); n++) id = `${change.replace('.', '-').slice(0, 34)}-${n}`;
      taken.add(id);
      others.set(key, id);
      mender.note('a change in the names of two people, made two', 'changes');
    }
    return others.get(key)!;
  };
  const said = new Set<string>();
  const mended = withMarks(doc, (mark) => {
    const { change, author, date } = mark.attrs as { change?: string; author: string; date: string };
    if (!change) return mark;
    const seal = seals.get(change)!;
    if (date !== seal.date && !said.has(change)) {
      said.add(change);
      mender.note(
        date > now ? 'a change dated in the future, dated now' : 'a change with two dates, given the earlier one',
        'changes',
      );
    }
    const id = idFor(change, author);
    return id === change && date === seal.date
      ? mark
      : mark.type.create({ ...mark.attrs, change: id, date: seal.date });
  });
  const openings = (node: Node) => node.marks.some(({ type }) => /^opening/.test(type.name));
  if (openings(doc.firstChild!)) mender.note('a first paragraph that was to be inserted or deleted, kept', 'changes');
  return mended;
}

/**
 * Reads a document that may be broken.
 * @param json a document as `Node.toJSON` writes it, or something like it
 * @param now the latest date that a change can have, ISO 8601 in UTC to the second
 * @returns a document that keeps to the schema and to the rules for changes; a sound one comes back as it is
 */
export function mend(json: unknown, now: string): Mended {
  const mender = new Mender();
  const given = (json ?? {}) as Json;
  const blocks = mender.blocks(given.content, schema.nodes.doc!);
  const doc = mendChanges(schema.nodes.doc!.create(null, blocks), now, mender);
  doc.check();
  return { doc, mends: mender.list() };
}
