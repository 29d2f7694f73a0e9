/** The face of the core: what a manuscript is and what can be done with it, without screen, server or database. */
export * from './manuscript/manuscript.js';
export { isProperty, paragraphStyles, plainParagraph, reviewMarks, schema } from './manuscript/schema.js';
export type { ListPlace, ParagraphProperties, ParagraphStyle } from './manuscript/schema.js';
export { isSafeAddress } from './manuscript/appearance.js';
export { canonical, sameManuscript } from './manuscript/canonical.js';
export { record } from './recording/record.js';
export { ink } from './recording/ink.js';
export { decide } from './changes/decide.js';
export type { Verdict } from './changes/verdict.js';
export { beforeReading, fairReading, plainText, withoutAuthor } from './reading/readings.js';
