/** What stands in the place of something that another file carries, of which there is nothing here but what it is. */

/** What says nothing where it cannot do anything. */
const silent: ReadonlySet<string> = new Set(['page break', 'column break', 'bookmark']);

/** Its words, in brackets; none where there are none to read. */
export const strangeWords = ({ part, what, says }: Record<'part' | 'what' | 'says', string>): string =>
  part !== 'whole' || silent.has(what) ? '' : `[${says || what}]`;
