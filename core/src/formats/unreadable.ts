/** A file that cannot be read, with the reason as the end of a sentence that begins with its name. */
export class UnreadableFile extends Error {
  constructor(readonly reason: string) {
    super(`The file ${reason}.`);
    this.name = 'UnreadableFile';
  }
}
