import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { schema } from '../../manuscript/schema.js';
import { signatureOf, type Signature } from '../../manuscript/signature.js';
import { propertyRules } from '../../manuscript/values.js';
import { pushEntry } from '../../row/entries.js';
import { attribute, child, elements, type Element } from '../xml.js';
import { dataIn } from '../kept/context.js';
import { isSo } from '../kept/said.js';
import { changeName, type Context, type Part } from './context.js';
import { isOn } from './looks.js';
import { Blocks } from './read-blocks.js';

/** Tables (ISO/IEC 29500-1, 17.4) as grids, with what is pending about rows and cells (17.13.5). */

const val = (element: Element | undefined) => attribute(element, 'w:val');
const structure = new Set(['insertion', 'deletion']);
const entriesOnly = new Set(['restyled']);

/** Rows, or cells of a row, through whatever stands around them. */
function* partsOf(parent: Element, name: string): Generator<Element> {
  for (const element of elements(parent)) {
    if (element.name === name) yield element;
    else if (element.name === 'w:sdt') yield* partsOf(child(element, 'w:sdtContent') ?? element, name);
    else if (element.name === 'w:customXml') yield* partsOf(element, name);
  }
}

/** What properties say besides what a manuscript knows of them. */
const restOf = (part: Part, properties: Element | undefined, known: ReadonlySet<string>): string => {
  let xml = '';
  for (const element of elements(properties))
    if (!known.has(element.name) && attribute(element, 'tp:own') === undefined) xml += part.slice(element);
  return xml;
};

const ofTable = new Set(['w:tblPrChange']);
const ofRow = new Set(['w:tblHeader', 'w:ins', 'w:del', 'w:trPrChange', 'w:gridBefore', 'w:gridAfter']);
const ofCell = new Set(['w:gridSpan', 'w:vMerge', 'w:cellIns', 'w:cellDel', 'w:tcPrChange']);

/**
 * Insertion and deletion of a row or cell.
 * @param known the changes of the cells above, in whose column a cell of the same author and date is part of theirs
 */
function structureMarks(
  part: Part,
  inserted: Element | undefined,
  deleted: Element | undefined,
  known?: (element: Element, make: () => Signature) => Signature,
): readonly Mark[] {
  const { context } = part;
  const change = (element: Element) => {
    const make = () => context.change(element, undefined);
    return known && changeName(element) === undefined ? known(element, make) : make();
  };
  let marks: readonly Mark[] = [];
  const isOfTable = (element: Element) => attribute(element, 'tp:table') !== undefined;
  if (inserted && !isOfTable(inserted)) marks = schema.marks.insertion.create(change(inserted)).addToSet(marks);
  if (deleted && !isOfTable(deleted)) marks = schema.marks.deletion.create(change(deleted)).addToSet(marks);
  return marks;
}

/** The marks of a row, cell or table with a recorded change of its properties. */
function withEntries(
  part: Part,
  marks: readonly Mark[],
  changed: Element | undefined,
  now: Record<string, unknown>,
  formerRest: (former: Element | undefined) => string | null,
): readonly Mark[] {
  if (!changed) return marks;
  const { context } = part;
  const told = context.marks(changed, 'tp:entries', entriesOnly);
  if (told?.every((mark) => isSo(mark, now, told)))
    return told.reduce((all: readonly Mark[], mark) => mark.addToSet(all), marks);
  const was = formerRest([...elements(changed)][0]);
  if (was === now.carried) return marks;
  const by = { change: changeName(changed) ?? context.newChange(), ...context.signed(changed) };
  return pushEntry(marks, 'restyled', by, { carried: was }, { carried: now.carried });
}

/** What our own file tells of a row or cell beside what the standard has a place for, unless that was changed since. */
function allMarks({ context }: Part, properties: Element | undefined, said: readonly Mark[]): readonly Mark[] {
  const told = context.marks(properties, 'tp:marks', structure) ?? [];
  const isTold = ({ type, attrs }: Mark) =>
    told.some((mark) => mark.type === type && mark.attrs.author === attrs.author && mark.attrs.date === attrs.date);
  const isSaid = (mark: Mark) => said.some(({ type }) => type === mark.type);
  return told.length > 0 && said.every(isTold) && told.every(isSaid) ? told : said;
}

/** Reads on in something that is itself pending, until what is returned is called. */
function enter({ within }: Context, pending: readonly Mark[]): () => void {
  const all = pending.flatMap((mark) => signatureOf(mark) ?? []);
  within.push(...all);
  return () => void within.splice(within.length - all.length);
}

interface Cell {
  node: Node;
  column: number;
  colspan: number;
  rowspan: number;
}

/** The widest span that is believed. */
const widest = 100;

class TableReader {
  readonly #part: Part;
  constructor(readonly blocks: Blocks) {
    this.#part = blocks.part;
  }

  readonly #columns = new Map<string, Signature>();

