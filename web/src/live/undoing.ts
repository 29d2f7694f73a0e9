import type { EditorState, SelectionBookmark, Transaction } from 'prosemirror-state';
import type { StepMap, Transform } from 'prosemirror-transform';

/**
 * What an undo leaves to be done again, where it has been brought within the rules: what was really done. Of this
 * prosemirror-history keeps the inside to itself (1.5: HistoryState, Branch); what is used of it is named here.
 */

/** Under which prosemirror-history keeps its state, and tells itself what an undo makes of it. */
const history = 'history$';

/** Events to be undone, or done again, the last one first. */
interface Branch {
  /** @param maps of steps that are in no event */
  addMaps(maps: readonly StepMap[]): Branch;
  /** @param selection what is selected after the event was undone */
  addTransform(made: Transform, selection: SelectionBookmark, config: object, preserveItems: boolean): Branch;
}
interface Kept {
  readonly done: Branch;
  readonly undone: Branch;
}
interface Told {
  redo: boolean;
  historyState: Kept;
}

const pluginOf = ({ plugins }: EditorState) =>
  plugins.find((plugin) => (plugin as unknown as { key: string }).key === history)!;

/**
 * @param state what was undone on
 * @param undo the undo, or redo, with the steps that bring it within the rules behind it
 * @param alone how many steps it had without those
 * @returns the same, telling the history so
 */
export function toldHistory(state: EditorState, undo: Transaction, alone: number): Transaction {
  const plugin = pluginOf(state);
  const { config } = plugin.spec as unknown as { config: object };
  const { redo, historyState: made } = undo.getMeta(history) as Told;
  const was = plugin.getState(state) as Kept;
  const [from, to] = redo ? (['undone', 'done'] as const) : (['done', 'undone'] as const);
  const historyState = Object.assign(Object.create(Object.getPrototypeOf(made) as object) as Kept, made, {
    [from]: made[from].addMaps(undo.mapping.maps.slice(alone)),
    [to]: was[to].addTransform(undo, state.selection.getBookmark(), config, true),
  });
  return undo.setMeta(history, { redo, historyState } satisfies Told);
}

/** Another transaction that comes to the same tells the history the same. */
export const tellingTheSame = (undo: Transaction, tr: Transaction): Transaction =>
  tr.setMeta(history, undo.getMeta(history));
