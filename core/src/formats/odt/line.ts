/** White space in the characters of one paragraph (OpenDocument 1.3 part 3, 6.1.2): what is read as one space, and what as none. */
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
    let text = /[\t\r\n]| {2}/.test(raw) ? raw.replace(/[\t\r\n ]+/g, ' ') : raw;
    if (this.#space && text.startsWith(' ')) text = text.slice(1);
    if (text) this.trailing = this.#space = text.endsWith(' ');
    return text;
  }

  /** Whether a space that came now would be none. */
  get swallows(): boolean {
    return this.trailing;
  }

  /** Something that is no character comes between. */
  other(): void {
    this.trailing = this.#space = false;
  }
}
