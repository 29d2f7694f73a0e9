import { format } from 'date-fns';
import { isEverything, type ChangeKind, type Lens } from '@tea-pencil/core';
import type { ManuscriptInfo } from '../api/queries';

/** What kinds of changes are called on the screen. */
export const kindNames: Record<ChangeKind, string> = {
  insertion: 'insertions',
  deletion: 'deletions',
  replacement: 'replacements',
  move: 'moves',
  formatting: 'formatting',
  paragraph: 'paragraphs',
  table: 'tables',
};

const listed = (words: string[]) => new Intl.ListFormat('en', { type: 'conjunction' }).format(words);
export const nameIn = (info: ManuscriptInfo, id: string): string =>
  info.people.find((one) => one.id === id)?.name ?? 'someone';

/** What a lens lets through, in words. */
export function lensWords(lens: Lens, info: ManuscriptInfo, me: string): string {
  if (isEverything(lens)) return 'everyone, all kinds';
  const { authors, kinds, state, since, part, alike, discussed, naming, owing } = lens;
  const first = (id: string) => (id === me ? 'you' : nameIn(info, id).split(' ')[0]!);
  const rest = [
    authors.length ? listed(authors.map(first)) : '',
    kinds.length ? listed(kinds.map((kind) => kindNames[kind])) : '',
    state === 'both' ? '' : { pending: 'to decide', decided: 'decided' }[state],
    since === null ? '' : `since ${format(new Date(since), 'd MMM HH:mm')}`,
    part === null ? '' : `in “${part}”`,
    alike === null ? '' : 'alike',
    discussed ? 'discussed' : '',
    naming === null ? '' : `naming ${first(naming)}`,
    owing === null ? '' : `answers owed by ${first(owing)}`,
  ];
  return rest.filter(Boolean).join(', ');
}

export const toggled = <T>(list: readonly T[], one: T): T[] =>
  list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
