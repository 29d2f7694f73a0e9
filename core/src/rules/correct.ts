import { Mark } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import { decideToken, type Judge } from '../changes/verdict.js';
import type { ChangeId, PersonId, Stamp } from '../manuscript/manuscript.js';
import type { Properties } from '../manuscript/properties.js';
import { reviewMarks, schema } from '../manuscript/schema.js';
import { align, type Alignment } from '../recording/align.js';
import { emit } from '../recording/emit.js';
import { bring, keep, type Plan, type Target } from '../recording/plan.js';
import { deletionName, insertionName, markBy, type Token } from '../recording/row.js';

const isReview = (mark: Mark) => reviewMarks.has(mark.type.name);

/** One batch being brought back within the rules. All that has to be recorded for that is one change. */
class Correction {
  #seal: { change: ChangeId; author: PersonId; date: string } | null = null;
  constructor(readonly stamp: Stamp) {}

  #isOwn = (mark: Mark) => isReview(mark) && mark.attrs.author === this.stamp.author;
  #isOthers = (mark: Mark) => isReview(mark) && mark.attrs.author !== this.stamp.author;

  #mark(name: string): Mark {
    const { author, date, newChange } = this.stamp;
    return schema.marks[name]!.create((this.#seal ??= { change: newChange(), author, date }));
  }

  /** A token's looks without what the author would change about them, as a text to compare. */
  #withoutMe({ kind }: Token, marks: readonly Mark[], attrs: Properties): string {
    const judge: Judge = (_, by) => (by === this.stamp.author ? 'reject' : undefined);
    const look = decideToken({ kind, node: { marks, attrs } as Token['node'] }, judge);
    return JSON.stringify(
      look && [look.marks.map((mark) => mark.type.name + JSON.stringify(mark.attrs)).sort(), look.attrs],
    );
  }

  /** What went but was not the author's own pending words comes back, to be deleted. */
  #restored(token: Token): Target[] {
    const { node } = token;
    const { author } = this.stamp;
    if (markBy(node.marks, insertionName(token), author)) return [];
    const name = deletionName(token);
    return [bring(token, node, (markBy(node.marks, name, author) ?? this.#mark(name)).addToSet(node.marks))];
  }

  /** What came bears the author's insertion and nobody else's marks. */
  #brought(token: Token): Target {
    const name = insertionName(token);
    const marks = token.node.marks.filter((mark) => !this.#isOthers(mark));
    const inserted = token.fixed || markBy(marks, name, this.stamp.author);
    return keep(token, inserted ? marks : this.#mark(name).addToSet(marks));
  }

  /** What stayed keeps the marks of others as they are now, and the author's own where they still make sense. */
  #kept(was: Token, now: Token, previous: Token | undefined): Target {
    const insertion = insertionName(was);
    const deletion = deletionName(was);
    const before = was.node.marks;
    // An opening that has come to stand behind a table comes and goes with that only.
    const stays = (mark: Mark) => previous?.node.marks.some(({ attrs }) => attrs.change === mark.attrs.change);
    const unfit = (mark: Mark) => now.fixed && /^opening/.test(mark.type.name) && !stays(mark);
    const wanted = Mark.setFrom([
      ...before.filter((mark) => this.#isOthers(mark) || (this.#isOwn(mark) && mark.type.name === insertion)),
      ...now.node.marks.filter(
        (mark) => !isReview(mark) || (this.#isOwn(mark) && mark.type.name !== insertion && !unfit(mark)),
      ),
    ]);
    if (this.#withoutMe(was, wanted, now.node.attrs) === this.#withoutMe(was, before, was.node.attrs))
      return keep(now, wanted);
    // Its looks are back where they were; that it should go, if the author wanted that, stays.
    const isDeletion = (mark: Mark) => this.#isOwn(mark) && mark.type.name === deletion;
    const deletions = now.node.marks.filter((mark) => isDeletion(mark) && !unfit(mark));
    return keep(now, Mark.setFrom([...before.filter((mark) => !isDeletion(mark)), ...deletions]), was.node.attrs);
  }

  plan({ after: region, items }: Alignment): Plan {
    const targets = items.flatMap(({ before, after, inside }): Target[] => {
      if (!after) return this.#restored(before!);
      if (!before) return [this.#brought(after)];
      const target = this.#kept(before, after, region.row[region.row.indexOf(after) - 1]);
      return [inside ? { ...target, inside: [this.plan(inside)] } : target];
    });
    return { region, targets };
  }
}

/**
 * Brings a batch in pencil back within the rules: one that was right where it was made and, carried over what others
 * did meanwhile, is not any more (see checkBatch). What the author wrote stays theirs and recorded; what others wrote
 * and decided stays as it is.
 * @param tr the batch on top of the text as it stands; the correction is added to it
 * @param stamp of the batch's author
 * @returns the same `tr`
 */
export function correct(tr: Transform, stamp: Stamp): Transform {
  emit(tr, new Correction(stamp).plan(align(tr.before, tr.doc, tr.mapping)));
  return tr;
}
