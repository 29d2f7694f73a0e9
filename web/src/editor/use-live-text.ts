import { useEffect, useState, useSyncExternalStore } from 'react';
import { dropCursor } from 'prosemirror-dropcursor';
import { gapCursor } from 'prosemirror-gapcursor';
import { LiveText, type Hearer } from '../live/live-text';
import { signs } from './decorations';
import { editingKeys } from './keys';

const plugins = () => [...editingKeys(), signs(), dropCursor({ color: 'var(--plum)' }), gapCursor()];

/** The open manuscript, for as long as the screen that shows it; the screen is made anew for another one. */
export function useLiveText(manuscript: string, me: string, mayInk: boolean, hearer: Hearer) {
  const [text] = useState(() => new LiveText(manuscript, me, plugins));
  useEffect(() => text.open(hearer), [text, hearer]);
  useEffect(() => text.allowInk(mayInk), [text, mayInk]);
  const snapshot = useSyncExternalStore(text.subscribe, text.snapshot);
  return { text, snapshot };
}
