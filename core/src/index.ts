/** The face of the core: what a manuscript is and what can be done with it, without screen, server or database. */
export * from './manuscript/manuscript.js';
export { isProperty, plainParagraph, reviewMarks, schema } from './manuscript/schema.js';
export type { ParagraphProperties } from './manuscript/schema.js';
export { highlightColours, isSafeAddress, paragraphStyles, wordColours } from './manuscript/values.js';
export type { ListPlace, ParagraphStyle } from './manuscript/values.js';
export { mend } from './manuscript/mend.js';
export type { Mended } from './manuscript/mend.js';
export { canonical, sameManuscript } from './manuscript/canonical.js';
export { record } from './recording/record.js';
export { ink } from './recording/ink.js';
export { decide } from './changes/decide.js';
export type { Verdict } from './changes/verdict.js';
export { placeInReading, placeInText } from './reading/place.js';
export { beforeReading, fairReading, plainText, withoutAuthor } from './reading/readings.js';
export { changeIds, findChange, listChanges } from './changes/list.js';
export type { Change, ChangeKind, Place, Range } from './changes/list.js';
export { describeChange, describeProperty, inSentence } from './changes/describe.js';
export type { Piece } from './changes/describe.js';
export { checkBatch, clockAllowance, offlineAllowance } from './rules/check-batch.js';
export { correct } from './rules/correct.js';
export { rebase } from './rules/rebase.js';
export type { Intent, Sender } from './rules/check-batch.js';
export { ledgerEntry } from './changes/ledger.js';
export type { LedgerEntry } from './changes/ledger.js';
export { anchors, withoutAnchors } from './threads/anchors.js';
export { strays } from './threads/stray.js';
export type { Stray } from './threads/stray.js';
export { carriedFrom, setDown } from './threads/carried.js';
export { foundAgain, mappedRange } from './threads/place.js';
export { allGoes, joinedRanges, wordsOf } from './threads/words.js';
export type { Carried } from './threads/carried.js';
export { answersOwed, names, openQueries } from './threads/queries.js';
export {
  isBlank,
  itemNumbers,
  mentionsIn,
  readRemark,
  remarkOf,
  remarkSchema,
  remarkText,
  UnreadableRemark,
} from './threads/remark.js';
export type { Remark, RemarkLine, RemarkMark, RemarkPiece } from './threads/remark.js';
export { roughness } from './courtesy/courtesy.js';
export type { Rough, Roughness } from './courtesy/courtesy.js';
export { writeAnnotations } from './formats/web-annotation/write.js';
export type { AnnotationCollection } from './formats/web-annotation/write.js';
export { escapeHtml, remarkHtml } from './formats/html/remark.js';
export { placeNotes } from './margins/place.js';
export type { Note } from './margins/place.js';
export { UnreadableFile } from './formats/unreadable.js';
export { largestFile } from './formats/package.js';
export { readDocx } from './formats/docx/read.js';
export { writeDocx } from './formats/docx/write.js';
export { readText, writeText } from './formats/text/text.js';
export * from './editing/tables.js';
export * from './editing/insertions.js';
export * from './editing/paragraphs.js';
export * from './editing/words.js';
export { contained } from './editing/selection.js';
export { alikeKey, alikeTo, changesIn, isAlike, paragraphAround, sentenceAround } from './changes/alike.js';
export { keptSpaces, removedWords, tidyCome, tidyGone } from './editing/spaces.js';
export type { Removed } from './editing/spaces.js';
export { deleteBreak, deleteLetter, deleteToEdge, deleteWord } from './editing/letters.js';
export type { Direction } from './editing/letters.js';
export { endsOf, isMove } from './changes/moves.js';
export type { Move } from './changes/moves.js';
export { sweepOf } from './changes/sweeps.js';
export { spaceTrouble } from './changes/touching.js';
export type { SpaceTrouble } from './changes/touching.js';
export { linesOf, placesOf } from './sweeps/lines.js';
export type { Line } from './sweeps/lines.js';
export { search, UnreadableQuery, wordBorders } from './sweeps/search.js';
export type { Hit, Query } from './sweeps/search.js';
export { sweep } from './sweeps/sweep.js';
export { sameValue } from './manuscript/properties.js';
export { outline, sectionsOf } from './manuscript/outline.js';
export type { Heading } from './manuscript/outline.js';
export {
  changeKinds,
  everything,
  isEverything,
  lensFilter,
  lensFromQuery,
  lensToQuery,
  threadFilter,
} from './lens/lens.js';
export type { Lens, Seen, Surroundings, ThreadSurroundings } from './lens/lens.js';
export { countChanges, countWords } from './figures/counts.js';
export type { Counts } from './figures/counts.js';
export { writeCsv } from './formats/csv/csv.js';
export { authorHues } from './hues/table.js';
export type { Hue } from './hues/table.js';
