import { Fragment, Slice } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { asText } from '@tea-pencil/core';

/** What every field with formatted text needs, whichever schema it has. */

/**
 * The browser tells of a new selection a moment late. What comes within that moment must not act on the selection before,
 * nor draw it anew: a key, as they come when someone types fast or the machine is slow, and what others write. So the editor
 * is told first.
 */
export function heedSelection(view: EditorView): false {
  if (view.hasFocus() && !view.composing) view.dom.ownerDocument.dispatchEvent(new Event('selectionchange'));
  return false;
}

/**
 * The same before a key. For 200 ms after the focus has come, the editor takes a caret at the start of the text for one that
 * the browser has put there, and moves it back; but behind a key it is the person who went there. The editor has no public
 * way to be told.
 */
export function heedKey(view: EditorView): false {
  heedSelection(view);
  (view as unknown as { input: { lastFocus: number } }).input.lastFocus = 0;
  return false;
}

/**
 * A page of what is pasted. Styles in it are set aside as data: a page that may hold none (Content Security Policy Level
 * 3, 6.1.13, style-src-attr) would complain of each.
 */
export const pageOf = (html: string): Document =>
  new window.DOMParser().parseFromString(html.replace(/(<[a-z][^<>]*?\s)style(\s*=)/gi, '$1data-style$2'), 'text/html');

/** What a style says of words that their elements do not. */
const emphases: [says: RegExp, tag: string][] = [
  [/font-weight\s*:\s*(bold|bolder|[6-9]00)/i, 'strong'],
  [/font-style\s*:\s*italic/i, 'em'],
];

/** What is pasted, without anything that could run or load. */
export function cleaned(html: string): string {
  const page = pageOf(html);
  for (const element of page.querySelectorAll('script, style, iframe, object, embed, link, meta')) element.remove();
  for (const element of page.querySelectorAll<HTMLElement>('*')) {
    for (const { name } of [...element.attributes]) if (/^on/i.test(name)) element.removeAttribute(name);
    const style = element.dataset.style ?? '';
    for (const [says, tag] of emphases) {
      if (!says.test(style)) continue;
      const within = page.createElement(tag);
      within.append(...element.childNodes);
      element.append(within);
    }
    delete element.dataset.style;
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
