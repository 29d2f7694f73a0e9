import { EditorView } from 'prosemirror-view';
import { DOMParser } from 'prosemirror-model';
import { useEffect, useLayoutEffect, useRef } from 'react';
import { schema } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import type { Snapshot } from '../live/live-text';

interface Props {
  text: LiveText;
  snapshot: Snapshot;
  mayWrite: boolean;
  onView(view: EditorView | null): void;
  /** A click on, or the caret reaching, a change or a thread; null when neither is there. */
  onPoint(change: string | null, thread: string | null): void;
}


/** The sheet itself: an editor view that shows the live text and hands every transaction back to it. */
export function Editor({ text, snapshot, mayWrite, onView, onPoint }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const callbacks = useRef({ onView, onPoint });
  callbacks.current = { onView, onPoint };
  const writable = useRef(mayWrite);
  writable.current = mayWrite;

  useLayoutEffect(() => {
    const { state } = text.snapshot();
    if (!place.current || !state) return;
    const made = new EditorView(place.current, {
      state,
      editable: () => writable.current,
      dispatchTransaction: (tr) => text.dispatch(tr),
      clipboardParser: DOMParser.fromSchema(schema),
      attributes: {
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': 'The manuscript',
        spellcheck: 'true',
      },
    });
    view.current = made;
    callbacks.current.onView(made);
    return () => {
      made.destroy();
      view.current = null;
      callbacks.current.onView(null);
    };
  }, [text]);

  // The live text is the master of the state; the view follows at once, not at React's leisure.
  useEffect(
    () =>
      text.subscribe(() => {
        const { state } = text.snapshot();
        if (view.current && state && view.current.state !== state) view.current.updateState(state);
      }),
    [text],
  );

  // A view that does not have the focus still says whether it can be written in.
  useEffect(() => {
    view.current?.setProps({});
  }, [mayWrite, snapshot.hand]);

  return (
    <div
      ref={place}
      onClick={(event) => {
        const target = event.target as HTMLElement;
        const change = target.closest<HTMLElement>('[data-change]')?.dataset.change ?? null;
        const thread = target.closest<HTMLElement>('[data-thread]')?.dataset.thread ?? null;
        callbacks.current.onPoint(change, thread);
      }}
    />
  );
}
