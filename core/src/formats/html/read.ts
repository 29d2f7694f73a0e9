import { Fragment } from 'prosemirror-model';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { mended } from '../../manuscript/mend.js';
import type { Reading } from '../../manuscript/manuscript.js';
import { schema } from '../../manuscript/schema.js';
import { toDate } from '../../manuscript/signature.js';
import { anchors, withoutChangeAnchors } from '../../threads/anchors.js';
import { decode } from '../encoding.js';
import { encodingLoss } from '../text/text.js';
import { UnreadableFile } from '../unreadable.js';
import { PageContext } from './context.js';
import { titleSaid } from '../kept/title.js';
import { attr, byRole, childrenOf, elementsIn, findAll, wordsIn, type PageElement } from './page.js';
import { PageBlocks } from './read-blocks.js';
import { readThreads } from './read-threads.js';

/**
 * Reads a page (WHATWG HTML), ours or any: what a manuscript can hold of it is kept, `ins` and `del` become changes, and
 * what is left out is counted. Nothing is fetched, and nothing of it is ever run.
 */

/** How many signs `<` a page may have, and how long it may be with the pictures in it. */
const mostSigns = 1_000_000;
const longest = 50 * 1024 * 1024;

/** The encoding a page says it has (WHATWG HTML, 13.2.3.2, in its first 1024 bytes). */
function saidEncoding(bytes: Uint8Array): string | undefined {
  const head = String.fromCharCode(...bytes.subarray(0, 1024));
  const said = /<meta[^>]+charset\s*=\s*["']?\s*([\w-]+)/i.exec(head)?.[1]?.toLowerCase();
  // What says it is Latin is read as Windows-1252 (WHATWG Encoding, 4.2).
  return said && /^(iso-8859-1|latin1|us-ascii|ascii)$/.test(said) ? 'windows-1252' : said;
}

function parsed(bytes: Uint8Array): {
  page: DefaultTreeAdapterTypes.Document;
  encoding: NonNullable<ReturnType<typeof decode>>;
} {
  if (bytes.length === 0) throw new UnreadableFile('is empty');
  if (bytes.length > longest) throw new UnreadableFile('is larger than 50 MB');
  const file = decode(bytes, saidEncoding(bytes));
  if (!file) throw new UnreadableFile('is no page: it holds bytes that no text has');
  let signs = 0;
  for (let at = file.text.indexOf('<'); at >= 0; at = file.text.indexOf('<', at + 1))
    if (++signs > mostSigns) throw new UnreadableFile('has more elements inside than a book would');
  return { page: parse(file.text, { scriptingEnabled: false }), encoding: file };
}

/**
 * @returns the manuscript, and what of the page could not be kept
 * @throws UnreadableFile when the bytes are no page, with the reason
 */
export async function readHtml(bytes: Uint8Array): Promise<Reading> {
  const { page, encoding } = parsed(bytes);
  const [root] = elementsIn(page);
  if (!root) throw new UnreadableFile('is no page');
  const isOwn = attr(root, 'data-tea-pencil') !== undefined;
  const body = childrenOf(root).find((one): one is PageElement => 'tagName' in one && one.tagName === 'body') ?? root;
  const context = new PageContext(namedIn(body), isOwn, picturesIn(body));
  const notes = byRole(body);
  const threads = readThreads(body, context);
  const blocks = new PageBlocks(context, notes);
  blocks.inside(body, blocks.start);
  const given = schema.nodes.doc.create(null, Fragment.fromArray(blocks.finish()));
  const { doc, mends } = mended(given, toDate(new Date()));
  // A page of ours is called after its first heading, which says more.
  const named = isOwn ? undefined : findAll(root, ({ tagName }) => tagName === 'title')[0];
  const title = named && titleSaid(wordsIn(named));
  const ranges = anchors(doc);
  for (const thread of threads)
    thread.quote ||= (ranges.get(thread.id) ?? []).map(({ from, to }) => doc.textBetween(from, to, ' ')).join(' ');
  return {
    manuscript: {
      doc: withoutChangeAnchors(doc, threads),
      people: context.people.people,
      threads,
      assets: context.assets,
    },
    losses: [...context.losses.list(), ...mends, ...encodingLoss(encoding)],
    carried: [],
    ...(title !== undefined && { title }),
  };
}

/** The ids of changes that a page of ours gives. */
const namedIn = (body: PageElement): Set<string> =>
  new Set(findAll(body, (one) => attr(one, 'data-change') !== undefined).map((one) => attr(one, 'data-change')!));

/** The pictures of a page of ours, by the names it gives them. */
const picturesIn = (body: PageElement): Map<string, PageElement> =>
  new Map(
    findAll(body, (one) => one.tagName === 'img' && attr(one, 'data-asset') !== undefined).map((one) => [
      attr(one, 'data-asset')!,
      one,
    ]),
  );
