import { countWords } from '../manuscript/words.js';
import type { Change, ChangeKind } from '../changes/list.js';
import type { PersonId } from '../manuscript/people.js';

/** How many changes there are, whose and of which kind, and how many words they would add and remove. */
export interface Counts {
  changes: number;
  byAuthor: ReadonlyMap<PersonId, number>;
  byKind: ReadonlyMap<ChangeKind, number>;
  wordsAdded: number;
  wordsRemoved: number;
}

const adds = new Set<ChangeKind>(['insertion', 'replacement', 'table', 'paragraph']);
const removes = new Set<ChangeKind>(['deletion', 'replacement', 'table', 'paragraph']);

/**
 * Counts changes. What is moved or formatted neither adds nor removes words; a part of a word counts as one.
 * @param is under which id all that a person wrote is brought together
 */
export function countChanges(
  changes: readonly Pick<Change, 'author' | 'kind' | 'before' | 'after'>[],
  is: (author: PersonId) => PersonId = (author) => author,
): Counts {
  const byAuthor = new Map<PersonId, number>();
  const byKind = new Map<ChangeKind, number>();
  let wordsAdded = 0;
  let wordsRemoved = 0;
  for (const { author, kind, before, after } of changes) {
    const person = is(author);
    byAuthor.set(person, (byAuthor.get(person) ?? 0) + 1);
    byKind.set(kind, (byKind.get(kind) ?? 0) + 1);
    if (adds.has(kind)) wordsAdded += countWords(after);
    if (removes.has(kind)) wordsRemoved += countWords(before);
  }
  return { changes: changes.length, byAuthor, byKind, wordsAdded, wordsRemoved };
}
