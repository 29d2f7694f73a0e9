import { expose } from 'comlink';
import {
  dictionaryOf,
  LastLook,
  rulingOf,
  spellerOf,
  type DictionaryName,
  type Finding,
  type HouseStyle,
  type Inconsistency,
  type Passage,
  type Rewriting,
  type Speller,
} from '@tea-pencil/core';
import { dictionaryFiles } from './dictionaries';

/** The last look, away from the screen: of a text it gets what is new, and of what it finds it tells what is new. */

/** What it looks with. */
export interface With {
  language: string;
  style: HouseStyle | null;
}

export interface Told {
  /** The findings of blocks, by the number of the block, where they are not as they were. */
  found: [block: number, findings: readonly Finding[]][];
  inconsistencies: Inconsistency[];
  unread: { language: string; words: number }[];
  words: number;
  /** Dictionaries that could not be fetched. */
  missing: DictionaryName[];
}

/** So many findings of one block are told; nobody goes through more. */
const mostOfBlock = 400;

const spellers = new Map<DictionaryName, Speller | null>();
const blocks = new Map<number, readonly Passage[]>();
let told = new Map<number, readonly Finding[]>();
let looking: { with: With; look: LastLook } | null = null;

/** Reads the dictionaries that passages ask for. @returns whether there are more than before */
async function readDictionaries(language: string, passages: Iterable<readonly Passage[]>): Promise<boolean> {
  const tags = new Set([language]);
  for (const all of passages) for (const { languages } of all) for (const { tag } of languages) tags.add(tag);
  let more = false;
  for (const tag of tags) {
    const name = dictionaryOf(tag);
    if (!name || spellers.has(name)) continue;
    try {
      const [affixes, words] = await dictionaryFiles(name);
      spellers.set(name, spellerOf(name, affixes!, words!));
      more = true;
    } catch {
      spellers.set(name, null);
    }
  }
  return more;
}

const here = () =>
  Object.fromEntries([...spellers].flatMap(([name, speller]) => (speller ? [[name, speller] as const] : [])));

const looker = {
  /**
   * Looks at a text.
   * @param order the numbers of its blocks @param fresh those that are not known here yet
   * @param at told how far the reading is
   */
  async look(
    settings: With,
    order: number[],
    fresh: [number, readonly Passage[]][],
    at: (part: number) => void,
  ): Promise<Told> {
    for (const [number, passages] of fresh) blocks.set(number, passages);
    const wanted = new Set(order);
    for (const number of blocks.keys()) if (!wanted.has(number)) blocks.delete(number);
    const more = await readDictionaries(settings.language, blocks.values());
    const same =
      looking?.with.language === settings.language &&
      JSON.stringify(looking.with.style) === JSON.stringify(settings.style);
    if (!looking || !same || more) {
      looking = {
        with: settings,
        look: new LastLook({
          language: settings.language,
          ruling: rulingOf(settings.style),
          spellers: here(),
          progress: at,
        }),
      };
    }
    const { found, ...all } = looking.look.look(order.map((number) => blocks.get(number)!));
    const now = new Map(order.map((number, i) => [number, found[i]!]));
    const changed = [...now].filter(([number, findings]) => told.get(number) !== findings);
    told = now;
    return {
      ...all,
      found: changed.map(([number, findings]) => [number, findings.slice(0, mostOfBlock)]),
      missing: [...spellers].flatMap(([name, speller]) => (speller ? [] : [name])),
    };
  },

  /** Where something is written in another way than one, and what it would become; blocks by their place in the text. */
  rewriting: (such: string, form: string): Rewriting[] => looking?.look.rewriting(such, form) ?? [],

  /** Words that are like one that is not known. */
  near(word: string, language: string): string[] {
    return looking?.look.near(word, dictionaryOf(language)) ?? [];
  },
};
export type LookWorker = typeof looker;

expose(looker);
