import { Fragment, Slice, type Node as PMNode } from 'prosemirror-model';
import { TextSelection, type Command } from 'prosemirror-state';
import type { EditorProps, EditorView } from 'prosemirror-view';
import {
  deleteLetter,
  deleteToEdge,
  deleteWord,
  withoutFootnotes,
  type Direction,
  counted,
  quoteFor,
} from '@tea-pencil/core';
import { closeHistory } from 'prosemirror-history';
import type { LiveText } from '../../live/live-text';
import { cleaned, heedKey, heedSelection, legible } from '../../kit/editing';
import { footnoteAround } from './footnote-view';
import { noteCopied, withoutOthers } from './carried';
import { linkedByPaste, offerDivided, sayLeftOut, withItsFirst, withWholeTables } from './pasting';
import { picturesIn, type Pictures } from './pictures';
import { forLater } from './put-later';

/** Input that the browser would carry out itself, carried out by the core's commands instead. */

/** What the browser asks for (W3C Input Events Level 2, section 4.1.2), as direction and extent. */
const deletions: Record<string, [extent: 'letter' | 'word' | 'line', direction: Direction]> = {
  deleteContentBackward: ['letter', -1],
  deleteContentForward: ['letter', 1],
  deleteWordBackward: ['word', -1],
  deleteWordForward: ['word', 1],
  deleteSoftLineBackward: ['line', -1],
  deleteSoftLineForward: ['line', 1],
  deleteHardLineBackward: ['line', -1],
  deleteHardLineForward: ['line', 1],
};

/** The far edge of what the browser would delete. */
function edgeOf(view: EditorView, event: InputEvent, direction: Direction): number | null {
  const [range] = event.getTargetRanges();
  if (!range) return null;
  return direction === 1
    ? view.posAtDOM(range.endContainer, range.endOffset)
    : view.posAtDOM(range.startContainer, range.startOffset);
}

/**
 * A letter typed where no text stands around the caret. Chromium leaves the caret before it when the paragraph has not
 * been drawn since the caret came there, as when keys follow fast; the next letter would go before it.
 */
function insertFirstLetter(view: EditorView, event: InputEvent): boolean {
  const { selection, tr } = view.state;
  if (event.inputType !== 'insertText' || !event.data || !(selection instanceof TextSelection) || !selection.empty)
    return false;
  if (view.dom.ownerDocument.getSelection()?.focusNode?.nodeType === Node.TEXT_NODE) return false;
  view.dispatch(tr.insertText(event.data).scrollIntoView());
  event.preventDefault();
  return true;
}

/** In which language one writes, and whether straight signs become its quotation marks. */
export interface Writing {
  language(): string;
  typographic(): boolean;
}

/**
 * A straight sign comes in as it was typed and becomes the typographic one in a step of its own, so that one step back
 * leaves the straight one.
 */
function typedQuote(view: EditorView, sign: string, writing: Writing): boolean {
  const becomes = writing.typographic() ? quoteFor(view.state, sign, writing.language()) : null;
  if (becomes === null) return false;
  view.dispatch(view.state.tr.insertText(sign).scrollIntoView());
  const { doc, selection, tr } = view.state;
  const at = selection.from;
  if (becomes !== sign && doc.textBetween(at - 1, at) === sign)
    view.dispatch(
      closeHistory(tr)
        .insertText(becomes, at - 1, at)
        .scrollIntoView(),
    );
  return true;
}

function beforeInput(view: EditorView, event: InputEvent, me: string, writing: Writing): boolean {
  if (!event.cancelable || view.composing) return false;
  if (event.inputType === 'insertText' && event.data && typedQuote(view, event.data, writing)) {
    event.preventDefault();
    return true;
  }
  if (insertFirstLetter(view, event)) return true;
  const deletion = deletions[event.inputType];
  if (!deletion) return false;
  const [extent, direction] = deletion;
  const commands: Record<typeof extent, Command> = {
    letter: deleteLetter(direction, me),
    word: deleteWord(direction, me),
    line: deleteToEdge(() => edgeOf(view, event, direction)),
  };
  if (!commands[extent](view.state, view.dispatch, view)) return false;
  event.preventDefault();
  return true;
}

