import { Fragment, Slice } from 'prosemirror-model';
import { undo } from 'prosemirror-history';
import { TextSelection, type EditorState } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { counted, isSafeAddress, plural, sameValue, schema, setLink, squared } from '@tea-pencil/core';
import { pageOf } from '../../kit/editing';
import { picturesIn, type Pictures } from './pictures';

/** What is pasted from elsewhere, set down as one means it. */

const isAddress = (text: string) => /^(https?:\/\/|mailto:)\S+$/i.test(text);

/** An address that is pasted over words makes a link of them. */
export function linkedByPaste(view: EditorView, data: DataTransfer | null): boolean {
  const { selection, doc } = view.state;
  const address = data?.getData('text/plain').trim() ?? '';
  if (selection.empty || !isAddress(address) || !isSafeAddress(address)) return false;
  const words = doc.textBetween(selection.from, selection.to, '\n').trim();
  // Over another address it takes its place.
  if (!words || words.includes('\n') || isAddress(words)) return false;
  return setLink(address)(view.state, view.dispatch);
}

/** What begins with a heading or a list keeps it where it is set down in an empty paragraph. */
export function withItsFirst(slice: Slice, { selection }: EditorState): Slice {
  const first = slice.content.firstChild;
  const { $from, empty } = selection;
  const inEmpty = empty && selection instanceof TextSelection && $from.parent.content.size === 0;
  const differs = first?.isTextblock && !sameValue(first.attrs, $from.parent.attrs);
  return inEmpty && differs && slice.openStart === 1 ? new Slice(slice.content, 0, slice.openEnd) : slice;
}

/** Tables that come from elsewhere fill their grid. */
export const withWholeTables = (slice: Slice): Slice =>
  new Slice(
    Fragment.fromArray(slice.content.content.map((node) => (node.type === schema.nodes.table ? squared(node) : node))),
    slice.openStart,
    slice.openEnd,
  );

/** Pictures that stand elsewhere do not come along; that is said. */
export function sayLeftOut(data: DataTransfer | null, { say }: Pictures): void {
  const html = data?.getData('text/html') ?? '';
  if (!html || picturesIn(data).length) return;
  const left = pageOf(html).querySelectorAll('img:not([data-asset])').length;
  if (!left) return;
  const them = plural(left, 'it', 'them');
  say(
    `${counted(left, 'picture')} of what was pasted ${plural(left, 'stands', 'stand')} elsewhere and did not come along. Save ${them} and put ${them} in as a picture.`,
  );
}

/** The paragraphs of a text in which only blank lines divide them; null where each line is one anyhow. */
export function dividedByBlanks(plain: string): string[] | null {
  const parts = plain
    .replace(/\r\n?/g, '\n')
    .trim()
    .split(/\n(?:[ \t]*\n)+/);
  return parts.length > 1 && parts.some((part) => part.includes('\n'))
    ? parts.map((part) =>
        part
          .split('\n')
          .map((line) => line.trim())
          .join(' '),
      )
    : null;
}

/** Plain text with blank lines came in line by line; that only those divide it is offered, for as long as nothing else is done. */
export function offerDivided(view: EditorView, data: DataTransfer | null, { offer }: Pictures): void {
  if (!data || data.getData('text/html')) return;
  const paragraphs = dividedByBlanks(data.getData('text/plain'));
  if (!paragraphs) return;
  // The editor sets it down after this.
  setTimeout(() => {
    const { doc } = view.state;
    const act = () => {
      if (view.isDestroyed || view.state.doc !== doc || !undo(view.state, view.dispatch)) return;
      view.pasteText(paragraphs.join('\n'));
      view.focus();
    };
    offer('Each line became a paragraph.', act, 'Only at blank lines');
  });
}
