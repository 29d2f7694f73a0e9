import { execFileSync } from 'node:child_process';
import type { Node } from 'prosemirror-model';
import type { Person } from '../../src/index.js';

/** What pandoc (a reader of the standard that is not ours) finds in a DOCX file. White space is left out of all texts. */

interface Ast {
  t: string;
  c?: unknown;
}

/** One stretch of pending text: kind, author, date and words. */
export type Marked = [kind: string, author: string, date: string, text: string];

const run = (bytes: Uint8Array, mode: string, from = 'docx'): { blocks: Ast[] } =>
  JSON.parse(
    execFileSync('pandoc', ['-f', from, '-t', 'json', `--track-changes=${mode}`], {
      input: bytes,
      maxBuffer: 1 << 28,
    }).toString(),
  ) as { blocks: Ast[] };

const bare = (text: string) => text.replace(/\s+/g, '');

function walk(node: unknown, visit: (ast: Ast, into: () => void) => void): void {
  if (Array.isArray(node)) node.forEach((child) => walk(child, visit));
  else if (node && typeof node === 'object') {
    if ('t' in node) visit(node as Ast, () => walk((node as Ast).c, visit));
    else Object.values(node).forEach((child) => walk(child, visit));
  }
}

/** The paragraphs as they read when all is accepted or rejected; empty ones are left out, as pandoc does. */
export function paragraphs(bytes: Uint8Array, mode: 'accept' | 'reject'): string[] {
  const found: string[] = [];
  walk(run(bytes, mode).blocks, (ast, into) => {
    if (['Para', 'Plain', 'Header'].includes(ast.t)) found.push('');
    if (ast.t === 'Str') found[found.length - 1] += String(ast.c);
    into();
  });
  return found.map(bare).filter(Boolean);
}

type Attr = [string, string[], [string, string][]];

/** Insertions, deletions, pending paragraph marks and comments, in reading order. */
export function marks(bytes: Uint8Array, from = 'docx'): { changes: Marked[]; comments: Marked[] } {
  const changes: Marked[] = [];
  const comments: Marked[] = [];
  const open: Marked[] = [];
  walk(run(bytes, 'all', from).blocks, (ast, into) => {
    if (ast.t === 'Str') open.forEach((mark) => (mark[3] += String(ast.c)));
    if (ast.t !== 'Span') return into();
    const [[, [name = ''], pairs]] = ast.c as [Attr];
    const data = Object.fromEntries(pairs);
    const mark: Marked = [name, data.author ?? '', data.date ?? '', ''];
    if (name === 'comment-start') comments.push(mark);
    else if (/insertion|deletion/.test(name)) changes.push(mark);
    else return into();
    open.push(mark);
    into();
    open.pop();
  });
  return { changes: joined(changes), comments };
}

/** The words between the start and the end of each comment's range. */
export function commentedWords(bytes: Uint8Array): string[] {
  const words = new Map<string, string>();
  const open = new Set<string>();
  walk(run(bytes, 'all').blocks, (ast, into) => {
    if (ast.t === 'Str') for (const id of open) words.set(id, words.get(id)! + String(ast.c));
    if (ast.t !== 'Span') return into();
    const [[, [name = ''], pairs]] = ast.c as [Attr];
    const { id = '' } = Object.fromEntries(pairs);
    if (name === 'comment-end') open.delete(id);
    if (name !== 'comment-start') return into();
    words.set(id, '');
    open.add(id);
  });
  return [...words.values()];
}

/** Neighbouring stretches of the same kind, author and date as one; stretches of white space alone left out. */
function joined(found: Marked[]): Marked[] {
  const result: Marked[] = [];
  for (const [kind, author, date, text] of found) {
    const last = result[result.length - 1];
    const words = bare(text);
    if (!words && !kind.startsWith('paragraph')) continue;
    if (last && last[0] === kind && last[1] === author && last[2] === date && words) last[3] += words;
    else result.push([kind, author, date, words]);
  }
  return result;
}

/** The same list, from a document of ours. A pending opening shows in the file as the ending of the paragraph before. */
export function ours(doc: Node, people: readonly Person[]): Marked[] {
  const name = (id: unknown) => people.find((person) => person.id === id)?.name ?? '';
  const found: Marked[] = [];
  doc.forEach((block) => {
    for (const type of ['openingInserted', 'openingDeleted']) {
      const mark = block.marks.find((m) => m.type.name === type);
      const kind = type === 'openingInserted' ? 'paragraph-insertion' : 'paragraph-deletion';
      if (mark) found.push([kind, name(mark.attrs.author), mark.attrs.date as string, '']);
    }
    block.forEach((node) => {
      for (const type of ['insertion', 'deletion']) {
        const mark = node.marks.find((m) => m.type.name === type);
        if (mark) found.push([type, name(mark.attrs.author), mark.attrs.date as string, node.text ?? '']);
      }
    });
  });
  return joined(found);
}

export const linesOf = (text: string): string[] => text.split('\n').map(bare).filter(Boolean);
