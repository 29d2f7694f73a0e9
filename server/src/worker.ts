import { constants, setPriority } from 'node:os';

/** What threads of their own can do; see `work/workers.ts`. Each task is a function of plain data. */

// On Linux this is about the thread alone: people’s keys go before their files.
setPriority(constants.priority.PRIORITY_BELOW_NORMAL);

export { checkpoint } from './live/checkpoint-task.js';
export { readFile } from './exchange/read-task.js';
export { writeCopy } from './exchange/write-task.js';
export { makeFairCopy } from './fair-copy/making-task.js';
export { printManuscript } from './printing/print-task.js';
export { copyText } from './exchange/copy-task.js';
export { makeSearchable } from './manuscripts/search-task.js';
export { isProtectedWith, protect } from './sharing/passphrase-task.js';
export { countDrafts } from './drafts/count-task.js';
export { layBeside } from './drafts/beside-task.js';
export { bringBack } from './drafts/rewriting-task.js';
export { layDown, readInk } from './drafts/ink-task.js';
export { takeBackAct } from './drafts/take-back-task.js';
export { takeIn } from './exchange/returned-task.js';
export { printBlocks } from './last-look/print-task.js';
export { checkStyle } from './house-style/check-task.js';
export { collateTexts } from './exchange/collate-task.js';
