import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Node } from 'prosemirror-model';
import {
  LastLook,
  passagesOf,
  rulingOf,
  spellerOf,
  type DictionaryName,
  type Finding,
  type HouseStyle,
  type Looked,
  type Rule,
  type Speller,
} from '../../src/index.js';

/** Looking at texts with the dictionaries that are shipped. */

export const fileOf = (name: DictionaryName, ending: 'aff' | 'dic'): string =>
  path.join(import.meta.dirname ?? __dirname, `../../../node_modules/dictionary-${name}/index.${ending}`);

const known = new Map<DictionaryName, Speller>();

/** A dictionary, read once. */
export function speller(name: DictionaryName): Speller {
  let found = known.get(name);
  if (!found) {
    found = spellerOf(name, readFileSync(fileOf(name, 'aff'), 'utf8'), readFileSync(fileOf(name, 'dic'), 'utf8'));
    known.set(name, found);
  }
  return found;
}

export const blocksOf = (doc: Node) => doc.children.map((block) => passagesOf(block));

interface With {
  language?: string | null;
  style?: HouseStyle | null;
  spelling?: DictionaryName[];
}

export const lastLook = ({ language = 'en-GB', style = null, spelling = [] }: With = {}): LastLook =>
  new LastLook({
    language,
    ruling: rulingOf(style),
    spellers: Object.fromEntries(spelling.map((name) => [name, speller(name)])),
  });

/** A finding with the number of its block. */
export type Placed = Finding & { block: number };
export const placed = ({ found }: Looked): Placed[] =>
  found.flatMap((all, block) => all.map((one) => ({ ...one, block })));

export const looked = (doc: Node, options: With = {}) => {
  const all = lastLook(options).look(blocksOf(doc));
  return { ...all, findings: placed(all) };
};

/** What is found, as words and what would stand there instead. */
export const told = (findings: readonly Finding[]): string[] =>
  findings.map(({ kind, words, proposals }) => `${kind}: ${words} › ${proposals.map(({ text }) => text).join(' / ')}`);

export const rule = (kind: Rule['kind'], write: string, not: string[] = [], more: Partial<Rule> = {}): Rule => ({
  ...{ kind, write, not, example: '', note: '', source: '' },
  ...more,
});
export const styleOf = (...rules: Rule[]): HouseStyle => ({ name: 'Of the house', language: 'en-GB', rules });
