import { isSettled, squared } from './grid.js';
import { Fragment, type Mark, type Node, type NodeType } from 'prosemirror-model';
import type { Loss } from './manuscript.js';
import { isMarkName, reviewMarks, schema, type NodeName } from './schema.js';
import { asText } from './values.js';

/** What should be a node or a mark, as it was found. */
export interface Json {
  type?: unknown;
  text?: unknown;
  attrs?: unknown;
  marks?: unknown;
  content?: unknown;
}

const { doc: docType, paragraph, table, table_row: row, table_cell: cell, image, footnote } = schema.nodes;
const { line_break: lineBreak, carried_thing: carriedThing } = schema.nodes;
/** Attributes that have to be said, with a value that will do while another is tried. */
const required: Record<string, object> = {
  image: { asset: 'none' },
  footnote: { kind: 'foot' },
  carried_thing: { carried: 'none', what: 'thing' },
};
const inlineNames: ReadonlySet<unknown> = new Set<NodeName>([
  'text',
  'line_break',
  'image',
  'footnote',
  'carried_thing',
]);

/** Makes nodes of whatever is given, each where it can stand, and counts what it had to do for that. */
export class Mender {
  readonly #found = new Map<string, Loss>();
  #inFootnote = false;

  note(what: string, where = 'text'): void {
    const key = `${what}|${where}`;
    const found = this.#found.get(key);
    if (found) found.howMany++;
    else this.#found.set(key, { what, where, howMany: 1 });
  }
  list = (): Loss[] => [...this.#found.values()];

  /** What should be a list of nodes or marks. Words that stand there bare are taken for text. */
  objects(given: unknown): Json[] {
    if (given === undefined || given === null) return [];
    const all: unknown[] = Array.isArray(given) ? given : [given];
    if (!Array.isArray(given)) this.note('something that is no list where one should be');
    return all.flatMap((each): Json[] => {
      if (each && typeof each === 'object') return Array.isArray(each) ? this.objects(each) : [each];
      if (typeof each === 'string' && each) {
        this.note('words that stood bare, kept');
        return [{ type: 'text', text: each }];
      }
      this.note('something that is neither words nor anything else, left out');
      return [];
    });
  }

  /** What stands in a node: what it says itself, if it is none that says something, and what is in it. */
  contentOf({ type, text, content }: Json): Json[] {
    const inside = this.objects(content);
    if (type === 'text' || text === undefined) return inside;
    this.note('words in something that holds none itself, kept');
    return [...this.objects([text]), ...inside];
  }

  /** The attributes that the type knows and that have a value they can have; the rest as where nothing is said. */
  attrs(type: NodeType, given: unknown): Record<string, unknown> {
    const known: Record<string, unknown> = {};
    if (given === undefined || given === null) return known;
    for (const [name, value] of Object.entries(given)) {
      try {
        if (!Object.hasOwn(type.spec.attrs ?? {}, name)) throw new RangeError();
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
    if (given === undefined || given === null) return marks;
    for (const json of Array.isArray(given) ? (given as Json[]) : [given as Json]) {
      try {
        if (!isMarkName(String(json.type))) throw new RangeError();
        const mark = schema.markFromJSON(json);
        if (!parent.allowsMarkType(mark.type)) throw new RangeError();
        marks = mark.addToSet(marks);
      } catch {
        this.note(
          reviewMarks.has(String((json as Json | null)?.type))
            ? 'a mark of a change that cannot be read, left out'
            : 'a property of words, left out',
          'marks',
        );
      }
    }
    return marks;
  }

  /** The words of a text node, whatever they are. */
  text({ text, content }: Json, marks: readonly Mark[]): Node[] {
    const inside = content === undefined ? [] : this.inline(this.objects(content), 'words in words, kept');
    if (typeof text === 'string' && text) {
      const clean = asText(text);
      if (clean !== text) this.note('characters that no text can hold, left out');
      return [...(clean ? [schema.text(clean, marks)] : []), ...inside];
    }
    this.note('a piece of text that says nothing, or is no text');
    return [...(text && typeof text === 'object' ? this.inline(this.objects(text)) : []), ...inside];
  }

  /** What can stand in a paragraph; of what cannot, the words. */
  inline(given: readonly Json[], because?: string): Node[] {
    return given.flatMap((json): Node[] => {
      if (because) this.note(because);
      const marks = () => this.marks(json.marks, paragraph);
      /** The words in what can hold none, behind it. */
      const spilt = () => {
        const words = this.contentOf(json);
        return words.length ? this.inline(words, 'words in something that cannot hold any, put behind it') : [];
      };
      switch (json.type) {
        case 'text':
          return this.text(json, marks());
        case 'line_break':
          this.attrs(lineBreak, json.attrs);
          return [lineBreak.create(null, null, marks()), ...spilt()];
        case 'image': {
          const attrs = this.attrs(image, json.attrs);
          if (attrs.asset !== undefined) return [image.create(attrs, null, marks()), ...spilt()];
          this.note('a picture without its file, left out');
          return spilt();
        }
        case 'carried_thing': {
          const attrs = this.attrs(carriedThing, json.attrs);
          if (attrs.carried !== undefined && attrs.what !== undefined)
            return [carriedThing.create(attrs, null, marks()), ...spilt()];
          this.note('something of a file that does not say what it is, its words kept');
          return [...(attrs.says ? this.text({ text: attrs.says }, marks()) : []), ...spilt()];
        }
        case 'footnote': {
          const { kind = 'foot', ...attrs } = this.attrs(footnote, json.attrs);
          if (this.#inFootnote) {
            this.note('a footnote in a footnote, its words put in its place');
            return this.inline(this.contentOf(json));
          }
          this.#inFootnote = true;
          try {
            return [footnote.create({ ...attrs, kind }, this.blocks(this.contentOf(json), footnote), marks())];
          } finally {
            this.#inFootnote = false;
          }
        }
        default:
          this.note('something that a paragraph cannot hold, its words kept');
          return this.inline(this.contentOf(json));
      }
    });
  }

  /** Runs of what stands where it should, and of what does not. */
  #parted(given: readonly Json[], type: NodeName): { fits: boolean; all: Json[] }[] {
    const runs: { fits: boolean; all: Json[] }[] = [];
    for (const json of given) {
      const fits = json.type === type;
      const last = runs.at(-1);
      if (last?.fits === fits && !fits) last.all.push(json);
      else runs.push({ fits, all: [json] });
    }
    return runs;
  }

  #cells(given: readonly Json[]): Node[] {
    return this.#parted(given, 'table_cell').map(({ fits, all }) => {
      const [json = {}] = all;
      if (fits)
        return cell.create(
          this.attrs(cell, json.attrs),
          this.blocks(this.contentOf(json), cell),
          this.marks(json.marks, row),
        );
      this.note('something that stood in a row and in no cell, put into one');
      return cell.create(null, this.blocks(all, cell));
    });
  }

  table(json: Json, parent: NodeType): Node | null {
    const rows = this.#parted(this.contentOf(json), 'table_row').flatMap(({ fits, all }): Node[] => {
      const [line = {}] = all;
      if (!fits) this.note('something that stood in a table and in no row, put into one');
      const cells = this.#cells(fits ? this.contentOf(line) : all);
      if (!cells.length) this.note('a row without cells, left out');
      return cells.length
        ? [row.create(fits ? this.attrs(row, line.attrs) : null, cells, fits ? this.marks(line.marks, table) : [])]
        : [];
    });
    if (!rows.length) return null;
    const made = table.create(this.attrs(table, json.attrs), rows, this.marks(json.marks, parent));
    if (!isSettled(made)) this.note('a table whose rows did not fill it, filled up with empty cells');
    return squared(made);
  }

  /** Paragraphs and, where the container can hold them, tables. */
  blocks(given: readonly Json[], container: NodeType): Fragment {
    const blocks: Node[] = [];
    let loose: Json[] = [];
    const close = () => {
      if (!loose.length) return;
      this.note('words outside a paragraph, put into one');
      blocks.push(paragraph.create(null, this.inline(loose)));
      loose = [];
    };
    for (const json of given) {
      const { type } = json;
      if (inlineNames.has(type)) {
        loose.push(json);
        continue;
      }
      close();
      if (type === 'paragraph') {
        const marks = this.marks(json.marks, container);
        const attrs = this.attrs(paragraph, json.attrs);
        blocks.push(paragraph.create(attrs, this.inline(this.contentOf(json)), marks));
      } else if (type === 'table' && container === docType) {
        const made = this.table(json, container);
        if (made) blocks.push(made);
        else this.note('a table without cells, left out');
      } else {
        this.note('something that cannot stand here, its words kept');
        for (const block of this.blocks(this.contentOf(json), container).content) blocks.push(block);
      }
    }
    close();
    return Fragment.fromArray(this.between(blocks));
  }

  /** A table always stands between paragraphs, and something always stands in a container. */
  between(blocks: readonly Node[]): Node[] {
    const whole: Node[] = [];
    const add = () => {
      this.note('a place where a paragraph must stand, given one');
      whole.push(paragraph.create());
    };
    for (const block of blocks) {
      const last = whole.at(-1);
      if (block.type === table && (!last || last.type === table)) add();
      whole.push(block);
    }
    const last = whole.at(-1);
    if (!last || last.type === table) add();
    return whole;
  }
}
