/**
 * The file a manuscript came from. Everything in it that a manuscript does not know stays there; in the text stand names
 * of it only. Writing begins with this file and puts in what was changed.
 */

/** A piece of XML of that file, by whose name the text refers to it. */
export interface Fragment {
  xml: string;
  /** Of what stands around words: what closes it. */
  close?: string;
}

/** A piece of a part of the file as it came, and how it would have been written when it was read. */
export interface Source {
  /** As it would be written, without numbers that mean nothing. */
  print: string;
  /** Where it begins and ends in its part. */
  start: number;
  end: number;
  /** Those of one group must all stay as they are, or none of them. */
  group?: number;
}

/** The outermost elements of the main text: where their tags begin and end, and what names mean in them. */
export interface Frame {
  root: { start: number; inside: number; attributes: Record<string, string>; bound: Record<string, string> };
  body: { start: number; inside: number; bound: Record<string, string> };
  /** Where what stands behind the last block begins. */
  tail: number;
}

/** What is found out once when a DOCX file is read, so that it can be written again quickly. */
export interface DocxMemo {
  /** Of which make the reader was; what another one found out is found out again. */
  make: number;
  frame: Frame;
  /** The greatest number by which something in the text is known. */
  most: number;
  fragments: Record<string, Fragment>;
  /** Of the main text: its blocks in their order, and paragraphs in tables. */
  blocks: Source[];
  inner: Source[];
  /** Notes by `foot` and `end`, each with its number in the file, and comments with their numbers, their last paragraphs
   *  and whether they have words of their own. */
  notes: Record<'foot' | 'end', (Source & { id: string })[]>;
  comments: (Source & { id: string; paragraph: string | null; ranged: boolean })[];
}

/** The outermost of an OpenDocument text: what names mean there, and where what comes new is put in. */
export interface OdtFrame {
  root: { start: number; inside: number; bound: Record<string, string> };
  /** Where more automatic styles go, and whether there are none yet. */
  styles: { start: number; end: number; none: boolean };
  /** The list of what was changed; where one would stand, if there is none. */
  tracked: { start: number; end: number };
  text: { start: number; inside: number };
  /** Where what stands behind the last block begins. */
  tail: number;
}

/** What is found out once when an ODT file is read. */
export interface OdtMemo {
  make: number;
  frame: OdtFrame;
  fragments: Record<string, Fragment>;
  /** What all of it would be written like, as a number; null where it was not read whole. */
  whole: number | null;
  /** What stands in the text: paragraphs, lists, tables; and paragraphs in lists and tables. */
  blocks: Source[];
  inner: Source[];
}

interface Known {
  file: Uint8Array;
  /** Which pictures of the manuscript are which parts of the file. */
  assets: Record<string, string>;
  /** Under what names the file knows people, null for those it knows by what they are called only; and changes. */
  people: Record<string, string | null>;
  changes: Record<string, string>;
}

export interface DocxOrigin extends Known {
  format: 'docx';
  memo: DocxMemo;
}

export interface OdtOrigin extends Known {
  format: 'odt' | 'fodt';
  memo: OdtMemo;
}

/** A file of characters: nothing of it is kept but how it is written, and what stands before its text. */
export interface TextOrigin extends Known {
  format: 'txt' | 'md';
  memo: {
    make: number;
    lineEnd: '\n' | '\r\n' | '\r';
    /** A label of the Encoding Standard. */
    encoding: string;
    /** Whether it begins with a byte order mark. */
    marked: boolean;
    /** What stands before the text and is none: the front matter of Markdown. */
    front: string;
  };
}

export type Origin = DocxOrigin | OdtOrigin | TextOrigin;
