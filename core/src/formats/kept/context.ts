import type { Mark } from 'prosemirror-model';
import type { Asset } from '../../manuscript/manuscript.js';
import type { Properties } from '../../manuscript/properties.js';
import { reviewMarks, schema } from '../../manuscript/schema.js';
import { attribute, type Element } from '../xml.js';
import { Fragments } from './fragments.js';
import { People } from './people.js';
import { Tally } from './tally.js';

/** JSON that an attribute of ours holds, which anyone may have written. */
export function dataIn(element: Element | undefined, name: string): unknown {
  const text = attribute(element, name);
  if (text === undefined || text.length > 100_000) return undefined;
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

/** What the readers of a file’s parts share: who there is, which changes, what is counted, and what stands beside the text. */
export abstract class FileContext {
  readonly people = new People();
  readonly losses = new Tally();
  readonly carried = new Tally();
  readonly fragments = new Fragments();
  readonly assets: Asset[] = [];
  /** Which pictures are which parts. */
  readonly partOf = new Map<string, string>();
  #changes = 0;

  constructor(
    /** The ids that changes have in the file. */
    readonly named: ReadonlySet<string>,
  ) {}

  /** The picture of a part, by the name it has in the manuscript; null where there is none that can be shown. */
  abstract picture(part: string): string | null;

  person = (name: string, id: string): string => this.people.of(name, undefined, id);

  /** An id that the file gives no change. */
  newChange = (): string => {
    do this.#changes++;
    while (this.named.has(`c${this.#changes}`));
    return `c${this.#changes}`;
  };

  /** Properties that name a picture by its part. */
  #byAsset(properties: unknown): unknown {
    const { asset } = (properties ?? {}) as Properties;
    if (typeof asset !== 'string' || !asset.startsWith('part:')) return properties;
    return { ...(properties as Properties), asset: this.picture(asset.slice(5)) };
  }

  /**
   * Marks that our own file tells whole, where the standard has no place for them.
   * @param types those that can stand there
   * @returns null where it tells none, or one that cannot be
   */
  marks(element: Element | undefined, attributeName: string, types: ReadonlySet<string>): readonly Mark[] | null {
    const data = dataIn(element, attributeName);
    if (!Array.isArray(data) || data.length > 50) return null;
    let marks: readonly Mark[] = [];
    for (const one of data as (Record<string, unknown> | null)[]) {
      const { type, name, ...attrs } = one ?? {};
      if (typeof type !== 'string' || !types.has(type) || !reviewMarks.has(type) || typeof name !== 'string')
        return null;
      try {
        for (const side of ['was', 'now']) if (side in attrs) attrs[side] = this.#byAsset(attrs[side]);
        const author = this.people.of(name.slice(0, 200), undefined, String(attrs.author));
        marks = schema.markFromJSON({ type, attrs: { ...attrs, author } }).addToSet(marks);
      } catch {
        return null;
      }
    }
    return marks;
  }
}

/** Properties of inline content as marks. */
export function marksOf({
  properties,
  carriedLook,
}: {
  properties: Properties;
  carriedLook: string | null;
}): readonly Mark[] {
  let marks: readonly Mark[] = [];
  for (const [name, value] of Object.entries(properties))
    if (value !== null) marks = schema.marks[name as 'bold'].create(value === true ? null : { value }).addToSet(marks);
  return carriedLook ? schema.marks.carriedLook.create({ value: carriedLook }).addToSet(marks) : marks;
}
