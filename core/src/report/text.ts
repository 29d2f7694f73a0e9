import type { Node } from 'prosemirror-model';
import type { Piece } from '../changes/in-sentence.js';
import { inOneLine } from '../changes/one-line.js';
import { isSmall } from '../changes/small-edits.js';
import { plainParagraph, schema, type ParagraphProperties } from '../manuscript/schema.js';

/** What texts about a text are made of. */

/** A change of which its sentence is shown: the pieces that went, and that came. */
export type Sentence = { before: readonly Piece[]; after: readonly Piece[] };

/** Words with marks, or nothing. */
export const text = (words: string, ...marks: string[]): Node[] =>
  words
    ? [
        schema.text(
          words,
          marks.map((name) => schema.marks[name]!.create()),
        ),
      ]
    : [];

export const paragraph = (content: readonly Node[], properties: Partial<ParagraphProperties> = {}): Node =>
  schema.nodes.paragraph.create({ ...plainParagraph, ...properties }, content);

const cell = (content: readonly Node[], header = false): Node =>
  schema.nodes.table_cell.create({ header }, [paragraph(content)]);

/** A piece that went or came; a sign alone would be overlooked, and stands in brackets. */
function changedPiece(words: string, ...marks: string[]): Node[] {
  const inner = text(words, ...marks);
  return isSmall(words) && !/[\p{L}\p{N}]/u.test(words) ? [...text('['), ...inner, ...text(']')] : inner;
}

/** A sentence with what went struck through and what came underlined: shapes that stay on any paper. */
export const markedSentence = (sentence: Sentence): Node[] =>
  inOneLine(sentence).flatMap((piece) => {
    if (piece.is === 'gone') return changedPiece(piece.text, 'strike');
    return piece.is === 'come' ? changedPiece(piece.text, 'underline', 'bold') : text(piece.text);
  });

export const tableOf = (head: readonly string[], rows: readonly (readonly (readonly Node[])[])[]): Node =>
  schema.nodes.table.create(null, [
    schema.nodes.table_row.create(
      null,
      head.map((words) => cell(text(words), true)),
    ),
    ...rows.map((row) =>
      schema.nodes.table_row.create(
        null,
        row.map((content) => cell(content)),
      ),
    ),
  ]);

export const heading = (words: string): Node => paragraph(text(words), { style: 'heading1' });
export const item = (content: readonly Node[]): Node => paragraph(content, { list: { kind: 'bullet', level: 0 } });

/** Blocks as a text; a table stands between paragraphs. */
export const textOfBlocks = (blocks: readonly Node[]): Node =>
  schema.nodes.doc.create(null, blocks.at(-1)!.isTextblock ? blocks : [...blocks, paragraph([])]);
