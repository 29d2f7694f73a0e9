import { useEffect, useState, useSyncExternalStore } from 'react';
import { dropCursor } from 'prosemirror-dropcursor';
import { gapCursor } from 'prosemirror-gapcursor';
import { Plugin } from 'prosemirror-state';
import { contained } from '@tea-pencil/core';
import { LiveText, type Hearer } from '../live/live-text';
import { foundWords } from '../sweep/hits';
import { signs } from './decorations';
import { openFootnote } from './footnote-view';
import { editingKeys } from './keys';

/** Keeps a selection from covering half a table. */
const containedSelections = () =>
  new Plugin({
    appendTransaction(_, __, state) {
      const selection = contained(state.selection);
      return selection === state.selection ? null : state.tr.setSelection(selection);
    },
  });

const plugins = (me: string) => [
  containedSelections(),
  ...editingKeys(me),
  signs(),
  foundWords(),
  openFootnote(),
  dropCursor({ color: 'var(--plum)' }),
  gapCursor(),
];

/** The open manuscript, for as long as the screen that shows it; the screen is made anew for another one. */
export function useLiveText(manuscript: string, me: string, mayInk: boolean, hearer: Hearer) {
  const [text] = useState(() => new LiveText(manuscript, me, () => plugins(me)));
  useEffect(() => text.open(hearer), [text, hearer]);
  useEffect(() => text.allowInk(mayInk), [text, mayInk]);
  const snapshot = useSyncExternalStore(text.subscribe, text.snapshot);
  return { text, snapshot };
}
