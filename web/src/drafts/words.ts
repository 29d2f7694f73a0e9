import { counted } from '@tea-pencil/core';
import type { Draft, Drafts, Moment } from '@tea-pencil/wire';
import { said } from '../kit/time';

/** How drafts and moments are called. */

const reasons: Record<Draft['reason'], string> = {
  hand: 'kept by hand',
  came: 'as it came',
  'read-through': 'before a read-through',
  decisions: 'before decisions',
  file: 'before a file came in',
  back: 'before a draft came back',
  quiet: 'in a quiet moment',
  'fair copy': 'a fair copy',
};

/** A draft’s name, or what it was kept before. */
export const nameOfDraft = ({ name, reason, before }: Draft): string =>
  name ?? (before ? `before ${before}` : reasons[reason]);

/** Who keeps a draft, or that it kept itself. */
export const keeperOf = ({ keptBy, reason }: Draft, nameOf: (id: string) => string): string =>
  keptBy ? `kept by ${nameOf(keptBy)}` : reason === 'came' ? 'the first state' : 'kept by itself';

/** What happened in one go. */
export function deedOf({ author, intent, come, gone }: Moment, nameOf: (id: string) => string): string {
  if (!intent) return 'Nothing had been done yet.';
  const who = author ? nameOf(author) : 'The server';
  if (intent === 'decision') return `${who} decided changes, or took decisions back.`;
  if (intent === 'anchor') return `${who} fastened a comment to words.`;
  if (intent === 'mend') return 'The server mended the text.';
  const what = [come && `${counted(come, 'letter')} in`, gone && `${counted(gone, 'letter')} out`].filter(Boolean);
  return `${who} wrote in ${intent}${what.length ? `: ${what.join(', ')}` : ''}.`;
}

/** What came and went since the draft before. */
export function sinceWords({ facts }: Draft): string {
  if (!facts) return 'being counted …';
  const { wordsCome, wordsGone, changesCome, changesGone } = facts;
  const parts = [
    wordsCome && `${counted(wordsCome, 'word')} came`,
    wordsGone && `${counted(wordsGone, 'word')} went`,
    changesCome && `${counted(changesCome, 'change')} came`,
    changesGone && `${counted(changesGone, 'change')} went`,
  ].filter(Boolean);
  return parts.join(', ') || 'nothing came or went';
}

/** What a state is called: by the draft that was kept of it, else by its moment. */
export function nameOfState({ drafts, version: newest }: Drafts, version: number, at: string | undefined): string {
  const draft =
    drafts.find((one) => one.version === version && one.name !== null) ?? drafts.find((one) => one.version === version);
  if (version === newest) return 'as it is now';
  return draft ? nameOfDraft(draft) : at ? said(at) : '…';
}
