import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Mapping } from 'prosemirror-transform';
import { DataSource } from 'typeorm';
import type { Verdict } from '@tea-pencil/core';
import type { DecidedAt, PlacesAsked } from '@tea-pencil/wire';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';

/** So many decisions are looked back over, the newest first. */
const mostDecisions = 400;
/** A place belongs to a change when it is so near to where that one was. */
const near = 2;

interface Decision {
  fromVersion: number;
  decidedBy: string;
  verdict: Verdict;
  at: Date;
  /** Where each was, and how many letters long at most. */
  changes: { id: string; author: string; at: number; size: number }[];
}

/** Which decision has made a place what it is. */
@Injectable()
export class DecidedPlaces {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly history: History,
  ) {}

  /** For each place the last decision that was made there, as far back as is looked; null where there was none. */
  async at(manuscriptId: string, { version, places }: PlacesAsked): Promise<(DecidedAt | null)[]> {
    const text = await this.authority.text(manuscriptId);
    if (!text || version > text.version) throw new NotFoundException('The text has no such version.');
    const found = places.map((): DecidedAt | null => null);
    const open = new Map(places.map(({ from, to }, i) => [i, { from, to }]));
    let now = version;
    for (const decision of await this.#decisions(manuscriptId, version)) {
      if (!open.size) break;
      // Places go back through the log, from each decision to the one before it.
      const back = new Mapping(await this.history.maps(manuscriptId, decision.fromVersion, now)).invert();
      now = decision.fromVersion;
      for (const [i, place] of open) {
        place.from = back.map(place.from, -1);
        place.to = back.map(place.to, 1);
        const change = decision.changes.find(({ at, size }) => place.to >= at - near && place.from <= at + size + near);
        if (!change) continue;
        const { id, author } = change;
        const { verdict, decidedBy } = decision;
        found[i] = { change: id, author, verdict, decidedBy, at: decision.at.toISOString() };
        open.delete(i);
      }
    }
    return found;
  }

  /** The decisions up to a version that still stand, the newest first, each with where its changes were. */
  #decisions(manuscriptId: string, version: number): Promise<Decision[]> {
    return this.database.query<Decision[]>(
      `SELECT decisions.from_version AS "fromVersion", decisions.decided_by AS "decidedBy", decisions.verdict,
         decisions.decided_at AS at, jsonb_agg(jsonb_build_object('id', change_id, 'author', author,
           'at', (entry ->> 'at')::int,
           'size', coalesce(greatest(length(entry ->> 'before'), length(entry ->> 'after')), 0)) ORDER BY serial) AS changes
       FROM (SELECT * FROM decisions WHERE manuscript_id = $1 AND taken_back_at IS NULL AND to_version <= $2
             ORDER BY to_version DESC LIMIT ${mostDecisions}) AS decisions
       JOIN changes ON changes.manuscript_id = $1 AND decision_id = decisions.id AND entry IS NOT NULL
       GROUP BY decisions.from_version, decisions.decided_by, decisions.verdict, decisions.decided_at, decisions.to_version
       ORDER BY decisions.to_version DESC`,
      [manuscriptId, version],
    );
  }
}
