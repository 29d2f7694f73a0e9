import { useEffect, useState, useSyncExternalStore } from 'react';
import { dropCursor } from 'prosemirror-dropcursor';
import { gapCursor } from 'prosemirror-gapcursor';
import { LiveText, type Snapshot } from '../live/live-text';
import { signs } from './decorations';
import { editingKeys } from './keys';

const plugins = () => [...editingKeys(), signs(), dropCursor({ color: 'var(--plum)' }), gapCursor()];

const nothing: Snapshot = { state: null, kept: 'opening', problem: null, here: [], hand: 'pencil' };

/** The open manuscript, for as long as the screen that shows it. */
export function useLiveText(manuscript: string, me: string, mayInk: boolean, on: LiveText['on']) {
  const [text, setText] = useState<LiveText | null>(null);
  useEffect(() => {
    const opened = new LiveText(manuscript, me, plugins, on, mayInk);
    setText(opened);
    return () => opened.close();
    // What is called back may change between renders; the connection must not.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [manuscript, me]);
  useEffect(() => {
    if (text) text.mayInk = mayInk;
  }, [text, mayInk]);
  const snapshot = useSyncExternalStore(text?.subscribe ?? noSubscription, text?.snapshot ?? (() => nothing));
  return { text, snapshot };
}
const noSubscription = () => () => undefined;
