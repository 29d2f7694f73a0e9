import { Slice } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { carriedNames, counted, plural, withoutCarried } from '@tea-pencil/core';

/** What a manuscript carries from its file, when words are copied: it stays in its own manuscript. */

/** What was copied in this window, by the manuscript it belongs to. */
const copied = new Map<string, Set<string>>();

/** Remembers what a passage refers to that is copied or cut. */
export function noteCopied({ state }: EditorView, manuscript: string): false {
  const known = copied.get(manuscript) ?? new Set<string>();
  for (const name of carriedNames(state.selection.content().content)) known.add(name);
  copied.set(manuscript, known);
  return false;
}

/** A passage without what only another manuscript carries; what stayed there is said. */
export function withoutOthers(
  { state }: EditorView,
  slice: Slice,
  manuscript: string,
  say: (sentence: string) => void,
): Slice {
  const names = carriedNames(slice.content);
  if (!names.size) return slice;
  const here = new Set([...carriedNames(state.doc.content), ...(copied.get(manuscript) ?? [])]);
  if ([...names].every((name) => here.has(name))) return slice;
  const { content, left } = withoutCarried(slice.content, (name) => here.has(name));
  if (left.length)
    say(
      `${counted(left.length, 'thing')} of another file ${plural(left.length, 'was', 'were')} left there: ${[...new Set(left)].join(', ')}.`,
    );
  return new Slice(content, slice.openStart, slice.openEnd);
}
