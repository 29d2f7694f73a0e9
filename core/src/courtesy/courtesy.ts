/**
 * Reading one's own comments once more before they go to someone, so that none hurts. That editors do this is common
 * practice, no published source; the rules are for English and are our own. They give reasons and never decide.
 */

export type Roughness = 'terse' | 'shouting' | 'scolding';

/** A place of a comment that may hurt, and why. Offsets count from the start of its text. */
export interface Rough {
  kind: Roughness;
  from: number;
  to: number;
  why: string;
}

const shoutedWords = /(?<![\p{L}\p{N}])(?:\p{Lu}{2,}[\p{Lu}’']*)(?:\s+\p{Lu}{2,}[\p{Lu}’']*)+(?![\p{L}\p{N}])/gu;
const shoutedWord =
  /(?<![\p{L}\p{N}])(?:NO|NOT|NEVER|ALWAYS|WRONG|STOP|AGAIN|WHY|MUST|EVERY|PLEASE|ALL)(?![\p{L}\p{N}])/gu;
const shoutedSigns = /[!?]*!!+[!?]*|\?!|!\?|\?{2,}/gu;

/** What sounds like a reproach to a person instead of a word about a text. */
const reproaches: readonly [pattern: RegExp, why: string][] = [
  [
    /\b(?:as|like) (?:I|we) (?:have )?(?:already )?(?:said|told|explained|pointed out)\b/giu,
    'It reminds the reader of having been told before; the point itself is enough.',
  ],
  [/\b(?:yet|once) again\b|\bhow many times\b/giu, 'It counts earlier mistakes; the reader can only mend this one.'],
  [/\byou (?:always|never|keep|obviously|clearly)\b/giu, 'It speaks of the person’s habits, not of these words.'],
  [
    /\b(?:obviously|of course|clearly|everyone knows|surely you|any (?:child|fool))\b/giu,
    'It says that the reader should have known; without it the sentence says the same.',
  ],
  [
    /\b(?:sloppy|careless|lazy|silly|stupid|ridiculous|nonsense|rubbish|awful|terrible|clumsy|amateurish|embarrassing)\b/giu,
    'It judges; say what should be different instead.',
  ],
  [
    /\b(?:why (?:on earth|would you|didn’t you|didn't you|can’t you|can't you)|what were you|didn’t you|didn't you|can’t you|can't you)\b/giu,
    'As a question to the person it sounds like a reproach; ask about the words.',
  ],
  [
    /\b(?:you should have|you ought to have|you failed to|you forgot)\b/giu,
    'It looks back at a fault; say what to do now.',
  ],
];

/** A comment that goes out of its way to be kind, or asks, is not terse however short it is. */
const softened =
  /\?|\b(?:please|thank|thanks|perhaps|maybe|lovely|nice|good|great|fine|agreed|yes|done|ok|okay|sorry)\b/iu;
const commands =
  /^(?:fix|rewrite|redo|delete|cut|remove|change|check|wrong|no|nope|why|unclear|vague|awkward|bad|source|what)\b/iu;

/**
 * The places of a comment's text that may hurt its reader, by place.
 * @param text its words, without looks
 */
export function roughness(text: string): Rough[] {
  const found: Rough[] = [];
  const all = (pattern: RegExp, kind: Roughness, why: string) => {
    for (const { index, 0: words } of text.matchAll(pattern)) {
      const to = index + words.length;
      if (!found.some((other) => other.from < to && other.to > index)) found.push({ kind, from: index, to, why });
    }
  };
  const capitals = 'Words in capitals read as shouting; italics, or nothing, say the same more quietly.';
  // A text in one case throughout has no capitals that shout: some scripts have none.
  all(shoutedWords, 'shouting', capitals);
  all(shoutedWord, 'shouting', capitals);
  all(shoutedSigns, 'shouting', 'Several marks in a row read as shouting or as disbelief; one is enough.');
  for (const [pattern, why] of reproaches) all(pattern, 'scolding', why);
  const trimmed = text.trim();
  const words = trimmed.split(/\s+/).filter(Boolean).length;
  if (words && (words <= 2 || (words <= 4 && commands.test(trimmed))) && !softened.test(trimmed)) {
    const from = text.indexOf(trimmed);
    const why = 'So short it can sound curt; say what is amiss, or what would help.';
    if (!found.some(({ kind }) => kind === 'terse'))
      found.push({ kind: 'terse', from, to: from + trimmed.length, why });
  }
  return found.sort((a, b) => a.from - b.from);
}
