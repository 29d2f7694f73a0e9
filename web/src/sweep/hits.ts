import { Plugin, PluginKey } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';

/** Found words, set off in the text while the search is open. */

export interface Shown {
  ranges: { from: number; to: number }[];
  /** Which of them is looked at now. */
  current: { from: number; to: number }[];
}

export const hitsKey = new PluginKey<DecorationSet>('hits');

export const foundWords = (): Plugin<DecorationSet> =>
  new Plugin({
    key: hitsKey,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const shown = tr.getMeta(hitsKey) as Shown | undefined;
        if (!shown) return set.map(tr.mapping, tr.doc);
        const at = new Set(shown.current.map(({ from }) => from));
        return DecorationSet.create(
          tr.doc,
          shown.ranges.map(({ from, to }) =>
            Decoration.inline(from, to, { class: at.has(from) ? 'found found-here' : 'found' }),
          ),
        );
      },
    },
    props: {
      decorations(state) {
        return this.getState(state);
      },
    },
  });
