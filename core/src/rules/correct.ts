import { Mark } from 'prosemirror-model';
import type { Transform } from 'prosemirror-transform';
import { decideToken, type Judge } from '../changes/verdict.js';
import { keyOf, stable } from '../manuscript/canonical.js';
import { isReview, signatureOf, type ChangeId, type Signature, type Stamp } from '../manuscript/signature.js';
import type { Properties } from '../manuscript/properties.js';
import { schema, type ReviewMarkName } from '../manuscript/schema.js';
import { align, type Alignment } from '../row/align.js';
import { emit } from '../row/emit.js';
import { stated } from '../row/entries.js';
import { bring, keep, type Plan, type Target } from '../row/plan.js';
import { between, isTable, ownOpening } from '../row/beside-table.js';
import { deletionName, entryName, insertionName, markBy, type Token } from '../row/row.js';

/** One batch being brought back within the rules. All that has to be recorded for that is one change. */
class Correction {
  #signature: Signature | null = null;
  /** What letters with these marks bear when they are the author's; thousands of them share their marks. */
  readonly #letters = new Map<readonly Mark[], readonly Mark[]>();
  constructor(readonly stamp: Stamp) {}

  #isOwn = (mark: Mark) => isReview(mark) && mark.attrs.author === this.stamp.author;
  #isOthers = (mark: Mark) => isReview(mark) && mark.attrs.author !== this.stamp.author;

  #signed(): Signature {
    const { author, date, newChange } = this.stamp;
    return (this.#signature ??= { change: newChange(), author, date });
  }

  #mark(name: ReviewMarkName): Mark {
    return schema.marks[name].create(this.#signed());
  }

  /** A token's looks without what the author would change about them, as a text to compare. */
  #withoutMe({ kind }: Token, marks: readonly Mark[], attrs: Properties): string {
    const judge: Judge = (_, by) => (by === this.stamp.author ? 'reject' : undefined);
    const bearing = decideToken({ kind, node: { marks, attrs } as Token['node'] }, judge);
    return stable(bearing && [bearing.marks.map(keyOf).sort(), bearing.attrs]);
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
    const { marks } = token.node;
    let inserted = token.kind === 'letter' ? this.#letters.get(marks) : undefined;
    if (!inserted) {
      const name = insertionName(token);
      const own = marks.filter((mark) => !this.#isOthers(mark));
      inserted = token.fixed || markBy(own, name, this.stamp.author) ? own : this.#mark(name).addToSet(own);
      if (token.kind === 'letter') this.#letters.set(marks, inserted);
    }
    return keep(token, inserted);
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
    const once = stated({ marks: wanted, attrs: now.node.attrs }, entryName(was), this.stamp.author);
    if (this.#withoutMe(was, once.marks, once.attrs) === this.#withoutMe(was, before, was.node.attrs))
      return keep(now, once.marks, once.attrs);
    // Its looks are back where they were; that it should go, if the author wanted that, stays.
    const isDeletion = (mark: Mark) => this.#isOwn(mark) && mark.type.name === deletion;
    const deletions = now.node.marks.filter((mark) => isDeletion(mark) && !unfit(mark));
    const looks = Mark.setFrom([...before.filter((mark) => !isDeletion(mark)), ...deletions]);
    const { marks, attrs } = stated({ marks: looks, attrs: was.node.attrs }, entryName(was), this.stamp.author);
    return keep(now, marks, attrs);
  }

  plan({ after: region, items }: Alignment): Plan {
    const previous = new Map(region.row.map((token, i) => [token, region.row[i - 1]]));
    const targets: Target[] = [];
    /** A table that has come back; what comes goes before it, for the opening after it belongs to it. */
    let table: Target | null = null;
    const put = (target: Target) => {
      const last = targets.at(-1);
      if (isTable(last) && target.kind === 'block') targets.push(between(this.#signed()));
      else if (isTable(last) && target.kind === 'opening') target = this.#behind(last, target, targets);
      targets.push(target);
    };
    const putTable = () => {
      if (table) put(table);
      table = null;
    };
    for (const { before, after, inside } of items) {
      if (before && after) {
        putTable();
        const target = this.#kept(before, after, previous.get(after));
        put(inside ? { ...target, inside: [this.plan(inside)] } : target);
      } else if (after) put(this.#brought(after));
      else if (before) {
        putTable();
        for (const target of this.#restored(before))
          if (isTable(target)) table = target;
          else put(target);
      }
    }
    putTable();
    return { region, targets };
  }

  /**
   * The opening behind a table: it comes and goes with that only. Where it is pending otherwise, by somebody else, a
   * paragraph of its own stands between them.
   */
  #behind(table: Target, opening: Target, targets: Target[]): Target {
    const along = new Set(table.marks.map(({ attrs }) => attrs.change as ChangeId));
    const unfit = (mark: Mark) => /^opening/.test(mark.type.name) && !along.has(mark.attrs.change as ChangeId);
    if (opening.marks.some((mark) => this.#isOthers(mark) && unfit(mark))) {
      const own = markBy(table.marks, 'insertion', this.stamp.author);
      const signature = own ? signatureOf(own) : this.#signed();
      targets.push(ownOpening(opening, signature));
      return opening;
    }
    return opening.marks.some(unfit)
      ? { ...opening, marks: opening.marks.filter((mark) => !this.#isOwn(mark) || !unfit(mark)) }
      : opening;
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
