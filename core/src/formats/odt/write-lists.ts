import type { Node } from 'prosemirror-model';
import type { ParagraphProperties } from '../../manuscript/schema.js';
import { attributes } from '../kept/telling.js';
import { attribute, child, elements, type Element } from '../xml.js';
import { listStyleXml } from './definitions.js';
import { styled, type Target } from './target.js';

/** Paragraphs that stand in lists (OpenDocument 1.3 part 3, 5.3), in the lists of their file or in ours. */

/** One list around a paragraph, and the item in it. */
interface Level {
  /** Which list it is: that of the file, or one of ours. */
  list: string;
  kind: 'bullet' | 'number';
  attributes: Record<string, string | undefined>;
  item: { name: string; which: string | undefined; attributes: Record<string, string | undefined> };
}

/** Where a paragraph stands: in which lists, and whether it goes on in the item of the one before. */
export interface ListPlace {
  levels: readonly Level[];
  goesOn: boolean;
}

const bare = ({ attributes }: Element): Record<string, string | undefined> =>
  Object.fromEntries(Object.entries(attributes).filter(([name]) => !name.startsWith('tp:')));

export class Lists {
  #open: Level[] = [];
  #xml = '';
  #nodes: Node[] = [];
  #made = 0;

  constructor(
    readonly target: Target,
    /** What is done with a list once it is whole. */
    readonly done: (xml: string, nodes: readonly Node[]) => void,
  ) {}

  /** The lists that a paragraph stands in; null where it stands in none. */
  place({ attrs }: Node): ListPlace | null {
    const { list, carried } = attrs as ParagraphProperties;
    const came = this.target.came(carried, 'tp:p');
    const levels = came
      ? [...elements(came)].filter(({ name }) => name === 'tp:in').map((one, i) => this.#came(one, i))
      : [];
    const inner = came && [...elements(came)].at(-1);
    const item = child(inner, 'tp:item');
    const isItem = attribute(item, 'tp:header') === undefined && attribute(item, 'tp:goesOn') === undefined;
    const isWhole = levels.length > 0 && levels.every((one) => one !== null);
    if (!list) {
      if (!isWhole || isItem) return null;
      const all = levels as Level[];
      const goesOn = attribute(item, 'tp:goesOn') !== undefined;
      // It stands in the item of the one before, or it is no part of a list any more.
      const isThere =
        this.#open.length === all.length &&
        this.#open.every((one, i) => one.list === all[i]!.list && one.item.which === all[i]!.item.which);
      return goesOn ? (isThere ? { levels: all, goesOn } : null) : { levels: all, goesOn };
    }
    if (isWhole && isItem && levels.length === list.level + 1 && levels.at(-1)!.kind === list.kind)
      return { levels: levels as Level[], goesOn: false };
    return { levels: this.#own(list), goesOn: false };
  }

  #came(element: Element, depth: number): Level | null {
    const number = attribute(element, 'tp:list');
    if (number === undefined) return null;
    const item = child(element, 'tp:item');
    const style = attribute(element, 'tp:style') ?? attribute(element, 'text:style-name');
    return {
      list: number,
      kind: this.target.definitions.listKind(style, depth),
      attributes: bare(element),
      item: {
        name: attribute(item, 'tp:header') === undefined ? 'text:list-item' : 'text:list-header',
        which: attribute(item, 'tp:item'),
        attributes: item ? bare(item) : {},
      },
    };
  }

  /** Lists of ours; a new item goes on in the lists that are open. */
  #own({ kind, level }: NonNullable<ParagraphProperties['list']>): Level[] {
    const levels = this.#open.slice(0, level + 1).map((one, i): Level => ({
      ...one,
      item: i < level ? one.item : { name: 'text:list-item', which: undefined, attributes: {} },
    }));
    if (levels.length === level + 1 && levels[level]!.kind !== kind) levels.pop();
    while (levels.length <= level)
      levels.push({
        list: `own ${++this.#made}`,
        kind,
        attributes: { 'text:style-name': Lists.ownStyle(this.target, kind) },
        item: { name: 'text:list-item', which: undefined, attributes: {} },
      });
    return levels;
  }

  /** The name of the style of our lists of a kind. */
  static ownStyle = (target: Target, kind: 'bullet' | 'number'): string =>
    target.definitions.ownList(kind) ?? target.style('list', listStyleXml(undefined, kind));

  /** Puts a paragraph where it stands. */
  add({ levels, goesOn }: ListPlace, xml: string, nodes: readonly Node[]): void {
    const last = levels.length - 1;
    let same = 0;
    while (same < levels.length && this.#open[same]?.list === levels[same]!.list) {
      const [open, wanted] = [this.#open[same]!.item, levels[same]!.item];
      // An item that is another one ends all that is in it.
      if (same < last && wanted.which !== undefined && open.which !== wanted.which) break;
      same++;
    }
    if (!same && this.#open.length) this.flush();
    const isOtherItem = same <= last && this.#open[same]?.list === levels[same]?.list;
    this.#close(isOtherItem ? same + 1 : same);
    if (isOtherItem) this.#nextItem(same, levels[same]!);
    else if (same === levels.length && !goesOn) this.#nextItem(last, levels[last]!);
    for (let i = this.#open.length; i <= last; i++) {
      const { attributes: said, item } = levels[i]!;
      this.#xml += start('text:list', said) + start(item.name, item.attributes);
      this.#open.push(levels[i]!);
    }
    this.#xml += xml;
    this.#nodes.push(...nodes);
  }

  #nextItem(at: number, level: Level): void {
    this.#close(at + 1);
    this.#xml += `</${this.#open[at]!.item.name}>`;
    const again = level.item.which !== undefined && level.item.which === this.#open[at]!.item.which;
    // What an item says of itself is said of its first half when it has been split.
    this.#xml += start(level.item.name, again ? {} : level.item.attributes);
    this.#open[at] = level;
  }

  #close(depth: number): void {
    while (this.#open.length > depth) this.#xml += `</${this.#open.pop()!.item.name}></text:list>`;
  }

  flush(): void {
    if (!this.#open.length) return;
    this.#close(0);
    this.done(this.#xml, this.#nodes);
    this.#xml = '';
    this.#nodes = [];
  }
}

const start = (name: string, { 'text:style-name': style, ...others }: Record<string, string | undefined>): string =>
  `<${name}${styled(style)}${attributes(others)}>`;
