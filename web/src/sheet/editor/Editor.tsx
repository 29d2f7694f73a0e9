import { DOMParser, type Node } from 'prosemirror-model';
import { EditorState, NodeSelection, TextSelection, type Transaction } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { memo, useEffect, useEffectEvent, useLayoutEffect, useRef, type MouseEvent } from 'react';
import { schema } from '@tea-pencil/core';
import { FootnoteView } from './footnote-view';
import { carets } from '../../presence/carets';
import { useOpened } from '../../opened/opened';
import { bring, firstInView } from '../../opened/scrolling';
import { inReading, inText, readingOf } from '../../reviewing/readings';
import type { ReadAs } from '@tea-pencil/wire';
import type { LiveText } from '../../live/live-text';
import { heedSelection } from '../../kit/editing';
import { typographicQuotes } from '../../kit/preferences';
import { changeAtCaret } from './change-at-caret';
import { inputProps } from './input';
import type { Drawings } from './use-live-text';
import { PictureView } from './picture-view';
import { clipboardSerializer, type Pictures } from './pictures';

interface Props {
  drawings: Drawings;
  reading: ReadAs;
  pictures: Pictures;
  /** A click on a change or on commented words; null for what is not there. */
  onPoint(change: string | null, thread: string | null, at: number | null): void;
  /** Someone would write in a reading in which nothing can be written. */
  onWriteInReading(): void;
}

/** The state that shows the fair or before reading; the caret is where it is in the text. */
function stateOfReading(state: EditorState, reading: ReadAs): EditorState {
  const doc = readingOf(state.doc, reading);
  const place = (pos: number) => doc.resolve(Math.min(doc.content.size, inReading(state.doc, pos, reading)));
  const { anchor, head } = state.selection;
  return EditorState.create({ doc, selection: TextSelection.between(place(anchor), place(head)) });
}

const writes = ({ key, ctrlKey, metaKey, altKey }: React.KeyboardEvent) =>
  !ctrlKey && !metaKey && !altKey && (key.length === 1 || ['Backspace', 'Delete', 'Enter'].includes(key));

/** Where the button of a pointer went down, and on what. */
interface Pressed {
  x: number;
  y: number;
  on: HTMLElement;
  change: string | null;
  thread: string | null;
  /** Where in the text the change was pressed. */
  at: number | null;
}

/** A pointer that has moved less than this while it was down has pointed and not selected, in pixels. */
const still = 4;

/**
 * Keeps a view to the live text, which is the master of the state: the view follows at once, not at React's leisure.
 * @param anew is called before the carets of the others are drawn again
 * @returns ends it
 */
function follow(view: EditorView, text: LiveText, reading: () => ReadAs, anew: () => void): () => void {
  let drawn: { of: Node; reading: ReadAs } | null = null;
  const leave = [
    text.subscribe(() => {
      const now = text.snapshot().state;
      if (!now) return;
      const read = reading();
      if (read === 'marked') {
        if (view.state !== now) view.updateState(now);
        drawn = null;
      } else if (drawn?.of !== now.doc || drawn.reading !== read) {
        view.updateState(stateOfReading(now, read));
        drawn = { of: now.doc, reading: read };
      }
    }),
    text.beforeOthers(() => heedSelection(view)),
    text.places.subscribe(() => {
      heedSelection(view);
      anew();
      view.setProps({}); // asks for their carets again
    }),
  ];
  return () => leave.forEach((end) => end());
}

