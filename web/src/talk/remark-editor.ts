import { DOMParser } from 'prosemirror-model';
import type { EditorState } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { remarkSchema } from '@tea-pencil/core';
import { cleaned, legible } from '../kit/editing';

interface Heard {
  changed(now: EditorState, byHand: boolean): void;
  keyDown(event: KeyboardEvent): boolean;
  /** The field has the keyboard, or has it no more. */
  writing(on: boolean): void;
  nameOf(person: string): string;
}

/** The editor of a comment, in a place of the page. */
export function remarkEditor(place: HTMLElement, state: EditorState, heard: Heard): EditorView {
  const made: EditorView = new EditorView(place, {
    state,
    dispatchTransaction(tr) {
      made.updateState(made.state.apply(tr));
      heard.changed(made.state, tr.docChanged);
    },
    handleKeyDown: (_, event) => heard.keyDown(event),
    handleDOMEvents: {
      focus: () => heard.writing(true),
      blur: () => heard.writing(false),
    },
    transformPastedHTML: cleaned,
    transformPasted: legible,
    clipboardParser: DOMParser.fromSchema(remarkSchema),
    nodeViews: {
      mention: ({ attrs }) => {
        const dom = document.createElement('span');
        dom.className = 'mention';
        dom.dataset.person = attrs.person as string;
        dom.textContent = `@${heard.nameOf(attrs.person as string)}`;
        return { dom };
      },
    },
  });
  return made;
}
