import type { Mark, Node } from 'prosemirror-model';
import { signatureOf } from '../../manuscript/signature.js';
import { entriesOf, former } from '../../row/entries.js';
import { tag } from '../xml.js';
import { twipsInPixel } from './names.js';
import { element } from '../kept/telling.js';
import { aside } from '../kept/unsettled.js';
import { laidOut, spanned, type Placed } from '../kept/laid-out.js';
import type { BlocksWriter } from './write-blocks.js';

/** Tables (ISO/IEC 29500-1, 17.4): rows, cells and their spans, with what is pending about them. */

const isOf = (type: string) => (mark: Mark) => mark.type.name === type;
/** The order of a cell’s properties (CT_TcPr); others stand where they stood. */
const cellOrder =
  'cnfStyle tcW gridSpan hMerge vMerge tcBorders shd noWrap tcMar textDirection tcFitText vAlign hideMark headers cellIns cellDel cellMerge tcPrChange'.split(
    ' ',
  );
const placeOf = (name: string) => (cellOrder.indexOf(name.slice(2)) + cellOrder.length + 1) % (cellOrder.length + 1);

class TableWriter {
  constructor(readonly blocks: BlocksWriter) {}
  get #target() {
    return this.blocks.words.target;
  }
  #pieces = (name: unknown) => this.#target.pieces((name ?? null) as string | null);

  /** The recorded change of the properties of a row, cell or table. */
  #change(node: Node, name: string, was: (attrs: Node['attrs']) => string): string {
    const entries = entriesOf(node.marks, 'restyled').map(({ mark }) => mark);
    const top = entries.at(-1);
    if (!top) return '';
    const by = this.#target.by(signatureOf(top)!) + this.#target.told('tp:entries', entries);
    return element(`w:${name}Change`, by, tag(`w:${name}`, {}, was(former(node.attrs, node.marks, 'restyled'))));
  }

  #isGap = (cell: Node): boolean =>
    this.#target.fragment(cell.attrs.carried as string | null)?.xml === '<tp:gap/>' &&
    !cell.textContent &&
    cell.childCount === 1 &&
    !cell.marks.length;

  #cellProperties(attrs: Node['attrs'], merge: string, marks: string): string {
    const pieces = this.#pieces(attrs.carried)
      .filter((one) => one.element.name !== 'tp:gap')
      .map((one) => ({ name: one.element.name, xml: one.xml }));
    const { colspan, colwidth } = attrs as { colspan: number; colwidth: number[] | null };
    if (colwidth && !pieces.some(({ name }) => name === 'w:tcW')) {
      const width = colwidth.reduce((sum, n) => sum + n, 0) * twipsInPixel;
      pieces.push({ name: 'w:tcW', xml: tag('w:tcW', { 'w:w': width, 'w:type': 'dxa', 'tp:own': 1 }) });
    }
    if (colspan > 1) pieces.push({ name: 'w:gridSpan', xml: tag('w:gridSpan', { 'w:val': colspan }) });
    if (merge) pieces.push({ name: 'w:vMerge', xml: merge });
    return (
      pieces
        .sort((a, b) => placeOf(a.name) - placeOf(b.name))
        .map(({ xml }) => xml)
        .join('') + marks
    );
  }

  /** All that is pending about a row or cell, where it is more than the standard has a place for (17.13.5.2, 17.13.5.1). */
  #several(marks: readonly Mark[]): string {
    const structure = marks.filter((mark) => isOf('insertion')(mark) || isOf('deletion')(mark));
    const kinds = new Set(structure.map(({ type }) => type));
    return kinds.size < structure.length ? this.#target.told('tp:marks', structure) : '';
  }

  #cell({ cell, pos, row }: Placed, r: number, header: boolean): string {
    const { attrs, marks } = cell;
    const tall = (attrs.rowspan as number) > 1;
    if (row !== r) {
      const properties = this.#cellProperties({ ...attrs, colwidth: null }, tag('w:vMerge'), '');
      return tag('w:tc', {}, tag('w:tcPr', {}, properties) + '<w:p/>');
    }
    const by = (type: string, name: string) => {
      const mark = marks.find(isOf(type));
      return mark ? element(name, this.#target.by(signatureOf(mark)!)) : '';
    };
    const change = this.#change(cell, 'tcPr', (was) => this.#cellProperties(was, '', ''));
    const properties = this.#cellProperties(
      attrs,
      tall ? tag('w:vMerge', { 'w:val': 'restart' }) : '',
      by('insertion', 'w:cellIns') + by('deletion', 'w:cellDel') + change,
    );
    const own =
      (attrs.header === header ? '' : this.#target.own('tp:header', attrs.header ? '1' : '0')) +
      this.#several(marks) +
      (attrs.colwidth ? this.#target.own('tp:colwidth', attrs.colwidth) : '');
    const tcPr = properties || own ? element('w:tcPr', own, properties) : '';
    const paragraphs = this.blocks.container(cell, pos + 1, (xml) => xml);
    // A cell ends with a paragraph (17.4.65).
    if (!/<w:p\b[^<]*\/>$|<\/w:p>$/.test(paragraphs.at(-1) ?? '')) paragraphs.push('<w:p/>');
    const content = paragraphs.map((xml, i) => this.blocks.inTable(xml, cell.maybeChild(i))).join('');
    return tag('w:tc', {}, tcPr + content);
  }

  #row(row: Node, r: number, all: readonly Placed[], ofTable: string): string {
    let cells = all;
    const gaps = (from: readonly Placed[]) => {
      const n = from.findIndex(({ cell }) => !this.#isGap(cell));
      return n < 0 ? 0 : n;
    };
    const before = gaps(cells);
    const after = gaps([...cells].reverse());
    cells = cells.slice(before, cells.length - after);
    const header = cells.every(({ cell }) => cell.attrs.header as boolean);
    const by = (type: string, name: string) => {
      const mark = row.marks.find(isOf(type));
      return mark ? element(name, this.#target.by(signatureOf(mark)!)) : '';
    };
    const rest = (attrs: Node['attrs']) =>
      this.#pieces(attrs.carried)
        .map(({ xml }) => xml)
        .join('');
    const trPr =
      (before ? tag('w:gridBefore', { 'w:val': before }) : '') +
      (after ? tag('w:gridAfter', { 'w:val': after }) : '') +
      rest(row.attrs) +
      (header ? tag('w:tblHeader') : '') +
      (by('insertion', 'w:ins') || by('deletion', 'w:del')
        ? by('insertion', 'w:ins') + by('deletion', 'w:del')
        : ofTable) +
      this.#change(row, 'trPr', rest);
    return tag(
      'w:tr',
      {},
      (trPr && element('w:trPr', this.#several(row.marks), trPr)) +
        cells.map((cell) => this.#cell(cell, r, header)).join(''),
    );
  }

  table(table: Node, pos: number): string {
    const { rows, width } = laidOut(table, pos);
    const kept = this.#pieces(table.attrs.carried);
    const grid = kept.find(({ element: { name } }) => name === 'w:tblGrid');
    const isOfGrid = grid?.element.children.filter((one) => typeof one !== 'string').length === width;
    const widths = rows[0]?.own.flatMap(
      ({ cell }) => (cell.attrs.colwidth as number[] | null) ?? spanned(cell).map(() => 0),
    );
    const tblGrid = isOfGrid
      ? grid!.xml
      : tag(
          'w:tblGrid',
          {},
          Array.from({ length: width }, (_, n) =>
            tag('w:gridCol', { 'w:w': (widths?.[n] || 120) * twipsInPixel }),
          ).join(''),
        );
    const rest = (attrs: Node['attrs']) =>
      this.#pieces(attrs.carried)
        .filter(({ element: { name } }) => name !== 'w:tblGrid')
        .map(({ xml }) => xml)
        .join('');
    const structure = table.marks.filter((mark) => isOf('insertion')(mark) || isOf('deletion')(mark));
    const own = table.attrs.carried === null ? aside(' tp:own="1"') : '';
    const properties =
      (own ? tag('w:tblW', { 'w:w': 0, 'w:type': 'auto' }) + borders : rest(table.attrs)) +
      this.#change(table, 'tblPr', rest);
    const tblPr = element(
      'w:tblPr',
      own + (structure.length ? this.#target.told('tp:marks', structure) : ''),
      properties,
    );
    const ofTable = structure
      .map((mark) => {
        const name = mark.type.name === 'insertion' ? 'w:ins' : 'w:del';
        return element(name, this.#target.by(signatureOf(mark)!) + aside(' tp:table="1"'));
      })
      .join('');
    const body = rows.map(({ all }, r) => this.#row(table.child(r), r, all, ofTable)).join('');
    return tag('w:tbl', {}, tblPr + tblGrid + body);
  }
}

/** Thin lines around all cells, as a table of ours has them. */
const borders = tag(
  'w:tblBorders',
  {},
  ['top', 'left', 'bottom', 'right', 'insideH', 'insideV']
    .map((side) => tag(`w:${side}`, { 'w:val': 'single', 'w:sz': 4, 'w:space': 0, 'w:color': 'auto' }))
    .join(''),
);

/** A table as XML; one too large to be laid out is a matter of the limits, not of this. */
export function tableXml(blocks: BlocksWriter, table: Node, pos: number): string {
  return new TableWriter(blocks).table(table, pos);
}
