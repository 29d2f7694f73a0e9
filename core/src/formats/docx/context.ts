import type { Signature } from '../../manuscript/signature.js';
import { isChangeId, isPersonId } from '../../manuscript/values.js';
import { FileContext } from '../kept/context.js';
import { dateOf } from '../kept/moments.js';
import { assetOf } from '../kept/pictures.js';
import { attribute, parseXml, sliceOf, type Element, type Scope } from '../xml.js';
import type { Definitions } from './definitions.js';
import { readLook, type Look } from './looks.js';
import { prefixes } from './names.js';
import type { Opened } from './opened.js';

/** What the readers of a DOCX file’s parts share. */

/** The change an element names, as our own files do. */
export function changeName(element: Element): string | undefined {
  const named = attribute(element, 'tp:change');
  return isChangeId(named) ? named : undefined;
}

export class Context extends FileContext {
  /** The change of the token before, which the next one continues if author and date are the same. */
  #last: Signature | null = null;
  readonly #signed = new Map<string, { author: string; date: string }>();
  /** Moves by the names that the file gives them. */
  readonly #moves = new Map<string, Signature>();

  constructor(
    readonly file: Opened,
    readonly definitions: Definitions,
    named: ReadonlySet<string>,
  ) {
    super(named);
  }

  picture = (part: string): string | null => assetOf(this, this.file.nameOf(part) ?? '');

  /** Who made what an element stands for, and when; the same words are looked at once. */
  signed(element: Element): { author: string; date: string } {
    const { attributes: said } = element;
    const key = `${said['w:author']} ${said['w:initials']} ${said['tp:person']} ${said['w:date']}`;
    let found = this.#signed.get(key);
    if (!found) this.#signed.set(key, (found = this.#signedBy(element)));
    return found;
  }

  #signedBy(element: Element): { author: string; date: string } {
    const own = attribute(element, 'tp:person');
    const author = this.people.of(
      attribute(element, 'w:author'),
      attribute(element, 'w:initials'),
      isPersonId(own) ? own : undefined,
    );
    return { author, date: dateOf(attribute(element, 'w:date')) };
  }

  /** What comes next continues no change. */
  apart = (): null => (this.#last = null);

  /** The changes of the row and cell that one reads in: what their author changed in them then is part of them. */
  readonly within: Signature[] = [];

  /** The change an element belongs to: the one it names, its move, or the neighbouring one of the same author and date. */
  change(element: Element, move: string | undefined): Signature {
    const { author, date } = this.signed(element);
    const named = changeName(element);
    if (named === undefined && move !== undefined) {
      const known = this.#moves.get(move) ?? { change: this.newChange(), author, date };
      this.#moves.set(move, known);
      // Both ends of a move are one change, of one date; what somebody else did in it is their own.
      if (known.author === author) return (this.#last = known);
    }
    const around = this.within.findLast((one) => one.author === author && one.date === date);
    if (named === undefined && around) return (this.#last = around);
    const continues = this.#last?.author === author && this.#last.date === date;
    const change = named ?? (continues ? this.#last!.change : this.newChange());
    return (this.#last = { change, author, date });
  }
}

/** A part that text stands in, with what it takes to keep a piece of it as it is. */
export class Part {
  readonly #looks = new Map<string, Look>();
  constructor(
    readonly context: Context,
    readonly name: string,
    readonly source: string,
    /** Where names mean what they mean at the top of the main part. */
    readonly base: () => Scope,
  ) {}

  slice = (element: Element): string => sliceOf(element, this.source, this.base());

  /** What a run looks like; the same properties are read once. */
  look(rPr: Element | undefined, paragraphStyle: string | undefined): Look {
    const { definitions } = this.context;
    const of = definitions.lookOfParagraph(paragraphStyle);
    if (!rPr) return { properties: {}, rest: '' };
    const key = `${paragraphStyle ?? ''}|${this.source.slice(rPr.start, rPr.end)}`;
    let look = this.#looks.get(key);
    if (!look) this.#looks.set(key, (look = readLook(rPr, definitions, of, this.slice)));
    return look;
  }

  parse = (each: { within: string; each: (child: Element, parent: Element) => void }): Element =>
    parseXml(this.source, { prefixes, ...each });
}
