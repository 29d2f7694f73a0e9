import { startTransition, useEffect, useState } from 'react';
import { dropCursor } from 'prosemirror-dropcursor';
import { gapCursor } from 'prosemirror-gapcursor';
import { Plugin } from 'prosemirror-state';
import { contained } from '@tea-pencil/core';
import { LiveText, type Snapshot } from '../../live/live-text';
import type { Hearer } from '../../live/hearer';
import { texts } from '../../live/of-this-window';
import { Drawing } from '../../reviewing/drawing';
import { TalkDrawing, talkMarks } from '../../talk/drawing';
import { foundByLook } from '../../last-look/underlines';
import { foundWords } from '../../sweep/hits';
import { signs } from './decorations';
import { openFootnote } from './footnote-view';
import { editingKeys } from './keys';

/** How changes and commented words are drawn on one sheet. */
export interface Drawings {
  changes: Drawing;
  threads: TalkDrawing;
}

/** Keeps a selection from covering half a table. */
const containedSelections = () =>
  new Plugin({
    appendTransaction(_, __, state) {
      const selection = contained(state.selection);
      return selection === state.selection ? null : state.tr.setSelection(selection);
    },
  });

const plugins = (me: string, drawing: Drawing) => [
  talkMarks(),
  containedSelections(),
  ...editingKeys(me),
  signs(drawing.dress),
  foundWords(),
  foundByLook(),
  openFootnote(),
  dropCursor({ color: 'var(--plum)' }),
  gapCursor(),
];

/** How long after a change the screen around the text follows, in milliseconds; by then the server has answered too. */
const together = 40;

/**
 * The newest snapshot, a moment after the text itself has been drawn: margins and counts follow, and a letter never
 * waits for them. Several changes of one moment are one.
 */
function useDrawn(text: LiveText): Snapshot {
  const [snapshot, setSnapshot] = useState(text.snapshot);
  useEffect(() => {
    let waiting = false;
    let over = false;
    let drawn = false;
    const show = () => {
      waiting = false;
      if (!over) startTransition(() => setSnapshot(text.snapshot()));
    };
    const later = () => {
      if (waiting) return;
      waiting = true;
      // The first time there is something to show it is shown at once.
      if (drawn) setTimeout(show, together);
      else queueMicrotask(show);
      drawn ||= text.snapshot().state !== null;
    };
    const leave = text.subscribe(later);
    later();
    return () => {
      over = true;
      leave();
    };
  }, [text]);
  return snapshot;
}

/** What is drawn on each text: it goes with the text, where that is left and shown again. */
const drawn = new WeakMap<LiveText, Drawings>();

function begin(manuscript: string, me: string): LiveText {
  const drawings: Drawings = { changes: new Drawing(), threads: new TalkDrawing() };
  const text = new LiveText(manuscript, me, () => plugins(me, drawings.changes));
  drawn.set(text, drawings);
  return text;
}

/** What the manuscript is set to for who writes: whether they may take ink, and up to when their own changes are fixed. */
export interface Held {
  mayInk: boolean;
  fixedUntil: string | undefined;
}

/** The open manuscript, for as long as the screen that shows it; the screen is made anew for another one. */
export function useLiveText(manuscript: string, me: string, { mayInk, fixedUntil }: Held, hearer: Hearer) {
  const [text] = useState(() => texts.of(manuscript, me) ?? begin(manuscript, me));
  const drawings = drawn.get(text)!;
  useEffect(() => texts.show(text, hearer), [text, hearer]);
  useEffect(() => text.allowInk(mayInk), [text, mayInk]);
  useEffect(() => text.fixUntil(fixedUntil), [text, fixedUntil]);
  const snapshot = useDrawn(text);
  return { text, snapshot, drawings };
}
