/**
 * White space in the characters of one paragraph: runs are one space, none at either end (OpenDocument 1.3 part 3, 6.1.2;
 * CSS Text 3, 4.1).
 */
export class Line {
  #space = true;
  /** Whether the last character so far is a space that the end of the paragraph would take away. */
  trailing = false;

  /** Another that goes on where this one is. */
  goingOn(): Line {
    const line = new Line();
    line.#space = this.#space;
    return line;
  }

  /** What characters say. */
  text(raw: string): string {
    let text = /[\t\r\n\f]| {2}/.test(raw) ? raw.replace(/[\t\r\n\f ]+/g, ' ') : raw;
    if (this.#space && text.startsWith(' ')) text = text.slice(1);
    if (text) this.trailing = this.#space = text.endsWith(' ');
    return text;
  }

  /** Whether a space that came now would be none. */
  get swallows(): boolean {
    return this.trailing;
  }

  /** Something that is no character comes between; on a page, a space behind a break of lines is none. */
  other(isBreak = false): void {
    this.trailing = false;
    this.#space = isBreak;
  }
}
