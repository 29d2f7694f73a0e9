import { Plugin, PluginKey } from 'prosemirror-state';
import type { Mark } from 'prosemirror-model';
import {
  Decoration,
  DecorationSet,
  type EditorView,
  type MarkViewConstructor,
  type ViewMutationRecord,
} from 'prosemirror-view';
import type { Thread } from '@tea-pencil/core';
import type { LiveText } from '../live/live-text';

/** How commented words are drawn. Classes are set on what is there: no word is drawn anew when a thread changes. */

/** What the words of a thread show of it. */
interface Dress {
  author: string;
  className: string;
}

const same = (a: Dress | undefined, b: Dress | undefined) => a?.author === b?.author && a?.className === b?.className;

const dressOf = (thread: Thread, focused: string | null): Dress => ({
  author: thread.author,
  className: [
    thread.comments.length ? 'talked' : '',
    thread.tint && !thread.resolved ? `tint-${thread.tint}` : '',
    thread.id === focused ? 'lit-thread' : '',
  ]
    .filter(Boolean)
    .join(' '),
});

/** Up to so many threads are looked for one by one when they are drawn otherwise. */
const few = 20;

export class TalkDrawing {
  #dresses: ReadonlyMap<string, Dress> = new Map();

  #dress(element: HTMLElement): void {
    const dress = this.#dresses.get(element.dataset.thread ?? '');
    element.className = `anchor ${dress?.className ?? ''}`.trim();
    if (dress) element.dataset.author = dress.author;
    else delete element.dataset.author;
  }

  readonly markViews: Record<string, MarkViewConstructor> = {
    anchor: (mark: Mark) => {
      const dom = document.createElement('span');
      dom.dataset.thread = mark.attrs.thread as string;
      this.#dress(dom);
      // How it is dressed is no edit.
      const ignoreMutation = ({ type, target }: ViewMutationRecord) => type === 'attributes' && target === dom;
      return { dom, contentDOM: dom, ignoreMutation };
    },
  };

  /** Draws the words of threads; those of others are drawn as plain text. */
  draw(view: EditorView, threads: readonly Thread[], focused: string | null): void {
    const before = this.#dresses;
    this.#dresses = new Map(threads.map((thread) => [thread.id, dressOf(thread, focused)]));
    const ids = new Set([...before.keys(), ...this.#dresses.keys()]);
    const differ = new Set([...ids].filter((id) => !same(before.get(id), this.#dresses.get(id))));
    if (!differ.size) return;
    const one = (id: string) => `[data-thread="${CSS.escape(id)}"]`;
    const of = differ.size > few ? '[data-thread]' : [...differ].map(one).join();
    for (const element of view.dom.querySelectorAll<HTMLElement>(of))
      if (differ.has(element.dataset.thread!) && element.tagName === 'SPAN') this.#dress(element);
  }
}

/** Something of a thread that stands in the text without being of it. */
export type TalkMark =
  | { kind: 'words'; from: number; to: number; thread: string; author: string; lit: boolean }
  | { kind: 'sign'; at: number; thread: string; author: string; waits: boolean };

const key = new PluginKey<DecorationSet>('talk');

function decorationOf(mark: TalkMark): Decoration {
  if (mark.kind === 'words')
    return Decoration.inline(mark.from, mark.to, {
      class: `anchor talked to-self${mark.lit ? ' lit-thread' : ''}`,
      'data-thread': mark.thread,
      'data-author': mark.author,
    });
  const make = () => {
    const sign = document.createElement('span');
    sign.className = `talk-sign${mark.waits ? ' waits-for' : ''}`;
    sign.dataset.sign = mark.thread;
    sign.dataset.author = mark.author;
    sign.setAttribute('aria-hidden', 'true');
    return sign;
  };
  return Decoration.widget(mark.at, make, { side: 1, marks: [], key: `sign ${mark.thread} ${mark.waits}` });
}

/** Marks of threads that no anchor in the text makes: of notes to oneself, and signs where the margin is hidden. */
export const talkMarks = (): Plugin<DecorationSet> =>
  new Plugin({
    key,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const marks = tr.getMeta(key) as TalkMark[] | undefined;
        return marks ? DecorationSet.create(tr.doc, marks.map(decorationOf)) : set.map(tr.mapping, tr.doc);
      },
    },
    props: {
      decorations(state) {
        return this.getState(state);
      },
    },
  });

/** Shows these marks instead of those before. */
export function showTalkMarks(text: LiveText, marks: readonly TalkMark[]): void {
  const { state } = text.snapshot();
  if (!state || (!marks.length && key.getState(state) === DecorationSet.empty)) return;
  const { size } = state.doc.content;
  const inside = marks.filter((mark) => (mark.kind === 'words' ? mark.to : mark.at) <= size);
  text.dispatch(state.tr.setMeta(key, inside).setMeta('addToHistory', false));
}
