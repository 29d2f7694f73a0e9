import { Fragment, Slice } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { asText } from '@tea-pencil/core';

/** What every field with formatted text needs, whichever schema it has. */

/**
 * The browser tells of a new selection a moment late. A key that comes within that moment, as they do when someone types
 * fast or the machine is slow, must not act on the selection before; so the editor is told first.
 */
export function heedSelection(view: EditorView): false {
  if (view.hasFocus() && !view.composing) view.dom.ownerDocument.dispatchEvent(new Event('selectionchange'));
  return false;
}

/** What is pasted, without anything that could run or load. */
export function cleaned(html: string): string {
  const page = new window.DOMParser().parseFromString(html, 'text/html');
  for (const element of page.querySelectorAll('script, style, iframe, object, embed, link, meta')) element.remove();
  for (const element of page.querySelectorAll('*')) {
    for (const { name } of [...element.attributes]) if (/^on/i.test(name)) element.removeAttribute(name);
  }
  return page.body.innerHTML;
}

/** What is pasted, without characters that no text can hold. */
export function legible(slice: Slice): Slice {
  const cleaned = (content: Fragment): Fragment =>
    Fragment.fromArray(
      content.content.flatMap((node) => {
        if (node.text === undefined) return [node.copy(cleaned(node.content))];
        const text = asText(node.text);
        return text ? [node.type.schema.text(text, node.marks)] : [];
      }),
    );
  return new Slice(cleaned(slice.content), slice.openStart, slice.openEnd);
}