/** The pictures of a pasted passage that are not in the text yet. */
function strangers(slice: Slice, doc: PMNode): Set<string> {
  const found = new Set<string>();
  slice.content.descendants((node) => void (node.type.name === 'image' && found.add(node.attrs.asset as string)));
  if (found.size) doc.descendants((node) => void found.delete(node.attrs.asset as string));
  return found;
}

const withPictures = (content: Fragment, ids: ReadonlyMap<string, string | null>): Fragment =>
  Fragment.fromArray(
    content.content.flatMap((node) => {
      const asset = node.attrs.asset as string | undefined;
      if (asset === undefined || !ids.has(asset)) return [node.copy(withPictures(node.content, ids))];
      const here = ids.get(asset);
      return here ? [node.type.create({ ...node.attrs, asset: here }, null, node.marks)] : [];
    }),
  );

/** Sets down a passage with pictures of another manuscript, once those are here too. */
async function pasteWithPictures(view: EditorView, slice: Slice, wanted: Set<string>, pictures: Pictures) {
  const put = forLater(view, pictures);
  const ids = new Map<string, string | null>();
  for (const asset of wanted) ids.set(asset, await pictures.takeOver(asset));
  const left = [...ids.values()].filter((id) => id === null).length;
  if (left && !view.isDestroyed)
    pictures.say(`${counted(left, 'picture')} could not be brought along and was left out.`);
  const here = new Slice(withPictures(slice.content, ids), slice.openStart, slice.openEnd);
  put((state, dispatch) => {
    dispatch?.(state.tr.replaceSelection(here).scrollIntoView().setMeta('uiEvent', 'paste'));
    return true;
  });
}

export const inputProps = (text: LiveText, pictures: Pictures, writing: Writing): EditorProps => ({
  handleDOMEvents: {
    keydown: heedKey,
    cut: (view) => heedSelection(view) || noteCopied(view, text.manuscript),
    copy: (view) => heedSelection(view) || noteCopied(view, text.manuscript),
    paste: heedSelection,
    beforeinput: (view, event) => heedSelection(view) || beforeInput(view, event as InputEvent, text.me, writing),
  },
  transformPastedHTML: cleaned,
  transformPasted: (slice, { state }) =>
    withItsFirst(
      withWholeTables(footnoteAround(state.selection) ? withoutFootnotes(legible(slice)) : legible(slice)),
      state,
    ),
  handlePaste(view, event, slice) {
    const files = picturesIn(event.clipboardData);
    if (files.length && !slice.size) {
      void pictures.insert(view, files);
      return true;
    }
    sayLeftOut(event.clipboardData, pictures);
    const passage = withoutOthers(view, slice, text.manuscript, pictures.say);
    const wanted = strangers(passage, view.state.doc);
    if (wanted.size) {
      void pasteWithPictures(view, passage, wanted, pictures);
      return true;
    }
    if (passage !== slice) {
      view.dispatch(view.state.tr.replaceSelection(passage).scrollIntoView().setMeta('uiEvent', 'paste'));
      return true;
    }
    if (linkedByPaste(view, event.clipboardData)) return true;
    offerDivided(view, event.clipboardData, pictures);
    // What is set down elsewhere is a move; what it is set down over is a deletion of its own.
    if (text.hasCut() && !view.state.selection.empty) view.dispatch(view.state.tr.deleteSelection());
    return false;
  },
  handleDrop(view, event) {
    const files = picturesIn(event.dataTransfer);
    const at = files.length ? view.posAtCoords({ left: event.clientX, top: event.clientY }) : null;
    if (!at) return false;
    view.dispatch(view.state.tr.setSelection(TextSelection.near(view.state.doc.resolve(at.pos))));
    void pictures.insert(view, files);
    return true;
  },
});
