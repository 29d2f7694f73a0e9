import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Node } from 'prosemirror-model';
import { Mapping, Step, type StepMap, type Transform } from 'prosemirror-transform';
import { DataSource } from 'typeorm';
import { inversesOf, mapOf, mappedRange, schema, takenBack, type Place } from '@tea-pencil/core';
import type { LoggedIntent } from '@tea-pencil/wire';
import { breathing } from './breathing.js';
import { mapsBetween, rangesOfSteps } from './past-maps.js';
import type { Asking } from '../database/asking.js';
import { pastText } from './past-text.js';

/** A place is brought forward step by step over so many versions; over more by whole spans of them. */
export const near = 1000;

/** Some versions of a manuscript. */
interface Stretch {
  manuscriptId: string;
  fromVersion: number;
  toVersion: number;
}

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
  readonly #ask: Asking = (sql, values) => this.database.query(sql, values);

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

  /** The text as it was at a version. */
  textAt = (manuscript: string, version: number): Promise<Node> => pastText(this.#ask, manuscript, version);

  /** Maps that lead from a version to a later one. */
  maps = (manuscript: string, from: number, to: number): Promise<StepMap[]> =>
    mapsBetween(this.#ask, manuscript, from, to);

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
    const steps = first < version ? await rangesOfSteps(this.#ask, manuscript, first, version) : [];
    for (const place of now) {
      const later = steps.filter((step) => step.version >= place.version).map(({ ranges }) => mapOf(ranges));
      move(place, new Mapping(later), version);
    }
    return now;
  }

  /** The steps that undo those between two versions, the last first; they fit the later of the two. */
  async inverses({ manuscriptId, fromVersion, toVersion }: Stretch): Promise<Step[]> {
    const rows = await this.since(manuscriptId, fromVersion, toVersion);
    const steps = rows.map(({ step }) => Step.fromJSON(schema, step));
    return breathing(inversesOf(await this.textAt(manuscriptId, fromVersion), steps));
  }

  /**
   * The text with the steps between two versions undone; null where no manuscript would come of it.
   * @param inverses those of that stretch
   */
  async undone(
    { manuscriptId, toVersion }: Stretch,
    inverses: readonly Step[],
    { doc, version }: { doc: Node; version: number },
  ): Promise<Transform | null> {
    const later = await this.maps(manuscriptId, toVersion, version);
    const tr = await breathing(takenBack(inverses, later, doc));
    return (await breathing(isManuscript(tr.doc))) ? tr : null;
  }
}

/** Whether the schema allows a text. */
function* isManuscript(doc: Node): Generator<undefined, boolean> {
  try {
    if (!doc.type.validContent(doc.content)) return false;
    for (const block of doc.children) {
      block.check();
      yield;
    }
    return true;
  } catch {
    return false;
  }
}
