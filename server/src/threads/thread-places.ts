import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { anchors, foundAgain, type Place, type Thread } from '@tea-pencil/core';
import { Authority } from '../live/authority.js';
import { History, near } from '../live/history.js';

/** Where threads are that no anchor fastens: places of past versions, brought forward to the text as it is. */
@Injectable()
export class ThreadPlaces {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly history: History,
  ) {}

  /** The threads with their places in the newest text. What has come a long way is kept anew, so that it need not again. */
  async bringForward(manuscript: string, threads: readonly Thread[]): Promise<Thread[]> {
    const decided = await this.#placesOfDecided(manuscript, threads);
    const placed = threads.map((thread): Thread => {
      const { place, ...rest } = thread;
      if (thread.change === undefined) return thread;
      // A thread about a change is where the change stands; about one that was decided, where it stood.
      const stood = decided.get(thread.change);
      if (!stood) return rest;
      return { ...rest, place: place && place.version > stood.version ? place : stood };
    });
    const text = placed.some(({ place }) => place) ? await this.authority.text(manuscript) : null;
    if (!text) return placed;
    const { doc, version } = text;
    const fastened = anchors(doc);
    const loose = placed.flatMap(({ id, place }) => (place && !fastened.has(id) ? [{ id, place }] : []));
    const now = await this.history.forward(
      manuscript,
      loose.map(({ place }) => place),
      version,
    );
    const here = new Map(loose.map(({ id }, i) => [id, now[i]]));
    await this.#keep(
      loose.flatMap(({ id, place }, i) => (version - place.version > near ? [[id, now[i]] as const] : [])),
    );
    return placed.map(({ place: _, ...thread }) => {
      const place = here.get(thread.id);
      if (!place) return thread;
      // No anchor in the text tells where a note to oneself is, once its words have come back.
      return { ...thread, place: thread.toSelf ? { version, ...foundAgain(doc, place, thread.quote) } : place };
    });
  }

  /** Where the changes stood that threads are about and that have been decided. */
  async #placesOfDecided(manuscript: string, threads: readonly Thread[]): Promise<Map<string, Place>> {
    const about = threads.flatMap(({ change }) => (change === undefined ? [] : [change]));
    if (!about.length) return new Map();
    const rows = await this.database.query<{ change_id: string; version: number; at: number }[]>(
      `SELECT change_id, from_version AS version, (entry ->> 'at')::int AS at
       FROM changes JOIN decisions ON decisions.id = changes.decision_id
       WHERE changes.manuscript_id = $1 AND change_id = ANY ($2) AND entry IS NOT NULL`,
      [manuscript, about],
    );
    return new Map(rows.map(({ change_id, version, at }) => [change_id, { version, from: at, to: at }]));
  }

  async #keep(places: readonly (readonly [id: string, place: Place | undefined])[]): Promise<void> {
    if (!places.length) return;
    await this.database.query(
      `UPDATE threads SET place = one.place FROM unnest($1::text[], $2::jsonb[]) AS one (id, place)
       WHERE threads.id = one.id AND (threads.place ->> 'version')::int IS DISTINCT FROM (one.place ->> 'version')::int`,
      [places.map(([id]) => id), places.map(([, place]) => JSON.stringify(place))],
    );
  }
}
