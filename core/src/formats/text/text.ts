import { schema } from '../../manuscript/schema.js';
import type { Loss, Manuscript, Reading } from '../../manuscript/manuscript.js';
import type { TextOrigin } from '../../manuscript/origin.js';
import { limits } from '../../manuscript/limits.js';
import { asText } from '../../manuscript/values.js';
import { plainText } from '../../reading/readings.js';
import { decode, encode, encodingNames, type Decoded } from '../encoding.js';
import { TooMuch, UnreadableFile } from '../unreadable.js';

/** Plain text: a line a paragraph. */

/** What is said of a file that is in another encoding than it will go out in. */
export function encodingLoss({ encoding }: Omit<Decoded, 'text'>): Loss[] {
  if (encoding !== 'windows-1252') return [];
  return [{ what: `encoding: read as ${encodingNames[encoding]}, copies are in UTF-8`, where: 'file', howMany: 1 }];
}

/** The line ends of a text: those that most of its lines have. */
export function lineEndOf(text: string): TextOrigin['memo']['lineEnd'] {
  const both = text.split('\r\n').length - 1;
  const feeds = text.split('\n').length - 1 - both;
  const returns = text.split('\r').length - 1 - both;
  if (both && both >= feeds && both >= returns) return '\r\n';
  return returns > feeds ? '\r' : '\n';
}

/**
 * Reads plain text.
 * @throws UnreadableFile when the bytes are no text
 */
export async function readText(bytes: Uint8Array): Promise<Reading> {
  const file = decode(bytes);
  if (!file) throw new UnreadableFile('is no plain text: it holds bytes that no text has');
  const read = file.text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  const clean = asText(read);
  const lines = clean.split('\n');
  if (lines.length > limits.paragraphs) throw new TooMuch('paragraphs');
  const doc = schema.nodes.doc.create(
    null,
    lines.map((line) => schema.nodes.paragraph.create(null, line ? schema.text(line) : null)),
  );
  const left = read.length - clean.length; // each that is left out is one unit long
  const losses = left ? [{ what: 'characters that no text can hold', where: 'text', howMany: left }] : [];
  const { encoding, marked } = file;
  const memo = { make: 1, lineEnd: lineEndOf(file.text), encoding, marked, front: '' };
  const origin: TextOrigin = { format: 'txt', file: new Uint8Array(), assets: {}, people: {}, changes: {}, memo };
  return {
    manuscript: { doc, people: [], threads: [], assets: [], origin },
    losses: [...losses, ...encodingLoss(file)],
    carried: [],
  };
}

/** How a text is written that came from no text file. */
export const usualText: TextOrigin['memo'] = { make: 1, lineEnd: '\n', encoding: 'utf-8', marked: false, front: '' };

/** Writes the words as they stand, without marks; take a reading first. Line ends and encoding are those it came with. */
export async function writeText({ doc, origin }: Manuscript): Promise<Uint8Array> {
  const memo = origin?.format === 'txt' ? origin.memo : usualText;
  const text = plainText(doc).replaceAll('\u2028', '\n') + '\n';
  return encode(text.replaceAll('\n', memo.lineEnd), memo);
}
