import type { Node } from 'prosemirror-model';
import { schema } from '../../manuscript/schema.js';
import type { RemarkLine, RemarkMark, RemarkPiece } from '../../manuscript/threads.js';
import { asText } from '../../manuscript/values.js';
import { attributesAt, type Attributes, type Token } from './spans.js';

/** What tokens of the parser say. */

/** What the parser keeps of notes. */
export interface Notes {
  /** The tokens of those that stand by themselves. */
  byLabel?: ReadonlyMap<string, Token[]>;
  /** Those that stand in a line. */
  footnotes?: { list?: { tokens?: Token[]; content?: string }[] };
}

/** The words of some tokens, without what stands around them. */
export const wordsOf = (tokens: readonly Token[]): string =>
  tokens
    .map((token) =>
      token.type === 'image'
        ? wordsOf(token.children ?? [])
        : /break$/.test(token.type)
          ? ' '
          : token.nesting
            ? ''
            : token.content,
    )
    .join('');

/** Where what a token opens is closed. */
export function closeOf(tokens: readonly Token[], open: number, to: number): number {
  let depth = 0;
  for (let i = open; i < to; i++) {
    depth += tokens[i]!.nesting;
    if (depth === 0) return i;
  }
  return to;
}

/** The attributes that stand behind the words of a heading. */
export function headingAttributes(content: string): { text: string; attributes: Attributes } | null {
  const at = content.lastIndexOf('{');
  const found = at === 0 || (at > 0 && /\s/.test(content[at - 1]!)) ? attributesAt(content, at) : null;
  return found && found.end === content.trimEnd().length
    ? { text: content.slice(0, at).trimEnd(), attributes: found.attributes }
    : null;
}

export const lines = (text: string): Node[] =>
  text.split('\n').flatMap((line, i) => {
    const clean = asText(line);
    return [...(i ? [schema.nodes.line_break.create()] : []), ...(clean ? [schema.text(clean)] : [])];
  });

/** What a comment says, a line for each break. */
export function remarkLines(said: readonly Node[]): RemarkLine[] {
  const all: RemarkPiece[][] = [[]];
  for (const node of said) {
    if (!node.isText) {
      if (node.type.name === 'line_break') all.push([]);
      continue;
    }
    const marks = node.marks.flatMap(({ type, attrs }): RemarkMark[] =>
      type.name === 'link'
        ? [{ type: 'link', attrs: { href: attrs.href as string } }]
        : type.name === 'bold' || type.name === 'italic'
          ? [{ type: type.name }]
          : [],
    );
    all.at(-1)!.push({ type: 'text', text: node.text!, ...(marks.length && { marks }) });
  }
  return all.map((content) => ({ type: 'line', attrs: { list: null }, ...(content.length && { content }) }));
}

/** The tokens of a note, as the extension for notes keeps them. */
export function noteTokens(env: Notes, id: number, label: string | undefined): Token[] | null {
  return env.byLabel?.get(label ?? '') ?? env.footnotes?.list?.[id]?.tokens ?? null;
}

/** Takes notes out of the text, to be read where it refers to them. */
export function withoutNotes(tokens: readonly Token[]): { text: Token[]; notes: Map<string, Token[]> } {
  const text: Token[] = [];
  const notes = new Map<string, Token[]>();
  let note: Token[] | null = null;
  for (const token of tokens) {
    if (token.type === 'footnote_reference_open') {
      note = [];
      notes.set((token.meta as { label: string }).label, note);
    } else if (token.type === 'footnote_reference_close') note = null;
    else (note ?? text).push(token);
  }
  return { text, notes };
}