/** The sheet itself: an editor view that shows the live text and hands every transaction back to it. */
export const Editor = memo(function Editor(props: Props) {
  const { drawings, reading, pictures, onPoint, onWriteInReading } = props;
  const { info, text, may, nameOf, sheet } = useOpened();
  const { write: mayWrite } = may;
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const down = useRef<Pressed | null>(null);
  const writable = useRef(mayWrite);
  const read = useRef<ReadAs>('marked');
  const tell = useEffectEvent((made: EditorView | null) =>
    sheet.set({ view: made, scroller: made && (place.current?.closest('main') ?? null) }),
  );
  const name = useEffectEvent(nameOf);
  const language = useEffectEvent(() => info.language);

  useLayoutEffect(() => {
    const { state } = text.snapshot();
    if (!place.current || !state) return;
    const others = carets(text, (person) => name(person));
    /** In a reading only the selection is one's own; it is that of the text. */
    const select = ({ selection, docChanged }: Transaction) => {
      const { doc, tr } = text.snapshot().state!;
      if (docChanged) return;
      const there = (pos: number) => doc.resolve(Math.min(doc.content.size, inText(doc, pos, read.current)));
      text.dispatch(tr.setSelection(TextSelection.between(there(selection.anchor), there(selection.head))));
    };
    const made = new EditorView(place.current, {
      state: read.current === 'marked' ? state : stateOfReading(state, read.current),
      decorations: ({ doc }) => {
        if (read.current !== 'marked') return null;
        const joins = drawings.changes.joins(doc);
        return joins.length ? others.of(doc).add(doc, joins) : others.of(doc);
      },
      editable: () => writable.current && read.current === 'marked',
      dispatchTransaction: (tr) => (read.current === 'marked' ? text.dispatch(tr) : select(tr)),
      nodeViews: {
        footnote: (_, of, position) => new FootnoteView(of, position),
        image: (node, of, position) => new PictureView(node, of, position),
      },
      markViews: { ...drawings.changes.markViews, ...drawings.threads.markViews },
      ...inputProps(text, pictures, { language: () => language(), typographic: () => typographicQuotes.get() }),
      clipboardParser: DOMParser.fromSchema(schema),
      clipboardSerializer,
      attributes: () => ({
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': 'The manuscript',
        lang: language(),
        ...(read.current === 'marked' ? { spellcheck: 'true' } : { tabindex: '0', 'aria-readonly': 'true' }),
      }),
    });
    // At every commit React would save the selection of what is editable by walking through all its text. The editor
    // looks after its own selection; it is told so by the property it asks for. The attribute stays.
    Object.defineProperty(made.dom, 'contentEditable', { get: () => 'inherit' });
    view.current = made;
    tell(made);
    const leave = follow(made, text, () => read.current, others.forget);
    return () => {
      leave();
      made.destroy();
      view.current = null;
      tell(null);
    };
  }, [text, drawings, pictures]);

  // Another reading shows the same part of the text.
  useLayoutEffect(() => {
    const shown = view.current;
    const scroller = place.current?.closest('main');
    const { state } = text.snapshot();
    if (!shown || !scroller || !state || read.current === reading) return;
    const top = scroller.scrollTop > 0 ? firstInView(shown, scroller) : null;
    const at = top === null ? null : inText(state.doc, top, read.current);
    read.current = reading;
    shown.updateState(reading === 'marked' ? state : stateOfReading(state, reading));
    shown.setProps({}); // asks again whether it can be written in
    if (at !== null) bring(shown, scroller, inReading(state.doc, at, reading));
  }, [text, reading]);

  useEffect(() => {
    writable.current = mayWrite;
    view.current?.setProps({}); // asks again whether it can be written in, and for the language
  }, [mayWrite, info.language]);

  const pointAt = ({ detail, clientX, clientY }: MouseEvent) => {
    if (!down.current) return;
    const { x, y, change, thread, at } = down.current;
    down.current = null;
    // Someone selects words, and points at nothing.
    if (detail > 1 || Math.hypot(clientX - x, clientY - y) > still) return;
    // A picture that is clicked is selected, which its card shows; only what is said about it is pointed at.
    if (view.current?.state.selection instanceof NodeSelection) return thread ? onPoint(null, thread, null) : undefined;
    onPoint(change, thread, at);
  };
  return (
    <div
      ref={place}
      onMouseDown={({ clientX: x, clientY: y, target }) => {
        const on = target as HTMLElement;
        const change = on.closest<HTMLElement>('[data-change]:not(.quiet)')?.dataset.change ?? null;
        const thread = on.closest<HTMLElement>('[data-thread]')?.dataset.thread ?? null;
        down.current = { x, y, change, thread, at: change && view.current ? view.current.posAtDOM(on, 0) : null, on };
      }}
      onClick={pointAt}
      onMouseUp={(event) => {
        // What is pressed is drawn anew when the caret comes into it. Where it is gone when the button is let go, there is no click.
        if (event.button === 0 && down.current?.on.isConnected === false) pointAt(event);
      }}
      onKeyDown={(event) => {
        if (reading === 'marked' || !mayWrite || !writes(event)) return;
        event.preventDefault();
        onWriteInReading();
      }}
      onPaste={() => reading !== 'marked' && mayWrite && onWriteInReading()}
      onKeyUp={({ key }) => {
        // Moving the caret into a change points at it; writing points away.
        if (/^(Arrow|Home|End|Page)/.test(key))
          onPoint(changeAtCaret(view.current?.state), null, view.current?.state.selection.from ?? null);
        else if (key.length === 1 || key === 'Backspace' || key === 'Delete' || key === 'Enter')
          onPoint(null, null, null);
      }}
    />
  );
});
