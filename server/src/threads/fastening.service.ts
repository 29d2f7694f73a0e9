import { BadRequestException, ConflictException, Injectable, ServiceUnavailableException } from '@nestjs/common';
import { EditorState } from 'prosemirror-state';
import { Mapping, Step, Transform } from 'prosemirror-transform';
import type { Mark, Node } from 'prosemirror-model';
import { nanoid } from 'nanoid';
import type { EntityManager } from 'typeorm';
import {
  allGoes,
  anchors,
  joinedRanges,
  mappedRange,
  record,
  schema,
  toDate,
  wordsOf,
  type Range,
  type ThreadPlace,
} from '@tea-pencil/core';
import { Authority } from '../collaboration/authority.js';
import { StepLog } from '../collaboration/step-log.js';
import type { Answer } from '../collaboration/submissions.js';

/** The client under which steps of threads are logged; no editor takes them for its own. */
const client = 'threads';
const longestQuote = 5000;

/** Where a thread is to be, in the text as it is now, and the words there. */
export interface Spot extends ThreadPlace {
  quote: string;
}

const outside = 'This place is not in the text. Nothing was changed; select the words again.';
const anchorOf = (thread: string): Mark => schema.marks.anchor!.create({ thread });

/** Fastens threads to words, and turns proposed wording into changes: what threads do to the text. */
@Injectable()
export class Fastening {
  constructor(
    private readonly authority: Authority,
    private readonly log: StepLog,
  ) {}

  text = (manuscript: string) => this.authority.text(manuscript);

  /**
   * A place that somebody saw in the text at a version, in the text as it is now.
   * @throws BadRequestException when there was no such place
   */
  async spot(manuscript: string, doc: Node, version: number, place: ThreadPlace): Promise<Spot> {
    if (place.version > version) throw new BadRequestException(outside);
    const rows = await this.log.since(manuscript, place.version, version);
    const mapping = new Mapping(rows.map(({ step }) => Step.fromJSON(schema, step).getMap()));
    let size = doc.content.size;
    for (const map of mapping.maps)
      map.forEach((from, to, newFrom, newTo) => void (size -= newTo - newFrom - (to - from)));
    if (place.from > place.to || place.to > size) throw new BadRequestException(outside);
    const { from, to } = mappedRange(place, (pos, side) => mapping.map(pos, side));
    return { version, from, to, quote: wordsOf(doc, [{ from, to }]).slice(0, longestQuote) };
  }

  /**
   * Fastens a thread to the words of a place, and keeps with it what else belongs to that moment. Where there are no
   * words, the thread is kept with the place instead, unless it needs words.
   */
  async fasten(
    manuscript: string,
    by: string,
    thread: string,
    place: ThreadPlace,
    keep: (manager: EntityManager, spot: Spot, fastened: boolean) => Promise<void>,
    needsWords = false,
  ): Promise<void> {
    await this.#write(manuscript, async (text) => {
      const spot = await this.spot(manuscript, text.doc, text.version, place);
      const tr = new Transform(text.doc);
      if (anchors(text.doc).has(thread)) tr.removeMark(0, text.doc.content.size, anchorOf(thread));
      const n = tr.steps.length;
      if (spot.from < spot.to) tr.addMark(spot.from, spot.to, anchorOf(thread));
      const fastened = tr.steps.length > n;
      if (needsWords && !fastened) throw new BadRequestException('Select the words that this thread shall be about.');
      return { tr, by, intent: 'anchor' as const, also: (manager) => keep(manager, spot, fastened) };
    });
  }

  /**
   * Puts other words in the place of those a thread is about, as a change in the name of who proposed them.
   * @returns the id of the change
   */
  async propose(
    manuscript: string,
    { thread, words, proposer, by }: { thread: string; words: string; proposer: string; by: string },
    keep: (manager: EntityManager, change: string) => Promise<void>,
  ): Promise<string> {
    const change = nanoid(12);
    const date = toDate(new Date());
    await this.#write(manuscript, (text) => {
      const ranges = joinedRanges(text.doc, anchors(text.doc).get(thread) ?? []);
      const [range] = ranges;
      if (!range || ranges.length > 1 || !text.doc.resolve(range.from).sameParent(text.doc.resolve(range.to)))
        throw new ConflictException(
          'The words this wording is for are not in one piece any more. Nothing was changed; the text can be edited by hand.',
        );
      if (allGoes(text.doc, range))
        throw new ConflictException(
          'These words are struck out already. Decide that change first; nothing was changed.',
        );
      const state = EditorState.create({ doc: text.doc });
      const plain = words ? state.tr.insertText(words, range.from, range.to) : state.tr.delete(range.from, range.to);
      const tr = record(state, plain, { author: proposer, date, newChange: () => change, apart: true });
      if (!tr.docChanged) throw new ConflictException('The text says this already.');
      tr.doc.nodesBetween(range.from, Math.min(tr.mapping.map(range.to), tr.doc.content.size), (node, pos) => {
        if (node.isText && node.marks.some(({ type, attrs }) => type.name === 'insertion' && attrs.change === change))
          tr.addMark(pos, pos + node.nodeSize, anchorOf(thread));
      });
      const fresh = new Map([[change, { author: proposer, date }]]);
      return Promise.resolve({ tr, by, intent: 'pencil' as const, fresh, also: (manager) => keep(manager, change) });
    });
    return change;
  }

  /** The step maps from a version to a later one. */
  async maps(manuscript: string, from: number, to: number): Promise<Mapping['maps']> {
    const rows = await this.log.since(manuscript, from, to);
    return rows.map(({ step }) => Step.fromJSON(schema, step).getMap());
  }

  async #write(
    manuscript: string,
    make: (text: { doc: Node; version: number }) => Promise<{
      tr: Transform;
      by: string;
      intent: 'anchor' | 'pencil';
      fresh?: ReadonlyMap<string, { author: string; date: string }>;
      also(manager: EntityManager): Promise<void>;
    }>,
  ): Promise<void> {
    let problem: unknown;
    const answer: Answer = await this.authority.write(manuscript, async (text) => {
      try {
        const { tr, by, intent, fresh, also } = await make(text);
        const batch = { steps: tr.steps, author: by, intent, client, ...(fresh && { fresh }) };
        return { tr, batch, also };
      } catch (reason) {
        problem = reason;
        return { refused: '' };
      }
    });
    if (problem !== undefined) throw problem;
    if ('refused' in answer) throw new BadRequestException(answer.refused);
    if (!('taken' in answer)) throw new ServiceUnavailableException('later' in answer ? answer.later : outside);
  }
}

/** A place brought forward over steps, from the version it is of. */
export function forward(place: ThreadPlace, maps: Mapping['maps'], version: number): Range {
  const mapping = new Mapping(maps.slice(place.version - version));
  return mappedRange(place, (pos, side) => mapping.map(pos, side));
}
