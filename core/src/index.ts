/** The face of the core: what a manuscript is and what can be done with it, without screen, server or database. */

// What a manuscript is.
export type * from './manuscript/manuscript.js';
export type * from './manuscript/origin.js';
export * from './manuscript/people.js';
export * from './manuscript/threads.js';
export { noDate, isFixed, signatureOf, toDate } from './manuscript/signature.js';
export type { ChangeId, Signature, Stamp } from './manuscript/signature.js';
export { isProperty, plainParagraph, reviewMarks, schema } from './manuscript/schema.js';
export type { MarkName, NodeName, ParagraphProperties, PropertyMarkName } from './manuscript/schema.js';
export {
  asText,
  highlightColours,
  isLanguage,
  isSafeAddress,
  isText,
  paragraphStyles,
  wordColours,
} from './manuscript/values.js';
export type { ListItem, ParagraphStyle } from './manuscript/values.js';
export { isSound, mend, mended, soundInParts } from './manuscript/mend.js';
export { harmOf, harmWords } from './manuscript/sound.js';
export { limits, limitWords, overLimit, weightOf } from './manuscript/limits.js';
export type { Limit } from './manuscript/limits.js';
export type { Mended } from './manuscript/mend.js';
export { canonical, sameManuscript } from './manuscript/canonical.js';
export { sameValue } from './manuscript/properties.js';
export { outline, sectionsOf } from './manuscript/outline.js';
export type { Heading } from './manuscript/outline.js';
export { countWords } from './manuscript/words.js';
export { hasSpans, isWhole, squared, squareTables } from './manuscript/grid.js';
export { counted, plural } from './manuscript/counted.js';

// The text as a row of tokens.
export { OnBlocks } from './row/on-blocks.js';
export { composed, mapOf, rangesOf } from './row/maps.js';
export type { Ranges } from './row/maps.js';

// Changes: finding, describing, grouping and deciding them.
export { isSmall, isUnseen, signNames, smallEditWords } from './changes/small-edits.js';
export { changeIds, changeKinds, findChange, lastOf, listChanges } from './changes/list.js';
export { overAnyLimit } from './changes/over-limit.js';
export type { Change, ChangeKind, Range, SomeRanges, Whereabouts } from './changes/list.js';
export { describeChange, describeProperty, spaceWords } from './changes/describe.js';
export { listNumbers } from './manuscript/list-numbers.js';
export { inSentence } from './changes/in-sentence.js';
export { inOneLine, type LinePiece } from './changes/one-line.js';
export { firstWords, lastWords } from './changes/excerpt.js';
export type { Piece } from './changes/in-sentence.js';
export { alikeKey, alikeTo, changesIn, isAlike, paragraphAround, sentenceAround } from './changes/alike.js';
export { endsOf, isMove } from './changes/moves.js';
export type { Move } from './changes/moves.js';
export { sweepOf } from './changes/sweeps.js';
export { passingBetween } from './changes/lifecycle.js';
export type { Passing } from './changes/lifecycle.js';
export { endedWord, endedWords, ledgerFacts } from './changes/ledger.js';
export type { LedgerFacts } from './changes/ledger.js';
export { decide, decideInParts } from './changes/decide.js';
export type { Verdict } from './changes/verdict.js';

// Readings.
export { beforeReading, fairReading, plainText, withoutAuthor } from './reading/readings.js';
export { placeInReading, placeInText } from './reading/place.js';
export { spaceTrouble } from './reading/space-trouble.js';
export type { SpaceTrouble } from './reading/space-trouble.js';

// Recording, and the rules for what is recorded.
export { record } from './recording/record.js';
export { become } from './collating/become.js';
export { beside } from './collating/sides.js';
export type { Beside } from './collating/sides.js';
export { differencesIn } from './collating/places.js';
export type { Difference } from './collating/places.js';
export { collate, revised } from './collating/collate.js';
export type { Pending } from './collating/collate.js';
export { stayed } from './collating/stayed.js';
export { merged, returned } from './collating/merged.js';
export type { Meeting, Merged, Returned } from './collating/merged.js';
export { knownAgain } from './collating/known-again.js';
export type { Held, Named } from './collating/known-again.js';
export { ink } from './recording/ink.js';
export { checkBatch, checkInParts, clockAllowance, fixedBy, offlineAllowance } from './rules/check-batch.js';
export type { Intent, Sender } from './rules/check-batch.js';
export { Passed } from './rules/passed.js';
export { correct } from './rules/correct.js';
export { outright, outrightInInk } from './rules/outright.js';
export { carriedOver, rebase } from './rules/rebase.js';
export { inversesOf, takenBack } from './rules/take-back.js';

// The commands of the editor.
export * from './editing/insertions.js';
export { deleteBreak, deleteLetter, deleteToEdge, deleteWord } from './editing/letters.js';
export type { Direction } from './editing/letters.js';
export * from './editing/carried.js';
export * from './editing/direction.js';
export * from './editing/paragraphs.js';
export type { GridFacts } from './changes/grid-facts.js';
export { languageName } from './changes/describe.js';
export { quoteFor, quotesOf, typographic } from './editing/quotes.js';
export type { Quotes } from './editing/quotes.js';
export { contained } from './editing/selection.js';
export { keptSpaces, removedWords, tidyCome, tidyGone } from './editing/spaces.js';
export type { Removed } from './editing/spaces.js';
export * from './editing/tables.js';
export * from './editing/words.js';

