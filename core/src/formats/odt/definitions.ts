import type { Properties } from '../../manuscript/properties.js';
import { isLanguage, type ParagraphStyle } from '../../manuscript/values.js';
import { attribute, child, elements, parseXml, tag, xmlOf, type Element } from '../xml.js';
import { lookAttributes, lookXml, readLook } from './looks.js';
import { plainNames, prefixes, styleNames, type Where } from './names.js';
import type { Opened } from './opened.js';

/** Styles of a file (OpenDocument 1.3 part 3, 16): those of the text itself (automatic), and those the whole file shares. */

export interface Style {
  name: string;
  element: Element;
  /** One that the text itself brings: what is set there directly is what somebody set on words or paragraphs. */
  automatic: boolean;
}

const ours = new Map(Object.entries(styleNames).map(([style, name]) => [name, style as ParagraphStyle] as const));
/** On how many other styles a style may be based. */
const deepest = 100;

/** What a style says, whatever it is called. */
const contentOf = (element: Element): string => {
  const { 'style:name': _, ...attributes } = element.attributes;
  return xmlOf({ ...element, attributes });
};

export class Definitions {
  readonly #styles: Record<'paragraph' | 'text', Map<string, Style>> = { paragraph: new Map(), text: new Map() };
  readonly #lists = new Map<string, Element>();
  readonly #byContent = new Map<string, string>();
  readonly #looks = new Map<string, Properties>();
  /** The language of words that say none. */
  readonly language: string | undefined;
  /** All names of styles there are, of whatever kind. */
  readonly names = new Set<string>();

  /** @param automatic the automatic styles of the part with the text */
  constructor(automatic: readonly Element[], common: readonly Element[]) {
    let language: string | undefined;
    for (const [all, isAutomatic] of [
      [common, false],
      [automatic, true],
    ] as const)
      for (const element of all) {
        const family = attribute(element, 'style:family');
        const name = attribute(element, 'style:name') ?? '';
        if (name) this.names.add(name);
        if (element.name === 'style:default-style' && family === 'paragraph')
          language = readLook(child(element, 'style:text-properties')).language as string | undefined;
        if (element.name === 'text:list-style') this.#lists.set(name, element);
        if (element.name !== 'style:style' || (family !== 'paragraph' && family !== 'text')) continue;
        // Where a common and an automatic style have one name, the text means its own.
        this.#styles[family].set(name, { name, element, automatic: isAutomatic });
        if (isAutomatic) this.#byContent.set(contentOf(element), name);
      }
    this.language = isLanguage(language) ? language : undefined;
  }

  paragraph = (name: string | undefined): Style | undefined => this.#styles.paragraph.get(name ?? '');
  text = (name: string | undefined): Style | undefined => this.#styles.text.get(name ?? '');

  /** Under what name there is an automatic style already that says just this. */
  known = (content: string): string | undefined => this.#byContent.get(content);

