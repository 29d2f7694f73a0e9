import type { Found } from '../finding.js';
import type { Passage } from '../passage.js';

/** What is left behind: paragraphs without words, headings with nothing under them, highlights. */

const isHeading = ({ style }: Passage) => style.startsWith('heading') || style === 'title';
const isEmpty = ({ text }: Passage) => text.trim() === '';

/**
 * @param next what follows it @param alone whether the text has nothing else
 */
export function leftovers(passage: Passage, next: Passage | null, alone: boolean): Found[] {
  const found: Found[] = [];
  const { text, where, style, highlights } = passage;
  const empty = { kind: 'empty', from: 0, to: 0, words: '' } as const;
  const away: Found['proposals'] = [{ text: '', how: 'paragraph' }];
  if (isEmpty(passage) && where === 'text' && style !== 'rule' && !passage.joins && !alone)
    found.push(
      isHeading(passage)
        ? { ...empty, why: 'This heading has no words.', proposals: away, such: 'empty|heading' }
        : { ...empty, why: 'This paragraph has no words.', proposals: away, such: 'empty|paragraph' },
    );
  if (isHeading(passage) && style !== 'title' && !isEmpty(passage) && where === 'text' && !next && !alone)
    found.push({
      ...{ kind: 'empty', from: 0, to: text.length, words: text, such: 'empty|section' },
      why: 'The text ends with this heading; there is nothing under it.',
      proposals: [],
    });
  for (const { from, to } of highlights)
    found.push({
      ...{ kind: 'highlight', from, to, words: text.slice(from, to), such: 'highlight' },
      why: 'These words are still highlighted.',
      proposals: [{ text: text.slice(from, to), how: 'highlight' }],
    });
  return found;
}