  /** The change of a column, of which each cell says the same. */
  #ofColumn = (column: number) => (element: Element, make: () => Signature) => {
    const { author, date } = this.#part.context.signed(element);
    const key = `${column} ${element.name} ${author} ${date}`;
    const known = this.#columns.get(key);
    if (known) return known;
    this.#part.context.apart();
    const made = make();
    this.#part.context.apart();
    this.#columns.set(key, made);
    return made;
  };

  #cell(element: Element, header: boolean, column: number): { node: Node; colspan: number; joins: boolean } {
    const { context } = this.#part;
    const tcPr = child(element, 'w:tcPr');
    const said = structureMarks(this.#part, child(tcPr, 'w:cellIns'), child(tcPr, 'w:cellDel'), this.#ofColumn(column));
    const pending = allMarks(this.#part, tcPr, said);
    const leave = enter(context, pending);
    const inside = new Blocks(this.#part, this.blocks.words, null);
    inside.inside(element);
    const content = inside.finish();
    leave();
    for (const { node, start, end } of content) this.blocks.inner(node, start, end);
    const span = Math.floor(Number(val(child(tcPr, 'w:gridSpan')) ?? 1));
    const colspan = span >= 1 ? Math.min(widest, span) : 1;
    const merge = child(tcPr, 'w:vMerge');
    const rest = (properties: Element | undefined) => context.fragments.named(restOf(this.#part, properties, ofCell));
    const told = attribute(tcPr, 'tp:header');
    const colwidth = dataIn(tcPr, 'tp:colwidth');
    const attrs = {
      header: told === undefined ? header : told === '1',
      colspan,
      colwidth: propertyRules.colwidth(colwidth) ? (colwidth ?? null) : null,
      carried: rest(tcPr),
    };
    const marks = withEntries(this.#part, pending, child(tcPr, 'w:tcPrChange'), attrs, rest);
    const node = schema.nodes.table_cell.create(attrs, Fragment.fromArray(content.map((one) => one.node)), marks);
    return { node, colspan, joins: !!merge && val(merge) !== 'restart' };
  }

  #empty(): Cell['node'] {
    const carried = this.#part.context.fragments.nameOf({ xml: '<tp:gap/>' });
    return schema.nodes.table_cell.create({ carried }, schema.nodes.paragraph.create());
  }

  /** The cells of a row from its first column on; a cell that goes on from above is that one. */
  #row(element: Element, above: Map<number, Cell>): { node: Node; cells: Cell[] } {
    const { context } = this.#part;
    const trPr = child(element, 'w:trPr');
    const headerElement = child(trPr, 'w:tblHeader');
    const header = !!headerElement && isOn(headerElement);
    const said = structureMarks(this.#part, child(trPr, 'w:ins'), child(trPr, 'w:del'));
    const pending = allMarks(this.#part, trPr, said);
    const leaveRow = enter(context, pending);
    const cells: Cell[] = [];
    let column = 0;
    const gaps = (name: string) => Math.min(widest, Math.max(0, Number(val(child(trPr, name))) || 0));
    const leave = (n: number) => {
      for (let i = 0; i < n; i++) cells.push({ node: this.#empty(), column: column++, colspan: 1, rowspan: 1 });
    };
    const going = new Map<number, Cell>();
    leave(gaps('w:gridBefore'));
    for (const each of partsOf(element, 'w:tc')) {
      const { node, colspan, joins } = this.#cell(each, header, column);
      const head = joins ? above.get(column) : undefined;
      if (head?.colspan === colspan && head.rowspan < 1000) {
        head.rowspan++;
        going.set(column, head);
        if (node.textContent.trim()) context.losses.add('words in the covered part of a joined cell', 'tables');
      } else {
        const cell = { node, column, colspan, rowspan: 1 };
        cells.push(cell);
        going.set(column, cell);
      }
      column += colspan;
    }
    leave(gaps('w:gridAfter'));
    leaveRow();
    // A row that only goes on from above is none of its own.
    if (!cells.length) for (const head of new Set(going.values())) head.rowspan--;
    above.clear();
    for (const [at, cell] of going) above.set(at, cell);
    const rest = (properties: Element | undefined) => context.fragments.named(restOf(this.#part, properties, ofRow));
    const attrs = { carried: rest(trPr) };
    const marks = withEntries(this.#part, pending, child(trPr, 'w:trPrChange'), attrs, rest);
    return { node: schema.nodes.table_row.create(attrs, [], marks), cells };
  }

  table(element: Element): Node {
    const { context, slice } = this.#part;
    const tblPr = child(element, 'w:tblPr');
    const grid = child(element, 'w:tblGrid');
    const above = new Map<number, Cell>();
    const rows = [...partsOf(element, 'w:tr')].map((row) => this.#row(row, above));
    const nodes = rows
      .map(({ node, cells }) =>
        node.copy(
          Fragment.fromArray(
            cells.map((cell) =>
              cell.rowspan === 1 && cell.colspan === 1
                ? cell.node
                : schema.nodes.table_cell.create(
                    { ...cell.node.attrs, rowspan: cell.rowspan },
                    cell.node.content,
                    cell.node.marks,
                  ),
            ),
          ),
        ),
      )
      .filter(({ childCount }) => childCount > 0);
    if (!nodes.length) nodes.push(schema.nodes.table_row.create(null, this.#empty()));
    const own = attribute(tblPr, 'tp:own') !== undefined;
    const rest = (properties: Element | undefined) =>
      context.fragments.named(own ? '' : restOf(this.#part, properties, ofTable) + (grid ? slice(grid) : ''));
    const attrs = { carried: rest(tblPr) };
    const whole = context.marks(tblPr, 'tp:marks', structure) ?? [];
    const marks = withEntries(this.#part, whole, child(tblPr, 'w:tblPrChange'), attrs, rest);
    return schema.nodes.table.create(attrs, nodes, marks);
  }
}

/** Reads a table of the main text. */
export const readTable = (blocks: Blocks, element: Element): Node => new TableReader(blocks).table(element);
