import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { limits } from '../../manuscript/limits.js';
import { schema } from '../../manuscript/schema.js';
import { propertyRules } from '../../manuscript/values.js';
import { dataIn } from '../kept/context.js';
import { isSo } from '../kept/said.js';
import { TooMuch } from '../unreadable.js';
import { attribute, elements, tag, type Element } from '../xml.js';
import type { Context } from './context.js';
import { wordsIn } from './drawings.js';
import { Blocks } from './read-blocks.js';

/** Tables (OpenDocument 1.3 part 3, 9.1) as grids. */

const structure = new Set(['insertion', 'deletion', 'restyled']);
/** Attributes of cells that are read, and written from what is known. */
const ofCell = /^(table:number-(columns|rows)-(spanned|repeated)|tp:.*)$/;
const ofRow = /^(table:number-rows-repeated|tp:.*)$/;

/** What stands around rows and columns and is none itself (9.1.7, 9.1.8, 9.1.11). */
const groups = /^table:table-(row-group|rows|header-rows)$/;
const columns = /^table:table-(column|columns|header-columns|column-group)$/;

const times = (element: Element, name: string, most: number) =>
  Math.min(most, Math.max(1, Math.floor(Number(attribute(element, name) ?? 1)) || 1));

/** What an element says besides what is known, under a name; null where that is nothing. */
function restOf(context: Context, element: Element, known: RegExp, usual: Record<string, string> = {}): string | null {
  const rest = Object.entries(element.attributes).filter(([name, value]) => !known.test(name) && usual[name] !== value);
  return rest.length ? context.fragments.named(tag('tp:with', Object.fromEntries(rest))) : null;
}

class TableReader {
  #cells = 0;
  constructor(
    readonly blocks: Blocks,
    readonly context: Context,
  ) {}

  /** The marks of something, as our own file tells them. */
  #marks(element: Element, attrs: Record<string, unknown>): readonly Mark[] {
    const told = this.context.marks(element, 'tp:marks', structure) ?? [];
    const entries = told.filter(({ type }) => type.name === 'restyled');
    return entries.every((mark) => isSo(mark, attrs, entries)) ? told : [];
  }

  #cell(element: Element, isHeader: boolean): Node {
    if (++this.#cells > limits.cells) throw new TooMuch('cells');
    const inside = new Blocks(this.blocks.words, 'text', this.blocks.found, null, false, true);
    inside.inside(element);
    const header = attribute(element, 'tp:header');
    const colwidth = dataIn(element, 'tp:colwidth');
    const attrs = {
      header: header === undefined ? isHeader : header === '1',
      colspan: times(element, 'table:number-columns-spanned', 100),
      rowspan: times(element, 'table:number-rows-spanned', 1000),
      colwidth: propertyRules.colwidth(colwidth) ? (colwidth ?? null) : null,
      carried: restOf(this.context, element, ofCell, { 'office:value-type': 'string' }),
    };
    return schema.nodes.table_cell.create(attrs, Fragment.fromArray(inside.finish()), this.#marks(element, attrs));
  }

  #row(element: Element, isHeader: boolean): Node[] {
    const cells: Node[] = [];
    for (const one of elements(element)) {
      const repeated = times(one, 'table:number-columns-repeated', limits.cells);
      if (one.name === 'table:covered-table-cell') {
        if (wordsIn(one)) this.context.losses.add('words in the covered part of a joined cell', 'tables');
      } else if (one.name === 'table:table-cell')
        for (let n = 0; n < repeated; n++) cells.push(this.#cell(one, isHeader));
    }
    // A row that only goes on from above is none of its own.
    if (!cells.length) return [];
    const attrs = { carried: restOf(this.context, element, ofRow) };
    const row = schema.nodes.table_row.create(attrs, cells, this.#marks(element, attrs));
    const repeated = times(element, 'table:number-rows-repeated', limits.cells);
    if ((repeated - 1) * cells.length + this.#cells > limits.cells) throw new TooMuch('cells');
    this.#cells += (repeated - 1) * cells.length;
    return Array.from({ length: repeated }, () => row);
  }

  #rows(parent: Element, isHeader: boolean): Node[] {
    const rows: Node[] = [];
    for (const element of elements(parent)) {
      if (element.name === 'table:table-row') rows.push(...this.#row(element, isHeader));
      else if (groups.test(element.name))
        rows.push(...this.#rows(element, isHeader || element.name === 'table:table-header-rows'));
    }
    return rows;
  }

  table(element: Element): Node {
    const { context } = this;
    const { fragments } = context;
    const isOwn = attribute(element, 'tp:own') !== undefined;
    const said = Object.entries(element.attributes).filter(([name]) => !name.startsWith('tp:'));
    const shape = [...elements(element)]
      .filter(({ name }) => columns.test(name))
      .map(context.slice)
      .join('');
    const rows = this.#rows(element, false);
    if (!rows.length) rows.push(schema.nodes.table_row.create(null, schema.nodes.table_cell.createAndFill()!));
    const attrs = {
      carried: isOwn ? null : fragments.named(tag('tp:table', Object.fromEntries(said), shape)),
    };
    return schema.nodes.table.create(attrs, rows, this.#marks(element, attrs));
  }
}

/** Reads a table of the text. */
export const readTable = (blocks: Blocks, element: Element): Node =>
  new TableReader(blocks, blocks.words.context).table(element);