// Threads.
export { carriedWords } from './manuscript/appearance.js';
export { anchors, withoutAnchors } from './threads/anchors.js';
export { takenUp, setDown } from './threads/taken-up.js';
export type { TakenUp } from './threads/taken-up.js';
export { foundAgain, mappedRange } from './threads/place.js';
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
export { strays } from './threads/stray.js';
export { overTalk, talkLimits, talkSize } from './threads/talk-limits.js';
export type { TalkSize } from './threads/talk-limits.js';
export type { Stray } from './threads/stray.js';
export { allGoes, joinedRanges, wordsOf } from './threads/words.js';
export { roughness } from './courtesy/courtesy.js';
export type { Rough, Roughness } from './courtesy/courtesy.js';

// Sweeps: find and replace throughout.
export { linesOf, placesOf, placesSince } from './sweeps/lines.js';
export type { Line } from './sweeps/lines.js';
export { search, UnreadableQuery, wordBorders } from './sweeps/search.js';
export type { Hit, Query } from './sweeps/search.js';
export { isReplaced, sweep } from './sweeps/sweep.js';

// The last look, and the rules of a house.
export { beginningOf, passagesOf, placesIn } from './last-look/passage.js';
export type { Passage } from './last-look/passage.js';
export { findingKinds } from './last-look/finding.js';
export type { Finding, FindingKind, Proposal } from './last-look/finding.js';
export { blockAt, correction, corrections } from './last-look/correcting.js';
export type { Correction } from './last-look/correcting.js';
export { printOf } from './last-look/print.js';
export { LastLook } from './last-look/look.js';
export type { Ruling } from './last-look/ruling.js';
export { baseOf } from './last-look/tokens.js';
export type { Looked, Rewriting } from './last-look/look.js';
export type { Inconsistency } from './last-look/ways.js';
export { dictionaryOf, spellerOf } from './last-look/spelling/speller.js';
export type { DictionaryName, Speller } from './last-look/spelling/speller.js';
export type { Spellers } from './last-look/spelling/unknown.js';
export { nameOf as wordToKeep } from './last-look/spelling/unknown.js';
export { choices, ruleKinds, styleLimits, styleProblems, unreadableIn } from './house-style/rules.js';
export type { HouseStyle, Rule, RuleKind, StyleProblem } from './house-style/rules.js';
export { rulingOf } from './house-style/check.js';
export { rulesFromRows, styleColumns, styleFromJson, styleRows, UnreadableStyle } from './house-style/files.js';

// Files.
export { TooMuch, UnreadableFile } from './formats/unreadable.js';
export { largestFile } from './formats/package.js';
export { endingsTaken, filesTaken, kindOf, kinds } from './formats/kinds.js';
export type { FormatName, Kind } from './formats/kinds.js';
export { formats } from './formats/formats.js';
export type { DocxOrigin, OdtOrigin } from './manuscript/origin.js';
export type { Format } from './formats/formats.js';
export type { Progress, WriteOptions } from './formats/options.js';
export { isPassphrase, mostSpins, olderSecret, protectionOf } from './formats/docx/passphrase.js';
export type { Digest } from './formats/docx/passphrase.js';
export { readDocx } from './formats/docx/read.js';
export { writeDocx } from './formats/docx/write.js';
export { readHtml } from './formats/html/read.js';
export { writeHtml } from './formats/html/write.js';
export { readMarkdown } from './formats/markdown/read.js';
export { lostInMarkdown, writeMarkdown } from './formats/markdown/write.js';
export { readFodt, readOdt } from './formats/odt/read.js';
export { writeFodt, writeOdt } from './formats/odt/write.js';
export { readText, writeText } from './formats/text/text.js';
export { writeCsv } from './formats/csv/csv.js';
export { escapeHtml, remarkHtml } from './formats/html/remark.js';
export { writeAnnotations } from './formats/web-annotation/write.js';
export type { AnnotationCollection } from './formats/web-annotation/write.js';

// Values and computations of the screens.
export { authorHues } from './hues/table.js';
export type { Hue } from './hues/table.js';
export { fates, fatesOf, remainingOf } from './fair-copy/remaining.js';
export type { Chosen, Fate, Remaining } from './fair-copy/remaining.js';
export { recordOf } from './fair-copy/record.js';
export type { Recorded } from './fair-copy/record.js';
export { NotProved, proveFair, proveMarked } from './fair-copy/proof.js';
export type { Excuses, Proof } from './fair-copy/proof.js';
export { barePicture } from './formats/outgoing/pictures.js';
export { runsOrReachesOutside } from './formats/outgoing/parts.js';
export { isActive, isOfProperties, tracesIn } from './fair-copy/traces.js';
export type { Trace } from './fair-copy/traces.js';
export { wordCounts } from './figures/word-counts.js';
export type { WordCounts } from './figures/word-counts.js';
export { figuresOf, medianWait, states, stateWords, sumsOf } from './figures/figures.js';
export type { Counted, Figure, FigureName, FigureRow, Kept, State, Worked } from './figures/figures.js';
export { pagesOf } from './pages/breaking.js';
export type { FlowLine, FlowNote, NotePart, PageOf, Room } from './pages/breaking.js';
export { frequentEdits, frequentWords } from './report/frequent.js';
export type { Edited, Frequent } from './report/frequent.js';
export { ledgerText, talkText } from './report/lists.js';
export type { LedgerLine } from './report/lists.js';
export { praises, reportOf } from './report/report.js';
export type { ToReport } from './report/report.js';
export { countChanges } from './figures/counts.js';
export type { Counts } from './figures/counts.js';
export { everything, isEverything, lensFilter, lensFromQuery, lensToQuery, threadFilter } from './lens/lens.js';
export type { Lens, Seen, Surroundings, ThreadSurroundings } from './lens/lens.js';
export { placeNotes } from './margins/place.js';
export type { Note } from './margins/place.js';
