import { limitWords, type Limit } from '../manuscript/limits.js';

/** A file that cannot be read, with the reason as the end of a sentence that begins with its name. */
export class UnreadableFile extends Error {
  constructor(readonly reason: string) {
    super(`The file ${reason}.`);
    this.name = 'UnreadableFile';
  }
}

/** A file that holds more than one manuscript may. */
export class TooMuch extends UnreadableFile {
  constructor(limit: Limit) {
    super(`is too much: ${limitWords[limit]}`);
    this.name = 'TooMuch';
  }
}
