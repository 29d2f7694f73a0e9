import { BadRequestException, ConflictException, Injectable, ServiceUnavailableException } from '@nestjs/common';
import { EditorState } from 'prosemirror-state';
import { Transform } from 'prosemirror-transform';
import type { Mark, Node } from 'prosemirror-model';
import { nanoid } from 'nanoid';
import type { EntityManager } from 'typeorm';
import { allGoes, anchors, joinedRanges, record, schema, toDate, wordsOf, type Place } from '@tea-pencil/core';
import type { Outcome } from '@tea-pencil/wire';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';
import type { Act } from '../policy/acts.js';
import { may, type Member } from '../policy/may.js';

/** The client under which steps of threads are logged; no editor takes them for its own. */
const client = 'threads';
const longestQuote = 5000;

/** Where a thread is to be, in the text as it is now, and the words there. */
export interface Spot extends Place {
  quote: string;
}

const outside = 'This place is not in the text. Nothing was changed; select the words again.';
const anchorOf = (thread: string): Mark => schema.marks.anchor.create({ thread });

/** Fastens threads to words, and turns proposed wording into changes: what threads do to the text. */
@Injectable()
export class Fastening {
  constructor(
    private readonly authority: Authority,
    private readonly history: History,
  ) {}

  text = (manuscript: string) => this.authority.text(manuscript);

  /**
   * A place that somebody saw in the text at a version, in the text as it is now.
   * @throws BadRequestException when there was no such place
   */
  async spot(manuscript: string, doc: Node, version: number, place: Place): Promise<Spot> {
    if (place.version > version) throw new BadRequestException(outside);
    let size = doc.content.size;
    for (const map of await this.history.maps(manuscript, place.version, version))
      map.forEach((from, to, newFrom, newTo) => void (size -= newTo - newFrom - (to - from)));
    if (place.from > place.to || place.to > size) throw new BadRequestException(outside);
    const [{ from, to } = place] = await this.history.forward(manuscript, [place], version);
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
    place: Place,
    keep: (manager: EntityManager, spot: Spot, fastened: boolean) => Promise<void>,
    needsWords = false,
  ): Promise<void> {
    await this.#write(manuscript, by, 'comment', async (text) => {
      const spot = await this.spot(manuscript, text.doc, text.version, place);
      const tr = new Transform(text.doc);
      if (anchors(text.doc).has(thread)) tr.removeMark(0, text.doc.content.size, anchorOf(thread));
      const n = tr.steps.length;
      if (spot.from < spot.to) tr.addMark(spot.from, spot.to, anchorOf(thread));
      const fastened = tr.steps.length > n;
      if (needsWords && !fastened) throw new BadRequestException('Select the words that this thread shall be about.');
      return { tr, intent: 'anchor' as const, also: (manager) => keep(manager, spot, fastened) };
    });
  }

  /** The words that a thread is about just now; null where they have gone. */
  async wordsNow(manuscript: string, thread: string): Promise<string | null> {
    const text = await this.authority.text(manuscript);
    const ranges = text && anchors(text.doc).get(thread);
    return ranges ? wordsOf(text.doc, joinedRanges(text.doc, ranges)).slice(0, longestQuote) : null;
  }

  /**
   * Puts other words in the place of those a thread is about, as a change of who does it; the thread says who proposed
   * them. Only while the words are those for which they were proposed.
   * @returns the id of the change
   */
  async propose(
    manuscript: string,
    { thread, words, insteadOf, by }: { thread: string; words: string; insteadOf: string; by: string },
    keep: (manager: EntityManager, change: string) => Promise<void>,
  ): Promise<string> {
    const change = nanoid(12);
    const date = toDate(new Date());
    await this.#write(manuscript, by, 'make wording a change', (text) => {
      const ranges = joinedRanges(text.doc, anchors(text.doc).get(thread) ?? []);
      const [range] = ranges;
      if (!range || ranges.length > 1 || !text.doc.resolve(range.from).sameParent(text.doc.resolve(range.to)))
        throw new ConflictException(
          'The words this wording is for are not in one piece any more. Nothing was changed; the text can be edited by hand.',
        );
      if (wordsOf(text.doc, [range]).slice(0, longestQuote) !== insteadOf)
        throw new ConflictException(
          'The words are other ones now than those this wording was proposed for. Nothing was changed; the text can be edited by hand.',
        );
      if (allGoes(text.doc, range))
        throw new ConflictException(
          'These words are struck out already. Decide that change first; nothing was changed.',
        );
      const state = EditorState.create({ doc: text.doc });
      const plain = words ? state.tr.insertText(words, range.from, range.to) : state.tr.delete(range.from, range.to);
      const tr = record(state, plain, { author: by, date, newChange: () => change, apart: true });
      if (!tr.docChanged) throw new ConflictException('The text says this already.');
      tr.doc.nodesBetween(range.from, Math.min(tr.mapping.map(range.to), tr.doc.content.size), (node, pos) => {
        if (node.isText && node.marks.some(({ type, attrs }) => type.name === 'insertion' && attrs.change === change))
          tr.addMark(pos, pos + node.nodeSize, anchorOf(thread));
      });
      const fresh = new Map([[change, { author: by, date }]]);
      return Promise.resolve({ tr, intent: 'pencil' as const, fresh, also: (manager) => keep(manager, change) });
    });
    return change;
  }

  async #write(
    manuscript: string,
    by: string,
    act: Act,
    make: (text: { doc: Node; version: number }) => Promise<{
      tr: Transform;
      intent: 'anchor' | 'pencil';
      fresh?: ReadonlyMap<string, { author: string; date: string }>;
      also(manager: EntityManager): Promise<void>;
    }>,
  ): Promise<void> {
    let problem: unknown;
    const asker = { personId: by, allows: (member: Member) => may(act, member) };
    const outcome: Outcome = await this.authority.write(manuscript, asker, async (text) => {
      try {
        const { tr, intent, fresh, also } = await make(text);
        const batch = { steps: tr.steps, author: by, intent, client, ...(fresh && { fresh }) };
        return { tr, batch, also };
      } catch (reason) {
        problem = reason;
        return { refused: '' };
      }
    });
    if (problem !== undefined) throw problem;
    if ('refused' in outcome) throw new BadRequestException(outcome.refused);
    if (!('taken' in outcome)) throw new ServiceUnavailableException('later' in outcome ? outcome.later : outside);
  }
}
