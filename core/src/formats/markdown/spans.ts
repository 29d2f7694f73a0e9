import type MarkdownIt from 'markdown-it';

export type Token = ReturnType<MarkdownIt['parse']>[number];
type StateInline = Parameters<Parameters<MarkdownIt['inline']['ruler']['push']>[1]>[0];

/**
 * What pandoc’s Markdown has besides CommonMark and is written in a line: spans in brackets with attributes, raised and
 * lowered words, the space that does not break (pandoc manual: bracketed_spans, superscript, subscript, escaped spaces).
 */

/** The attributes of a span or heading, as they stand between braces. */
export interface Attributes {
  classes: string[];
  values: Record<string, string>;
}

const piece = /\s*(?:\.([\w-]+)|#([\w-]+)|([\w:-]+)=(?:"((?:[^"\\]|\\.)*)"|([^\s"{}]+)))/y;

/** Reads attributes from where a brace opens; null where what stands there is none. */
export function attributesAt(text: string, start: number): { attributes: Attributes; end: number } | null {
  if (text[start] !== '{') return null;
  const attributes: Attributes = { classes: [], values: {} };
  let at = start + 1;
  for (;;) {
    piece.lastIndex = at;
    const found = piece.exec(text);
    if (!found) break;
    const [, name, id, key, quoted, bare] = found;
    if (name) attributes.classes.push(name);
    else if (id) attributes.values.id = id;
    else if (key && !Object.hasOwn(attributes.values, key))
      attributes.values[key] = quoted === undefined ? bare! : quoted.replace(/\\(.)/g, '$1');
    at = piece.lastIndex;
  }
  const rest = /\s*\}/y;
  rest.lastIndex = at;
  return rest.test(text) && at > start + 1 ? { attributes, end: rest.lastIndex } : null;
}

function span(state: StateInline, silent: boolean): boolean {
  if (state.src[state.pos] !== '[' || state.src[state.pos + 1] === '^') return false;
  const close = state.md.helpers.parseLinkLabel(state, state.pos, false);
  if (close < 0 || state.src[close + 1] !== '{') return false;
  const found = attributesAt(state.src, close + 1);
  if (!found) return false;
  // In the label of a link whatever is one token in brackets is taken for another link, which no link may hold.
  if (silent && !/[[\]]/.test(state.src.slice(close + 1, found.end))) return false;
  if (!silent) {
    const { posMax } = state;
    const open = state.push('span_open', 'span', 1);
    open.meta = found.attributes;
    state.pos += 1;
    state.posMax = close;
    state.md.inline.tokenize(state);
    state.push('span_close', 'span', -1);
    state.posMax = posMax;
  }
  state.pos = found.end;
  return true;
}

/** Words between two of a sign, without spaces among them. */
const between =
  (sign: string, tag: string) =>
  (state: StateInline, silent: boolean): boolean => {
    const { src, pos } = state;
    if (src[pos] !== sign || src[pos + 1] === sign || src[pos - 1] === sign) return false;
    let end = pos + 1;
    while (end < state.posMax && src[end] !== sign) {
      if (src[end] === '\\') end++;
      else if (/\s/.test(src[end]!)) return false;
      end++;
    }
    if (end >= state.posMax || end === pos + 1 || src[end + 1] === sign) return false;
    if (!silent) {
      const { posMax } = state;
      state.push(`${tag}_open`, tag, 1);
      state.pos = pos + 1;
      state.posMax = end;
      state.md.inline.tokenize(state);
      state.push(`${tag}_close`, tag, -1);
      state.posMax = posMax;
    }
    state.pos = end + 1;
    return true;
  };

function fixedSpace(state: StateInline, silent: boolean): boolean {
  if (state.src[state.pos] !== '\\' || state.src[state.pos + 1] !== ' ') return false;
  if (!silent) state.pending += '\u00a0';
  state.pos += 2;
  return true;
}

export function spans(md: MarkdownIt): void {
  md.inline.ruler.before('escape', 'fixed_space', fixedSpace);
  md.inline.ruler.before('link', 'span', span);
  md.inline.ruler.after('strikethrough', 'sub', between('~', 'sub'));
  md.inline.ruler.after('strikethrough', 'sup', between('^', 'sup'));
}
