/** What threads of their own can do; see `work/workers.ts`. Each task is a function of plain data. */
export { checkpoint } from './live/checkpoint-task.js';
export { readFile } from './exchange/read-task.js';
export { writeCopy } from './exchange/write-task.js';
