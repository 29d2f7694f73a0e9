import type { Command, Transaction } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import type { LiveText } from '../../live/live-text';

interface Told {
  text: LiveText;
  say(sentence: string): void;
}

/**
 * Keeps the place of the caret for what comes later, as a picture does that is being sent. It is put in there, whatever is
 * written meanwhile; whoever has gone on stays where they are, and so does the keyboard. What was asked for in pencil is
 * recorded, whatever is in hand when it comes.
 * @returns puts in one after the other; where the manuscript has been left, that is said instead
 */
export function forLater(view: EditorView, { text, say }: Told): (...commands: Command[]) => void {
  const { hand } = text.snapshot();
  let place = view.state.selection.getBookmark();
  let { from, to } = view.state.selection;
  const leave = text.onMapping((mapping) => {
    // What is written at the very place comes behind; what is selected grows by nothing.
    const side = (pos: number) => (pos === from && from < to ? 1 : -1);
    place = place.map({
      map: (pos) => mapping.map(pos, side(pos)),
      mapResult: (pos) => mapping.mapResult(pos, side(pos)),
    });
    [from, to] = [mapping.map(from, side(from)), mapping.map(to, -1)];
  });
  const { activeElement } = document;
  const put = (command: Command) => {
    // Of the text itself: the sheet may show another reading of it by now.
    const state = text.snapshot().state!;
    const there = place.resolve(state.doc);
    // The next one stands behind it.
    const behind = text.onMapping((mapping) => (place = place.map(mapping)));
    const dispatch = (tr: Transaction) => text.dispatch(tr.setMeta('asked in', hand));
    if (there.eq(state.selection)) command(state, dispatch);
    else
      command(state.apply(state.tr.setSelection(there)), (tr) => {
        const here = state.tr;
        for (const step of tr.steps) here.step(step);
        dispatch(here.setMeta('uiEvent', tr.getMeta('uiEvent')));
      });
    behind();
  };
  return (...commands) => {
    leave();
    if (!commands.length) return;
    if (view.isDestroyed) return say('The manuscript was left before all of it had come; it was not put in.');
    commands.forEach(put);
    if (document.activeElement === activeElement || document.activeElement === document.body) view.focus();
  };
}
