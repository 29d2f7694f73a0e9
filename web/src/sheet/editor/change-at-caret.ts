import type { EditorState } from 'prosemirror-state';

/** The change the caret stands in, if it stands in one and nothing is selected. */
export function changeAtCaret(state: EditorState | undefined): string | null {
  if (!state?.selection.empty) return null;
  const { nodeBefore, nodeAfter } = state.selection.$from;
  const marks = nodeBefore && nodeAfter ? nodeAfter.marks.filter((mark) => mark.isInSet(nodeBefore.marks)) : [];
  return (marks.find((mark) => mark.attrs.change)?.attrs.change as string | undefined) ?? null;
}
