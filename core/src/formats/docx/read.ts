import { Fragment, type Node } from 'prosemirror-model';
import { type Reading } from '../../manuscript/manuscript.js';
import { mended } from '../../manuscript/mend.js';
import type { DocxOrigin } from '../../manuscript/origin.js';
import { schema } from '../../manuscript/schema.js';
import { toDate } from '../../manuscript/signature.js';
import type { Place, Thread } from '../../manuscript/threads.js';
import { anchors, withoutChangeAnchors } from '../../threads/anchors.js';
import { counting, type Tell } from '../options.js';
import { UnreadableFile } from '../unreadable.js';
import { titleSaid } from '../kept/title.js';
import { child, find, textOf, type Element, type Scope } from '../xml.js';
import { Context, Part } from './context.js';
import { memoOf } from './memo.js';
import { openDocx, type Opened } from './opened.js';
import { Blocks, type ReadBlock } from './read-blocks.js';
import { readComments, type FileThreads } from './read-comments.js';
import { Notes } from './read-notes.js';
import { readTable } from './read-tables.js';
import { Words } from './read-words.js';
import type { WhatWasRead } from './what-was-read.js';
import { fits, frameOf } from './start-tags.js';
import { readProtection } from './protection.js';
import { readDefinitions } from './styles.js';
import { outgoingDocx } from '../outgoing/docx.js';
import { runsOrReachesOutside } from '../outgoing/parts.js';

/**
 * Reads DOCX (ISO/IEC 29500, WordprocessingML). What a manuscript does not know is kept beside it and counted; nothing is
 * dropped in silence.
 */

/** Which paragraph each comment is referred to in, for those that stand on no words. */
type Referred = Map<string, number>;

/** Marks of changes of words and paragraphs, to tell how many there are. */
const ofChanges = /<\w+:(?:ins|del|moveFrom|moveTo|rPrChange|pPrChange)\b/g;

function readMain(file: Opened, tell: Tell): WhatWasRead & { referred: Referred } {
  const source = file.text(file.main)!;
  const named = new Set([...source.matchAll(/\btp:change="([\w.-]{1,50})"/g)].map(([, id]) => id!));
  const context = new Context(file, readDefinitions(file), named);
  let base: Scope | null = null;
  const main = new Part(context, file.main, source, () => base!);
  const partOf = (type: string) => {
    const name = file.related(file.main, type);
    return name === undefined ? undefined : new Part(context, name, file.text(name)!, () => base!);
  };
  const telling = counting(source, ofChanges, tell);
  let body: Element | undefined;
  let last: Element | undefined;
  const referred: Referred = new Map();
  const inner: ReadBlock[] = [];
  const notes: WhatWasRead['notes'] = {};
  let threads: FileThreads | null = null;
  let blocks: Blocks | null = null;
  /** Everything that the text refers to, read once it is known what names mean at the top of the text. */
  const begin = (parent: Element): Blocks => {
    base = parent.scope;
    threads = readComments(partOf('comments'), file.parsed(file.related(file.main, 'commentsExtended')));
    const elsewhere = {
      threadOf: threads.threadOf,
      ranged: (comment: string) => void threads!.ranged.add(comment),
      referred: (comment: string) => {
        const thread = threads!.threadOf(comment);
        if (thread && !referred.has(thread.id)) referred.set(thread.id, blocks!.length);
      },
    };
    for (const kind of ['foot', 'end'] as const) {
      const part = partOf(`${kind}notes`);
      if (part) notes[kind] = new Notes(part, kind, elsewhere);
    }
    const words = new Words(main, { ...elsewhere, note: (kind, id, marks) => notes[kind]?.note(id, marks) ?? null });
    return new Blocks(main, words, readTable, (node, start, end) => inner.push({ node, start, end }));
  };
  const root = main.parse({
    within: 'w:body',
    each: (element, parent) => {
      [body, last] = [parent, element];
      telling(element.start, element.end);
      (blocks ??= begin(parent)).block(element);
    },
  });
  body ??= child(root, 'w:body');
  if (!body) throw new UnreadableFile('is not a DOCX file: its main text has no body');
  return {
    source,
    context,
    blocks: (blocks ?? begin(body)).finish(),
    inner,
    threads: threads!,
    notes,
    referred,
    frame: frameOf(source, root, body, last),
  };
}

/** The start of a block, for a thread that stands on no words. */
function placeIn(doc: Node, index: number): Place {
  const k = Math.min(index, doc.childCount - 1);
  let from = 1;
  for (let i = 0; i < k; i++) from += doc.child(i).nodeSize;
  const block = doc.child(k);
  if (!block.isTextblock) from += 3;
  return { version: 0, from, to: from };
}

/** The words each thread is about, and where those stand that are about none. */
function placeThreads(doc: Node, threads: readonly Thread[], referred: Referred): void {
  const ranges = anchors(doc);
  for (const thread of threads) {
    const words = (ranges.get(thread.id) ?? []).map(({ from, to }) => doc.textBetween(from, to, ' '));
    thread.quote ||= words.join(' ');
    if (!words.length && !thread.whole && thread.change === undefined)
      thread.place = placeIn(doc, referred.get(thread.id) ?? 0);
  }
}

/** Counts what stands in parts that are kept as they are. */
function countParts({ file, carried }: Context): void {
  for (const name of file.parts.keys()) {
    if (/(^|\/)(header|footer)\d*\.xml$/.test(name)) carried.add('header or footer', 'page layout');
    else if (/^customXml\/item\d+\.xml$/.test(name)) carried.add('part of the file that only its maker knows', 'parts');
  }
  for (const { what, howMany } of outgoingDocx(file.parts, { inert: true }).left)
    carried.add(what, runsOrReachesOutside, howMany);
}

/**
 * Reads a DOCX file.
 * @param tell hears how far it is
 * @returns the manuscript, with ids of its own where the file names none; what is kept beside it, and what could not be
 * @throws UnreadableFile when the bytes are no such file, with the reason
 */
export async function readDocx(bytes: Uint8Array, tell: Tell = () => undefined): Promise<Reading> {
  const file = openDocx(bytes);
  const read = readMain(file, tell);
  const { context, blocks, threads, referred } = read;
  countParts(context);
  const given = schema.nodes.doc.create(null, Fragment.fromArray(blocks.map(({ node }) => node)));
  const { doc, mends } = mended(given, toDate(new Date()));
  placeThreads(doc, threads.threads, referred);
  const manuscript = {
    doc: withoutChangeAnchors(doc, threads.threads),
    people: context.people.people,
    threads: threads.threads,
    assets: context.assets,
  };
  const assets = Object.fromEntries(context.partOf);
  const names = {
    people: context.people.names,
    changes: Object.fromEntries([...context.named].map((id) => [id, id])),
  };
  const protection = readProtection(file, context.losses);
  const title = titleSaid(textOf(find(file.told('', 'core-properties'), 'dc:title')));
  const about = { ...(title !== undefined && { title }), ...(protection && { protection }) };
  // Where its prefixes stand for something else than ours, nothing of ours can be written into it.
  if (!fits(read.frame.root) || !fits(read.frame.body)) {
    context.losses.add('file whose names are unusual: what is carried does not go out again', 'parts');
    return { manuscript, losses: [...context.losses.list(), ...mends], carried: [], ...about };
  }
  const memo = memoOf(manuscript, read, doc === given, { assets, ...names });
  const origin: DocxOrigin = { format: 'docx', file: bytes, assets, ...names, memo };
  return {
    manuscript: { ...manuscript, origin },
    losses: [...context.losses.list(), ...mends],
    carried: context.carried.list(),
    ...about,
  };
}
