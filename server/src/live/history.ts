import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Node } from 'prosemirror-model';
import { Mapping, Step, type StepMap } from 'prosemirror-transform';
import { DataSource, LessThanOrEqual } from 'typeorm';
import { mapOf, mappedRange, schema, type Place, type Ranges } from '@tea-pencil/core';
import type { LoggedIntent } from '@tea-pencil/wire';
import { CheckpointRow } from '../database/entities.js';
import { spansBetween, type Span } from './spans.js';

/** A place is brought forward step by step over so many versions; over more by whole spans of them. */
export const near = 1000;

/** A step as it stands in the log. */
export interface LoggedStep {
  step: object;
  client: string;
  author: string | null;
  intent: LoggedIntent;
}

/** What led to the text as it is: past versions, and where a place of one is now. The cost does not grow with the log. */
@Injectable()
export class History {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /** The steps that led from a version to a later one, or to the newest. */
  since(manuscript: string, version: number, before = 2 ** 31 - 1): Promise<LoggedStep[]> {
    return this.database.query(
      'SELECT step, client, author, intent FROM steps WHERE manuscript_id = $1 AND version >= $2 AND version < $3 ORDER BY version',
      [manuscript, version, before],
    );
  }

  /** The newest version up to one at which a batch ends; what is between was checked by nobody and is shown to nobody. */
  async endUpTo(manuscript: string, version: number): Promise<number> {
    const [row] = await this.database.query<{ version: number }[]>(
      'SELECT version FROM steps WHERE manuscript_id = $1 AND version < $2 AND ends ORDER BY version DESC LIMIT 1',
      [manuscript, version],
    );
    return row ? row.version + 1 : 0;
  }

  /** The text as it was at a version: the newest checkpoint up to it, and the steps since. */
  async textAt(manuscriptId: string, version: number): Promise<Node> {
    const checkpoint = await this.database
      .getRepository(CheckpointRow)
      .findOneOrFail({ where: { manuscriptId, version: LessThanOrEqual(version) }, order: { version: 'DESC' } });
    const rows = await this.since(manuscriptId, checkpoint.version, version);
    return rows.reduce(
      (doc, { step }) => Step.fromJSON(schema, step).apply(doc).doc ?? doc,
      Node.fromJSON(schema, checkpoint.doc),
    );
  }

  /** The maps of steps one by one, of those that move anything. */
  #steps(manuscript: string, from: number, to: number): Promise<{ version: number; ranges: Ranges }[]> {
    return this.database.query(
      `SELECT version, ranges FROM steps
       WHERE manuscript_id = $1 AND version >= $2 AND version < $3 AND ranges <> '{}' ORDER BY version`,
      [manuscript, from, to],
    );
  }

  /** Those of some spans that have been composed already. */
  async #composed(manuscript: string, spans: readonly Span[]): Promise<Map<string, Ranges>> {
    const rows = await this.database.query<{ level: number; n: number; ranges: Ranges }[]>(
      `SELECT level, n, ranges FROM step_spans JOIN unnest($2::int[], $3::int[]) AS one (l, k) ON level = l AND n = k
       WHERE manuscript_id = $1`,
      [manuscript, spans.map(({ level }) => level), spans.map(({ n }) => n)],
    );
    return new Map(rows.map(({ level, n, ranges }) => [`${level} ${n}`, ranges]));
  }

  /** Maps that lead from a version to a later one: those of single steps at the ends, composed ones between. */
  async maps(manuscript: string, from: number, to: number): Promise<StepMap[]> {
    const plan = spansBetween(from, to);
    const known = await this.#composed(
      manuscript,
      plan.filter((span) => span.level > 0),
    );
    const found: Ranges[] = [];
    for (const { level, n, from: start, to: end } of plan) {
      const whole = level ? known.get(`${level} ${n}`) : undefined;
      if (whole) found.push(whole);
      else for (const { ranges } of await this.#steps(manuscript, start, end)) found.push(ranges);
    }
    return found.map(mapOf);
  }

  /** Places of past versions in the text at a later one, in their order. */
  async forward(manuscript: string, places: readonly Place[], version: number): Promise<Place[]> {
    const now = places.map((place) => ({ ...place }));
    const move = (place: Place, mapping: Mapping, to: number) =>
      Object.assign(
        place,
        mappedRange(place, (pos, side) => mapping.map(pos, side)),
        { version: to },
      );
    const recent = Math.max(0, version - near);
    // Those that are far behind go together from the version of one to that of the next.
    const far = now.filter((place) => place.version < recent).sort((a, b) => a.version - b.version);
    for (const [i, { version: from }] of far.entries()) {
      const to = far[i + 1]?.version ?? recent;
      if (to === from) continue;
      const mapping = new Mapping(await this.maps(manuscript, from, to));
      for (const place of far.slice(0, i + 1)) move(place, mapping, to);
    }
    const first = now.reduce((least, place) => Math.min(least, place.version), version);
    const steps = first < version ? await this.#steps(manuscript, first, version) : [];
    for (const place of now) {
      const later = steps.filter((step) => step.version >= place.version).map(({ ranges }) => mapOf(ranges));
      move(place, new Mapping(later), version);
    }
    return now;
  }
}