  /** A style and those it is based on, the nearest first; broken files may go in circles, hostile ones on for ever. */
  *#chain(family: 'paragraph' | 'text', name: string | undefined): Generator<Style> {
    const seen = new Set<string>();
    for (let at = name; at !== undefined && !seen.has(at) && seen.size < deepest;) {
      seen.add(at);
      const style = this.#styles[family].get(at);
      if (!style) return;
      yield style;
      at = attribute(style.element, 'style:parent-style-name');
    }
  }

  /** Which of our styles a paragraph style is, by its name or that of one it is based on. */
  houseStyle(name: string | undefined): ParagraphStyle {
    // A text may refer to a style by a name that everyone knows and no part says.
    if (!this.paragraph(name)) return ours.get(name ?? '') ?? 'body';
    for (const style of this.#chain('paragraph', name)) {
      const known = ours.get(style.name);
      if (known) return known;
      const parent = attribute(style.element, 'style:parent-style-name');
      if (parent !== undefined && !this.paragraph(parent) && ours.has(parent)) return ours.get(parent)!;
    }
    return 'body';
  }

  /** The shared style under an automatic one; the style itself where it is shared. */
  sharedName(name: string | undefined): string | undefined {
    const style = this.paragraph(name);
    return style?.automatic ? attribute(style.element, 'style:parent-style-name') : name;
  }

  /** Under which name the file has one of our styles, or will have. */
  nameOf(style: ParagraphStyle, where: Where): string | undefined {
    if (style !== 'body') return styleNames[style];
    const plain = plainNames[where];
    return this.paragraph(plain) ? plain : this.paragraph(plainNames.text) ? plainNames.text : undefined;
  }

  has = (name: string): boolean => this.paragraph(name) !== undefined;

  /** What a style of words says, with all that it is based on. */
  lookOfText(name: string | undefined): Properties {
    const key = name ?? '';
    let found = this.#looks.get(key);
    if (!found) {
      found = {};
      for (const { element } of [...this.#chain('text', name)].reverse())
        Object.assign(found, readLook(child(element, 'style:text-properties'), this.language));
      this.#looks.set(key, found);
    }
    return found;
  }

  /** Whether a style of words is just as we would write what it says. */
  isPlain({ element }: Style): boolean {
    const properties = child(element, 'style:text-properties');
    const own = lookXml(lookAttributes(readLook(properties, this.language), { standard: this.language }));
    return contentOf(element) === tag('style:style', { 'style:family': 'text' }, own);
  }

  /** What somebody set directly on all the words of paragraphs of a style. */
  lookOfParagraph(name: string | undefined): Properties {
    const key = `¶ ${name ?? ''}`;
    let found = this.#looks.get(key);
    if (!found) {
      const style = this.paragraph(name);
      found = style?.automatic ? readLook(child(style.element, 'style:text-properties'), this.language) : {};
      for (const property of Object.keys(found)) if (found[property] === null) delete found[property];
      this.#looks.set(key, found);
    }
    return found;
  }

  /** The size of words in paragraphs of a style where they say none, in points. */
  sizeOf(name: string | undefined): number | undefined {
    for (const { element } of this.#chain('paragraph', name)) {
      const { size } = readLook(child(element, 'style:text-properties'));
      if (typeof size === 'number') return size;
    }
    return undefined;
  }

  /** What stands before the items of a list at a level, from 0. */
  listKind(name: string | undefined, level: number): 'bullet' | 'number' {
    // Where a style says nothing of a level, the nearest one above it is the best there is to know.
    let best: Element | undefined;
    let nearest = 0;
    for (const element of elements(this.#lists.get(name ?? ''))) {
      const at = Number(attribute(element, 'text:level'));
      if (at <= level + 1 && at > nearest) [best, nearest] = [element, at];
    }
    return best?.name === 'text:list-level-style-number' && attribute(best, 'style:num-format') ? 'number' : 'bullet';
  }

  /** Whether a list style is one of ours. */
  isOwnList = (name: string | undefined): boolean => attribute(this.#lists.get(name ?? ''), 'tp:own') !== undefined;
  /** The style of our lists of a kind, if the file has it. */
  ownList = (kind: 'bullet' | 'number'): string | undefined =>
    [...this.#lists].find(([, element]) => attribute(element, 'tp:own') === kind)?.[0];
}

/** The styles that a whole package shares. */
export function commonStyles({ kind, styles }: Opened): Element[] {
  if (kind === 'fodt' || styles === undefined) return [];
  return [...elements(child(parseXml(styles, { prefixes }), 'office:styles'))];
}

const bullets = ['•', '–', '◦'];

/** Our bulleted or numbered lists (16.30, 16.31). */
export function listStyleXml(name: string | undefined, kind: 'bullet' | 'number'): string {
  const levels = Array.from({ length: 10 }, (_, level) => {
    const margin = `${(level + 1) * 0.5}in`;
    const label = tag('style:list-level-label-alignment', {
      'text:label-followed-by': 'listtab',
      'fo:text-indent': '-0.25in',
      'fo:margin-left': margin,
    });
    const properties = tag(
      'style:list-level-properties',
      { 'text:list-level-position-and-space-mode': 'label-alignment' },
      label,
    );
    return kind === 'bullet'
      ? tag(
          'text:list-level-style-bullet',
          { 'text:level': level + 1, 'text:bullet-char': bullets[level % 3] },
          properties,
        )
      : tag(
          'text:list-level-style-number',
          { 'text:level': level + 1, 'style:num-suffix': '.', 'style:num-format': '1' },
          properties,
        );
  });
  return tag('text:list-style', { 'style:name': name, 'tp:own': kind }, levels.join(''));
}
