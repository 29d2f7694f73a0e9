import { Fragment, type Node } from 'prosemirror-model';
import type { Reading } from '../../manuscript/manuscript.js';
import { mended } from '../../manuscript/mend.js';
import type { OdtOrigin } from '../../manuscript/origin.js';
import { schema } from '../../manuscript/schema.js';
import { toDate } from '../../manuscript/signature.js';
import { anchors, withoutChangeAnchors } from '../../threads/anchors.js';
import { counting, type Tell } from '../options.js';
import { UnreadableFile } from '../unreadable.js';
import { titleSaid } from '../kept/title.js';
import { xmlText } from '../package.js';
import { child, elements, parseXml, textOf, type Element, type Scope } from '../xml.js';
import { Context } from './context.js';
import { commonStyles, Definitions } from './definitions.js';
import { fits, frameOf } from './frame.js';
import { memoOf } from './memo.js';
import { prefixes } from './names.js';
import { open, type Opened } from './opened.js';
import { Annotations, endedIn } from './read-annotations.js';
import { Blocks, type Found } from './read-blocks.js';
import { readTable } from './read-tables.js';
import { Words } from './read-words.js';
import type { WhatWasRead } from './what-was-read.js';
import { outgoingOdt } from '../outgoing/odt.js';
import { runsOrReachesOutside } from '../outgoing/parts.js';

/**
 * Reads OpenDocument texts (ISO/IEC 26300; OASIS OpenDocument 1.3), packed or in one piece. What a manuscript does not know
 * is kept beside it and counted; nothing is dropped in silence.
 */

/** Marks where changes are, to tell how many there are. */
const ofChanges = /<[\w.-]+:change(?:-start)?\s/g;

function readContent(file: Opened, tell: Tell): WhatWasRead {
  const { content } = file;
  const named = new Set([...content.matchAll(/\btp:change="([\w.-]{1,50})"/g)].map(([, id]) => id!));
  const ended = endedIn(content);
  const telling = counting(content, ofChanges, tell);
  let base: Scope | null = null;
  const automatic: Element[] = [];
  const common = commonStyles(file);
  const found: Found = { units: [], inner: [], placed: [], lists: 0 };
  let reading: { context: Context; blocks: Blocks } | null = null;
  let text: Element | undefined;
  let automaticStyles: Element | undefined;
  let tracked: Element | undefined;
  let forms: Element | undefined;
  /** Everything the text refers to stands before it. */
  const begin = (parent: Element | null) => {
    base ??= parent?.scope ?? { bound: {}, depth: 0 };
    const context = new Context(file, new Definitions(automatic, common), () => base!, named);
    const words = new Words(context, new Annotations(context, ended));
    const blocks = new Blocks(words, 'text', found, readTable, true);
    found.text = blocks;
    return { context, blocks };
  };
  const root = parseXml(content, {
    prefixes,
    within: ['office:automatic-styles', 'office:styles', 'office:text'],
    each: (element, parent) => {
      if (parent.name === 'office:automatic-styles') {
        automaticStyles = parent;
        automatic.push(element);
      } else if (parent.name === 'office:styles') common.push(element);
      else {
        text = parent;
        reading ??= begin(parent);
        telling(element.start, element.end);
        if (element.name === 'text:tracked-changes') {
          tracked = element;
          reading.context.readRegions(element);
        } else if (element.name === 'office:forms') forms = element;
        else reading.blocks.block(element);
      }
    },
  });
  const body = [...elements(root)].find(({ name }) => name === 'office:body');
  text ??= [...elements(body)].find(({ name }) => name === 'office:text');
  if (!text) throw new UnreadableFile('is an OpenDocument file, but no text');
  const { context, blocks } = (reading ?? begin(text)) as { context: Context; blocks: Blocks };
  automaticStyles ??= [...elements(root)].find(({ name }) => name === 'office:automatic-styles');
  return {
    context,
    blocks: blocks.finish(),
    found,
    frame: frameOf(content, root, { automaticStyles, body: body!, text, tracked, forms }),
    title: titleIn(file, root),
  };
}

