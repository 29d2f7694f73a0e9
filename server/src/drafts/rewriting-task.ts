import { nanoid } from 'nanoid';
import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import {
  become,
  changeIds,
  fairReading,
  overAnyLimit,
  revised,
  schema,
  withoutAnchors,
  type ChangeId,
  type Limit,
  type Stamp,
} from '@tea-pencil/core';
import { summaryOf, type Summary } from '../database/kept-text.js';
import { pastText } from '../live/past-text.js';
import { ask } from '../work/database.js';

/** Makes a whole text another one, with as few steps as can be. */

/** The text as it stands, and what it shall become. */
export interface ToRewrite {
  /** The text as JSON. */
  now: string;
  manuscript: string;
  /** The version that comes back. */
  version: number;
  /** In pencil, in whose name and when; null for ink. */
  pencil: { author: string; date: string } | null;
}

/** What leads there. */
export interface Rewritten {
  steps: object[];
  /** Changes that are new in it. */
  fresh: [ChangeId, { author: string; date: string }][];
  /** Which limit it would go over. */
  tooMuch: Limit | null;
  /** What the desk tells of the text then. */
  summary: Summary;
  /** Why it cannot be done, where it cannot. */
  impossible?: string;
}

const stampOf = (signed: { author: string; date: string }): Stamp => ({ ...signed, newChange: () => nanoid(12) });

/** The steps that lead from one text to another, and the changes that are new there. */
export function rewritten(now: Node, target: Node): Rewritten {
  const known = changeIds(now);
  const tr = become(new Transform(now), target);
  const after = changeIds(tr.doc);
  return {
    steps: tr.steps.map((step) => step.toJSON() as object),
    fresh: [...after].filter(([id]) => !known.has(id)).map(([id, { author, date }]) => [id, { author, date }]),
    tooMuch: overAnyLimit(now, tr.doc),
    summary: summaryOf(tr.doc),
  };
}

/** A draft brought back. */
export async function bringBack({ now: json, manuscript, version, pencil }: ToRewrite): Promise<Rewritten> {
  const now = Node.fromJSON(schema, JSON.parse(json));
  const then = withoutAnchors(await pastText(ask, manuscript, version));
  return rewritten(now, pencil ? revised(now, fairReading(then), stampOf(pencil)) : then);
}
