import { Plugin, PluginKey } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import type { Range } from '@tea-pencil/core';

/** Words that no dictionary has, and the finding one is at, set off in the text. */

export interface SetOff {
  unknown: readonly Range[];
  current: readonly Range[];
}

interface Drawn {
  unknown: DecorationSet;
  current: DecorationSet;
}

export const setOffKey = new PluginKey<Drawn>('last look');

const words = (ranges: readonly Range[]) =>
  ranges.map(({ from, to }) => Decoration.inline(from, to, { class: 'unknown-word' }));
const here = (ranges: readonly Range[]) =>
  ranges.map(({ from, to }) =>
    from === to
      ? Decoration.widget(from, spot, { key: 'finding-here' })
      : Decoration.inline(from, to, { class: 'finding-here' }),
  );

/** Each part is told by itself, and otherwise goes along with what is written. */
export const foundByLook = (): Plugin<Drawn> =>
  new Plugin({
    key: setOffKey,
    state: {
      init: () => ({ unknown: DecorationSet.empty, current: DecorationSet.empty }),
      apply(tr, drawn) {
        const { unknown, current } = (tr.getMeta(setOffKey) ?? {}) as Partial<SetOff>;
        if (!unknown && !current && !tr.docChanged) return drawn;
        return {
          unknown: unknown ? DecorationSet.create(tr.doc, words(unknown)) : drawn.unknown.map(tr.mapping, tr.doc),
          current: current ? DecorationSet.create(tr.doc, here(current)) : drawn.current.map(tr.mapping, tr.doc),
        };
      },
    },
    props: {
      decorations(state) {
        const drawn = this.getState(state);
        if (!drawn) return null;
        const { unknown, current } = drawn;
        return current === DecorationSet.empty ? unknown : unknown.add(state.doc, current.find());
      },
    },
  });

/** Where something is missing there is nothing to set off: a thin sign stands there. */
function spot(): HTMLElement {
  const sign = document.createElement('span');
  sign.className = 'finding-spot';
  sign.setAttribute('aria-hidden', 'true');
  return sign;
}
