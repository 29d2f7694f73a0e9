import { Fragment, Node } from 'prosemirror-model';
import { Step } from 'prosemirror-transform';
import { OnBlocks, schema } from '@tea-pencil/core';

/** Texts and steps from what the database holds of them, in parts: whoever has others waiting lets them go on in between. */

/** What can be read; null for what cannot, as when it was written by an older program. */
function read<T>(parse: () => T | null): T | null {
  try {
    return parse();
  } catch {
    return null;
  }
}

/** A document from its JSON, block by block; null where it is none. */
export function* readInParts(json: object): Generator<undefined, Node | null> {
  const { content } = json as { content?: unknown };
  if (!Array.isArray(content)) return null;
  const blocks: Node[] = [];
  for (const block of content as object[]) {
    const node = read(() => Node.fromJSON(schema, block));
    if (!node) return null;
    blocks.push(node);
    yield;
  }
  return read(() => Node.fromJSON(schema, { ...json, content: [] }).copy(Fragment.fromArray(blocks)));
}

/**
 * Steps from their JSON.
 * @throws RangeError where one is none
 */
export function* stepsInParts(json: readonly object[]): Generator<undefined, Step[]> {
  const steps: Step[] = [];
  for (const one of json) {
    steps.push(Step.fromJSON(schema, one));
    yield;
  }
  return steps;
}

/**
 * A document with steps of the log carried out.
 * @returns how many of them cannot be read any more, too; they are left out
 */
export function* replayed(
  doc: Node,
  rows: readonly { step: object }[],
): Generator<undefined, { doc: Node; lost: number }> {
  const on = new OnBlocks(doc);
  let lost = 0;
  for (const { step } of rows) {
    if (read(() => on.try(Step.fromJSON(schema, step)) ?? 'done') !== 'done') lost++;
    yield;
  }
  return { doc: on.now, lost };
}
