import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import type { EditorState } from 'prosemirror-state';
import { mappedRange, wordsOf, type Range, type Place } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import type { Unsent } from './unsent';
import type { Begun } from './shapes';

/** Where a comment begins: on the selected words, else on the word the caret stands in, else at the caret's place. */
export function beginning({ doc, selection }: EditorState): Begun {
  const { empty, $from } = selection;
  let { from, to } = selection;
  if (empty && $from.parent.isTextblock) {
    const words = $from.parent.textBetween(0, $from.parent.content.size, '', '\ufffc');
    from -= /[\p{L}\p{N}’'-]*$/u.exec(words.slice(0, $from.parentOffset))![0].length;
    to += /^[\p{L}\p{N}’'-]*/u.exec(words.slice($from.parentOffset))![0].length;
  }
  return { id: nanoid(12), from, to, quote: from < to ? wordsOf(doc, [{ from, to }]) : '', whole: false };
}

/** How long what was just written may take to be on the server, in milliseconds. */
const patience = 5000;

/**
 * A place of the text as the server knows it. What was written a moment ago is waited for: the server is to find the
 * words there.
 */
export async function placeForServer(text: LiveText, range: Range): Promise<Place> {
  let now = range;
  if (text.hasUnkept()) {
    const unfollow = text.onMapping((mapping) => {
      now = mappedRange(now, (pos, side) => mapping.map(pos, side));
    });
    await new Promise<void>((done) => {
      const leave = text.subscribe(() => !text.hasUnkept() && end());
      const late = setTimeout(() => end(), patience);
      const end = () => {
        clearTimeout(late);
        leave();
        done();
      };
    });
    unfollow();
  }
  return text.places.asKept(now);
}

/** The occurrence of some words that is nearest to a place. */
function nearest(doc: Node, words: string, from: number): number | null {
  let best: number | null = null;
  doc.descendants((node, pos) => {
    if (!node.isTextblock) return true;
    const text = node.textBetween(0, node.content.size, '', '\ufffc');
    for (let at = text.indexOf(words); at >= 0; at = text.indexOf(words, at + 1)) {
      const place = pos + 1 + at;
      if (best === null || Math.abs(place - from) < Math.abs(best - from)) best = place;
    }
    return false;
  });
  return best;
}

/** Where a comment belongs that was being written when the page went: at its words, wherever they are now. */
export function placeOfUnsent(state: EditorState | null, unsent: Unsent, id: string): Begun | null {
  if (!state || !unsent.about) return null;
  if ('whole' in unsent.about) return { id, from: 0, to: 0, quote: '', whole: true };
  const { quote, from } = unsent.about;
  const at = quote ? nearest(state.doc, quote, from) : null;
  const place = Math.min(at ?? from, state.doc.content.size);
  return {
    id,
    from: place,
    to: at === null ? place : place + quote.length,
    quote: at === null ? '' : quote,
    whole: false,
  };
}
