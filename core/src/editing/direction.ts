import type { Command } from 'prosemirror-state';
import { setParagraphs } from './paragraphs.js';

/** Lets the selected paragraphs run one way, whatever their words; as their words run, if all of them do so already. */
export const toggleDirection =
  (direction: 'ltr' | 'rtl'): Command =>
  (state, dispatch) => {
    let all = true;
    state.doc.nodesBetween(state.selection.from, state.selection.to, (node) => {
      if (node.isTextblock && node.attrs.direction !== direction) all = false;
    });
    return setParagraphs(() => ({ direction: all ? null : direction }))(state, dispatch);
  };
