import type { Node } from 'prosemirror-model';
import { Mapping, type Mappable } from 'prosemirror-transform';
import { stayed } from '@tea-pencil/core';

/** How many edits back one knows how the text came to be what it is. */
const remembered = 100;

/** What the text was a moment ago, and how it has become what it is: where something found in it then stands by now. */
export class PassedDocs {
  #passed: { doc: Node; mapping: Mapping }[] = [];

  /** @param doc the text before positions moved so; several moves that nobody has seen between begin with the same */
  note(doc: Node, mapping: Mapping): void {
    this.#passed.push({ doc, mapping });
    if (this.#passed.length > 2 * remembered) this.#passed = this.#passed.slice(-remembered);
  }

  /**
   * From the places of one text to those of a later one.
   * @param now the text as it is
   * @returns by the edits between them; by where words are, where those are not known any more
   */
  between(was: Node, then: Node, now: Node): Mappable {
    const place = (doc: Node) => this.#passed.findIndex((one) => one.doc === doc);
    const from = was === now ? this.#passed.length : place(was);
    const to = then === now ? this.#passed.length : place(then);
    if (from < 0 || to < from) return stayed(was, then);
    return new Mapping(this.#passed.slice(from, to).flatMap(({ mapping }) => mapping.maps));
  }
}
