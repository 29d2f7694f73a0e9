import { DOMParser } from 'prosemirror-model';
import { EditorView } from 'prosemirror-view';
import { useEffect, useEffectEvent, useLayoutEffect, useRef } from 'react';
import { schema } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';
import { FootnoteView } from './footnote-view';
import { carets } from '../presence/carets';
import { inputProps } from './input';
import { PictureView } from './picture-view';
import type { Pictures } from './pictures';

interface Props {
  text: LiveText;
  pictures: Pictures;
  mayWrite: boolean;
  nameOf(person: string): string;
  onView(view: EditorView | null): void;
  /** A click on a change or on commented words; null for what is not there. */
  onPoint(change: string | null, thread: string | null, at: number | null): void;
}

/** The change the caret stands in, if it stands in one and nothing is selected. */
function changeAtCaret(view: EditorView | null): string | null {
  if (!view?.state.selection.empty) return null;
  const { $from } = view.state.selection;
  const { nodeBefore, nodeAfter } = $from;
  const marks = nodeBefore && nodeAfter ? nodeAfter.marks.filter((mark) => mark.isInSet(nodeBefore.marks)) : [];
  return (marks.find((mark) => mark.attrs.change)?.attrs.change as string | undefined) ?? null;
}

/** The sheet itself: an editor view that shows the live text and hands every transaction back to it. */
export function Editor({ text, pictures, mayWrite, nameOf, onView, onPoint }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const writable = useRef(mayWrite);
  const tell = useEffectEvent(onView);
  const name = useEffectEvent(nameOf);

  useLayoutEffect(() => {
    const { state } = text.snapshot();
    if (!place.current || !state) return;
    const others = carets(text, (person) => name(person));
    const made = new EditorView(place.current, {
      state,
      decorations: ({ doc }) => others.of(doc),
      editable: () => writable.current,
      dispatchTransaction: (tr) => text.dispatch(tr),
      nodeViews: {
        footnote: (_, of, position) => new FootnoteView(of, position),
        image: (node, of, position) => new PictureView(node, of, position),
      },
      ...inputProps(text, pictures),
      clipboardParser: DOMParser.fromSchema(schema),
      attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'The manuscript', spellcheck: 'true' },
    });
    // At every commit React would save the selection of what is editable by walking through all its text. The editor
    // looks after its own selection; it is told so by the property it asks for. The attribute stays.
    Object.defineProperty(made.dom, 'contentEditable', { get: () => 'inherit' });
    view.current = made;
    tell(made);
    // The live text is the master of the state; the view follows at once, not at React's leisure.
    const leave = text.subscribe(() => {
      const now = text.snapshot().state;
      if (now && made.state !== now) made.updateState(now);
    });
    const leaveOthers = text.places.subscribe(() => {
      others.forget();
      made.setProps({}); // asks for their carets again
    });
    return () => {
      leave();
      leaveOthers();
      made.destroy();
      view.current = null;
      tell(null);
    };
  }, [text, pictures]);

  useEffect(() => {
    writable.current = mayWrite;
    view.current?.setProps({}); // asks again whether it can be written in
  }, [mayWrite]);

  return (
    <div
      ref={place}
      onClick={(event) => {
        if (!getSelection()?.isCollapsed) return; // someone selects words, and points at nothing
        const target = event.target as HTMLElement;
        const change = target.closest<HTMLElement>('[data-change]')?.dataset.change ?? null;
        const thread = target.closest<HTMLElement>('[data-thread]')?.dataset.thread ?? null;
        onPoint(change, thread, change && view.current ? view.current.posAtDOM(target, 0) : null);
      }}
      onKeyUp={({ key }) => {
        // Moving the caret into a change points at it; writing points away.
        if (/^(Arrow|Home|End|Page)/.test(key))
          onPoint(changeAtCaret(view.current), null, view.current?.state.selection.from ?? null);
        else if (key.length === 1 || key === 'Backspace' || key === 'Delete' || key === 'Enter')
          onPoint(null, null, null);
      }}
    />
  );
}
