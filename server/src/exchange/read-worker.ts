import { parentPort, workerData } from 'node:worker_threads';
import { readDocx, readText, UnreadableFile, type Reading } from '@tea-pencil/core';

/** Reads one file in a thread of its own, so that a large or hostile one never stops the server. */

const { bytes, format } = workerData as { bytes: Uint8Array; format: 'docx' | 'txt' };

const read = format === 'docx' ? readDocx : readText;
read(bytes).then(
  ({ manuscript, losses }: Reading) => {
    const { doc, ...rest } = manuscript;
    parentPort!.postMessage({ manuscript: { ...rest, doc: doc.toJSON() as object }, losses });
  },
  (problem: unknown) => {
    const reason = problem instanceof UnreadableFile ? problem.reason : 'is damaged: it does not keep to its format';
    parentPort!.postMessage({ reason });
  },
);
