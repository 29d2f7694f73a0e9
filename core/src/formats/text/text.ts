import { schema } from '../../manuscript/schema.js';
import type { Manuscript, Reading } from '../../manuscript/manuscript.js';
import { limits } from '../../manuscript/limits.js';
import { asText } from '../../manuscript/values.js';
import { plainText } from '../../reading/readings.js';
import { TooMuch, UnreadableFile } from '../unreadable.js';

/** Plain text: a line a paragraph, UTF-8. */

/**
 * Reads plain text.
 * @throws UnreadableFile when the bytes are no UTF-8 text
 */
export async function readText(bytes: Uint8Array): Promise<Reading> {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new UnreadableFile('is not plain text in UTF-8');
  }
  const read = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  const clean = asText(read);
  const lines = clean.split('\n');
  if (lines.length > limits.paragraphs) throw new TooMuch('paragraphs');
  const doc = schema.nodes.doc.create(
    null,
    lines.map((line) => schema.nodes.paragraph.create(null, line ? schema.text(line) : null)),
  );
  const left = read.length - clean.length; // each that is left out is one unit long
  const losses = left ? [{ what: 'characters that no text can hold', where: 'text', howMany: left }] : [];
  return { manuscript: { doc, people: [], threads: [], assets: [] }, losses, carried: [] };
}

/** Writes the words as they stand, without marks; take a reading first. */
export async function writeText({ doc }: Manuscript): Promise<Uint8Array> {
  return new TextEncoder().encode(plainText(doc).replaceAll('\u2028', '\n') + '\n');
}
