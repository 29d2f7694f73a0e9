/** White space in the words of one block as a page shows it (CSS Text 3, 4.1): runs are one space, none at either end. */
export class Space {
  #before = true;
  /** Whether the last character is a space that the end would take away. */
  trailing = false;

  text(raw: string): string {
    let text = raw.replace(/[\t\r\n\f ]+/g, ' ');
    if (this.#before && text.startsWith(' ')) text = text.slice(1);
    if (text) this.trailing = this.#before = text.endsWith(' ');
    return text;
  }

  /** Something that is no character comes between; behind a break of lines, a space is none. */
  other(isBreak = false): void {
    this.trailing = false;
    this.#before = isBreak;
  }
}
