import type { Mark, Node } from 'prosemirror-model';
import { laidOut, type Placed } from '../kept/laid-out.js';
import { attributes, element } from '../kept/telling.js';
import { anyNumber } from '../kept/unsettled.js';
import { elements, tag, xmlOf } from '../xml.js';
import type { Target } from './target.js';

/** Tables (OpenDocument 1.3 part 3, 9.1): rows, cells and their spans. What is pending about rows and cells only we know. */

/** What only we know of something in a table. */
function pending(target: Target, marks: readonly Mark[]): string {
  return marks.length ? target.told('tp:marks', marks) : '';
}

/** What a row or cell said of itself in its file. */
const cameWith = (target: Target, { attrs }: Node) => target.came(attrs.carried, 'tp:with')?.attributes ?? {};

export class TableWriter {
  constructor(
    readonly target: Target,
    /** Writes what stands in a cell. */
    readonly content: (cell: Node, pos: number) => string,
  ) {}

  #cell({ cell, pos, row }: Placed, r: number, isHeader: boolean): string {
    const { colspan, rowspan, header, colwidth } = cell.attrs as {
      colspan: number;
      rowspan: number;
      header: boolean;
      colwidth: number[] | null;
    };
    const covered = (n: number) => '<table:covered-table-cell/>'.repeat(n);
    if (row !== r) return covered(colspan);
    const own =
      attributes({
        'office:value-type': 'string',
        ...cameWith(this.target, cell),
        'table:number-columns-spanned': colspan > 1 || rowspan > 1 ? colspan : undefined,
        'table:number-rows-spanned': colspan > 1 || rowspan > 1 ? rowspan : undefined,
      }) +
      (header === isHeader ? '' : this.target.own('tp:header', header ? '1' : '0')) +
      (colwidth ? this.target.own('tp:colwidth', colwidth) : '') +
      pending(this.target, cell.marks);
    return element('table:table-cell', own, this.content(cell, pos + 1)) + covered(colspan - 1);
  }

  xml(table: Node, start: number): string {
    const { target } = this;
    const { rows, width } = laidOut(table, start);
    const heads = table.children.map((row) => row.children.every(({ attrs }) => attrs.header as boolean));
    const first = heads.indexOf(true);
    let last = first;
    while (first >= 0 && heads[last + 1]) last++;
    const lines = rows.map(({ all }, r) => {
      const row = table.child(r);
      const isHeader = first >= 0 && r >= first && r <= last;
      const own = attributes(cameWith(target, row)) + pending(target, row.marks);
      return element('table:table-row', own, all.map((placed) => this.#cell(placed, r, isHeader)).join(''));
    });
    const body =
      first < 0
        ? lines.join('')
        : lines.slice(0, first).join('') +
          tag('table:table-header-rows', {}, lines.slice(first, last + 1).join('')) +
          lines.slice(last + 1).join('');
    const came = target.came(table.attrs.carried, 'tp:table');
    // Insertion and deletion of all of it stand in the text.
    const marks = pending(
      target,
      table.marks.filter(({ type }) => type.name === 'restyled'),
    );
    if (!came) {
      const columns = tag('table:table-column', { 'table:number-columns-repeated': width > 1 ? width : undefined });
      return element('table:table', ` table:name="tpt${anyNumber}" tp:own="1"${marks}`, columns + body);
    }
    return element(
      'table:table',
      attributes(came.attributes) + marks,
      this.#columns([...elements(came)].map(xmlOf), came, width) + body,
    );
  }

  /** The columns as the file has them, as long as there are as many. */
  #columns(columns: readonly string[], came: Parameters<typeof elements>[0], width: number): string {
    let howMany = 0;
    const count = (parent: Parameters<typeof elements>[0]) => {
      for (const one of elements(parent))
        if (one.name === 'table:table-column')
          howMany += Number(one.attributes['table:number-columns-repeated'] ?? 1) || 1;
        else count(one);
    };
    count(came);
    if (howMany === width) return columns.join('');
    return tag('table:table-column', { 'table:number-columns-repeated': width > 1 ? width : undefined });
  }
}
