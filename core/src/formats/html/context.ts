import { toByteArray } from 'base64-js';
import type { Signature } from '../../manuscript/signature.js';
import { isChangeId, isPersonId } from '../../manuscript/values.js';
import { dataIn, FileContext } from '../kept/context.js';
import { dateOf } from '../kept/moments.js';
import { assetIn } from '../kept/pictures.js';
import type { Element } from '../xml.js';
import { attr, type PageElement } from './page.js';

/** What the readers of a page share. */
export class PageContext extends FileContext {
  /** The change of the token before, which the next one continues if author and date are the same. */
  #last: Signature | null = null;
  readonly #known = new Map<PageElement, Signature>();

  constructor(
    named: ReadonlySet<string>,
    /** Whether it is a page of ours: white space in it is as it stands, and what only we know is told. */
    readonly isOwn: boolean,
    readonly pictures: ReadonlyMap<string, PageElement>,
  ) {
    super(named);
  }

  picture = (name: string): string | null => {
    const img = this.pictures.get(name);
    return img ? this.shown(img) : null;
  };

  /** The picture of an element, where the page itself has it (RFC 2397). */
  shown(img: PageElement): string | null {
    const src = attr(img, 'src') ?? '';
    const known = [...this.partOf].find(([, part]) => part === src);
    if (known) return known[0];
    const data = /^data:image\/[\w.+-]+;base64,([A-Za-z0-9+/]+={0,2})$/.exec(src.replace(/\s+/g, ''))?.[1];
    if (!data || data.length % 4) return null;
    return assetIn(this, src, toByteArray(data));
  }

  /** Data that an attribute of a page of ours holds. */
  data(element: PageElement, name: string): unknown {
    return this.isOwn
      ? dataIn({ attributes: { [name]: attr(element, name) ?? '' } } as unknown as Element, name)
      : undefined;
  }

  /** Marks that a page of ours tells whole. */
  told(element: PageElement, name: string, types: ReadonlySet<string>): ReturnType<FileContext['marks']> {
    const value = this.isOwn ? attr(element, name) : undefined;
    return value === undefined
      ? null
      : this.marks({ attributes: { [name]: value } } as unknown as Element, name, types);
  }

  /** Who did something and when. */
  signed(element: PageElement): { author: string; date: string } {
    const person = attr(element, 'data-person');
    const id = this.isOwn && isPersonId(person) ? person : undefined;
    const author = this.people.of(attr(element, 'data-author'), undefined, id);
    return { author, date: dateOf(attr(element, 'datetime') ?? attr(element, 'data-date')) };
  }

  /** What comes next continues no change. */
  apart = (): null => (this.#last = null);

  /** The change that an element is part of: the one it names, or the neighbouring one of the same author and date. */
  change(element: PageElement): Signature {
    let known = this.#known.get(element);
    if (!known) {
      const { author, date } = this.signed(element);
      const named = attr(element, 'data-change');
      const continues = this.#last?.author === author && this.#last.date === date;
      const change = isChangeId(named) ? named : continues ? this.#last!.change : this.newChange();
      this.#known.set(element, (known = { change, author, date }));
    }
    return (this.#last = known);
  }
}
