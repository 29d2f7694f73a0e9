import type { Node } from 'prosemirror-model';
import { Decoration, DecorationSet } from 'prosemirror-view';
import type { LiveText } from '../live/live-text';
import type { Other } from '../live/places';

/** Where the others' carets and selections are drawn in the sheet. They are of this moment, and of no document. */

function caret({ client, person, head }: Other, name: string): Decoration {
  const make = () => {
    const bar = document.createElement('span');
    bar.className = 'other-caret';
    bar.dataset.author = person;
    bar.dataset.name = name; // drawn by the style sheet, so that it is no part of the text
    bar.setAttribute('aria-hidden', 'true');
    return bar;
  };
  return Decoration.widget(head, make, {
    side: 10,
    key: `${client} ${name} ${head}`,
    ignoreSelection: true,
    marks: [],
  });
}

const selection = ({ person, anchor, head }: Other): Decoration[] =>
  anchor === head
    ? []
    : [
        Decoration.inline(Math.min(anchor, head), Math.max(anchor, head), {
          class: 'other-selection',
          'data-author': person,
        }),
      ];

/** Draws carets for the text as it stands; they are made anew only when the text or somebody has moved. */
export function carets(text: LiveText, nameOf: (person: string) => string) {
  let doc: Node | null = null;
  let drawn = DecorationSet.empty;
  return {
    of(now: Node): DecorationSet {
      if (now === doc) return drawn;
      doc = now;
      const others = text.places.others();
      drawn = others.length
        ? DecorationSet.create(
            now,
            others.flatMap((other) => [...selection(other), caret(other, nameOf(other.person))]),
          )
        : DecorationSet.empty;
      return drawn;
    },
    forget(): void {
      doc = null;
    },
  };
}