/** The title in what the file says of itself (part 3, 4.3.2.3). */
function titleIn(file: Opened, root: Element): string | undefined {
  const meta = file.parts.get('meta.xml');
  try {
    const told = file.kind === 'odt' ? meta && parseXml(xmlText(meta), { prefixes }) : root;
    return titleSaid(textOf(child(child(told, 'office:meta'), 'dc:title')));
  } catch (problem) {
    if (problem instanceof UnreadableFile) return undefined;
    throw problem;
  }
}

/** The words each thread is about, and where those stand that are about none. */
function placeThreads(doc: Node, { context, found }: WhatWasRead): void {
  const ranges = anchors(doc);
  const placed = new Map(found.placed.map((one) => [one.thread.id, one]));
  for (const thread of context.threads) {
    const words = (ranges.get(thread.id) ?? []).map(({ from, to }) => doc.textBetween(from, to, ' '));
    thread.quote ||= words.join(' ');
    if (words.length || thread.whole || thread.change !== undefined) continue;
    const { block = 0, offset = 0 } = placed.get(thread.id) ?? {};
    const k = Math.min(block, doc.childCount - 1);
    let from = 1;
    for (let i = 0; i < k; i++) from += doc.child(i).nodeSize;
    from += doc.child(k).isTextblock ? Math.min(offset, doc.child(k).content.size) : 3;
    thread.place = { version: 0, from, to: from };
  }
}

/** Counts what stands in parts that are kept as they are. */
function countParts({ file, carried, losses }: Context): void {
  for (const [, name] of (file.styles ?? '').matchAll(/<[\w.-]+:(header|footer)(?:-left|-first)?[\s>]/g))
    if (name) carried.add('header or footer', 'page layout');
  for (const name of file.parts.keys()) {
    if (/^(Basic|Scripts)\//.test(name)) carried.add('part of the file that only its maker knows', 'parts');
    if (name === 'META-INF/documentsignatures.xml')
      losses.add('signature of the file, which ends with the first edit', 'parts');
  }
  const whole = file.kind === 'odt' ? file.parts : new Map([['content.xml', file.content]]);
  for (const { what, howMany } of outgoingOdt(whole, { inert: true }).left)
    carried.add(what, runsOrReachesOutside, howMany);
}

async function read(kind: Opened['kind'], bytes: Uint8Array, tell: Tell): Promise<Reading> {
  const file = open(kind, bytes);
  const what = readContent(file, tell);
  const { context, blocks } = what;
  countParts(context);
  const given = schema.nodes.doc.create(null, Fragment.fromArray(blocks));
  const { doc, mends } = mended(given, toDate(new Date()));
  placeThreads(doc, what);
  const { threads, assets } = context;
  const manuscript = { doc: withoutChangeAnchors(doc, threads), people: context.people.people, threads, assets };
  const about = { ...(what.title !== undefined && { title: what.title }) };
  // Where its prefixes stand for something else than ours, nothing of ours can be written into it.
  if (!fits(what.frame.root)) {
    context.losses.add('file whose names are unusual: what is carried does not go out again', 'parts');
    return { manuscript, losses: [...context.losses.list(), ...mends], carried: [], ...about };
  }
  const names = {
    assets: Object.fromEntries(context.partOf),
    people: context.people.names,
    changes: Object.fromEntries([...context.named].map((id) => [id, id])),
  };
  const memo = memoOf(manuscript, what, doc === given, names);
  const origin: OdtOrigin = { format: kind, file: bytes, ...names, memo };
  return {
    manuscript: { ...manuscript, origin },
    losses: [...context.losses.list(), ...mends],
    carried: context.carried.list(),
    ...about,
  };
}

const quiet = () => undefined;

/**
 * Reads an ODT file.
 * @param tell hears how far it is
 * @returns the manuscript, with ids of its own where the file names none; what is kept beside it, and what could not be
 * @throws UnreadableFile when the bytes are no such file, with the reason
 */
export const readOdt = async (bytes: Uint8Array, tell: Tell = quiet): Promise<Reading> => read('odt', bytes, tell);

/** The same of a text in one piece of XML (FODT). */
export const readFodt = async (bytes: Uint8Array, tell: Tell = quiet): Promise<Reading> => read('fodt', bytes, tell);
