import MarkdownIt from 'markdown-it';
import footnote from 'markdown-it-footnote';
import type { Node } from 'prosemirror-model';
import type { Reading } from '../../manuscript/manuscript.js';
import { mended } from '../../manuscript/mend.js';
import type { TextOrigin } from '../../manuscript/origin.js';
import { schema } from '../../manuscript/schema.js';
import { toDate } from '../../manuscript/signature.js';
import { anchors } from '../../threads/anchors.js';
import { decode } from '../encoding.js';
import { PageContext } from '../html/context.js';
import { titleSaid } from '../kept/title.js';
import { encodingLoss, lineEndOf } from '../text/text.js';
import { UnreadableFile } from '../unreadable.js';
import { Reader } from './reader.js';
import { spans } from './spans.js';
import { withoutNotes, type Notes } from './tokens.js';

/**
 * Reads Markdown (CommonMark by markdown-it, with tables, struck words and notes), and what is pending in the spans that
 * pandoc writes for it. Front matter is kept as it stands.
 */

const md = new MarkdownIt('commonmark', { html: true })
  .enable(['table', 'strikethrough'])
  .use(footnote as never)
  .use(spans);
md.core.ruler.disable('footnote_tail');

/** What stands before the text and says something of it by names: between a line of hyphens and one of hyphens or dots. */
const frontMatter =
  /^---[ \t]*\n(?:#[^\n]*\n|\s*\n)*["'\w-]+[^\n:]*:(?:[ \t][^\n]*)?\n(?:[^\n]*\n)*?(?:---|\.\.\.)[ \t]*\n+/;
const longest = 20 * 1024 * 1024;

/**
 * @returns the manuscript, and what of the file could not be kept
 * @throws UnreadableFile when the bytes are no text, with the reason
 */
export async function readMarkdown(bytes: Uint8Array): Promise<Reading> {
  if (bytes.length > longest) throw new UnreadableFile('is larger than 20 MB');
  const file = decode(bytes);
  if (!file) throw new UnreadableFile('is no text: it holds bytes that no text has');
  const whole = file.text.replace(/\r\n?/g, '\n');
  const front = frontMatter.exec(whole)?.[0] ?? '';
  const env: Notes = {};
  const { text, notes } = withoutNotes(md.parse(whole.slice(front.length), env));
  env.byLabel = notes;
  const named = new Set([...whole.matchAll(/\bchange="([\w.-]{1,50})"/g)].map(([, id]) => id!));
  const context = new PageContext(named, false, new Map());
  const reader = new Reader(context, env, md);
  reader.read(text);
  const blocks: Node[] = [];
  for (const block of reader.blocks) {
    if (!block.isTextblock && !blocks.at(-1)?.isTextblock) blocks.push(schema.nodes.paragraph.create());
    blocks.push(block);
  }
  if (!blocks.at(-1)?.isTextblock) blocks.push(schema.nodes.paragraph.create());
  const { doc, mends } = mended(schema.nodes.doc.create(null, blocks), toDate(new Date()));
  const ranges = anchors(doc);
  for (const thread of reader.threads) {
    const words = (ranges.get(thread.id) ?? []).map(({ from, to }) => doc.textBetween(from, to, ' '));
    thread.quote = words.join(' ');
    if (!words.length) thread.place = { version: 0, from: 1, to: 1 };
  }
  const title = titleSaid(/^title:[ \t]*(["']?)(.*?)\1[ \t]*$/m.exec(front)?.[2] ?? '');
  const memo = { make: 1, lineEnd: lineEndOf(file.text), encoding: file.encoding, marked: file.marked, front };
  const origin: TextOrigin = { format: 'md', file: new Uint8Array(), assets: {}, people: {}, changes: {}, memo };
  return {
    manuscript: { doc, people: context.people.people, threads: reader.threads, assets: context.assets, origin },
    losses: [...context.losses.list(), ...mends, ...encodingLoss(file)],
    carried: front ? [{ what: 'front matter', where: 'file', howMany: 1 }] : [],
    ...(title !== undefined && { title }),
  };
}
