import { Transform, type Step } from 'prosemirror-transform';
import { schema } from '@tea-pencil/core';
import { OpenText } from '../src/live/open-text';

/** A source of numbers that is the same in every run (xorshift32). */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) % below;
  };
}

const finished = <T>(work: Generator<undefined, T>): T => {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
};

const paragraph = (text: string) => schema.node('paragraph', null, text ? [schema.text(text)] : []);

/** A batch of some steps: letters put in and taken out, paragraphs divided, joined and set anew. */
function batch(doc: Transform['doc'], below: (n: number) => number): Transform {
  const tr = new Transform(doc);
  const many = below(40) ? 1 + below(4) : 90;
  for (let n = 0; n < many; n++) {
    const block = below(tr.doc.childCount);
    const at = tr.doc.children.slice(0, block).reduce((sum, { nodeSize }) => sum + nodeSize, 0);
    const letters = tr.doc.child(block).content.size;
    const inside = at + 1 + below(letters + 1);
    const what = below(8);
    if (what === 0) tr.split(inside);
    else if (block > 0 && (what === 1 || tr.doc.childCount > 60)) tr.join(at);
    else if (what === 2 && letters > 2) tr.delete(at + 1, at + 2);
    else if (what === 3) tr.insert(at, paragraph('another'));
    else tr.insert(inside, schema.text('abc'));
  }
  return tr;
}

describe('the text of a manuscript while many write in it', () => {
  it.each([1, 2])(
    'has every batch that it remembers on the very text it was made on, though it keeps few of those (%i)',
    (seed) => {
      const below = numbers(seed);
      const text = new OpenText(
        schema.node(
          'doc',
          null,
          Array.from({ length: 30 }, () => paragraph('words')),
        ),
        0,
      );
      const all = [{ version: 0, doc: text.doc }];
      const check = (on: OpenText) => {
        let known = 0;
        for (const { version, doc } of all) {
          const letter = new Transform(doc).insert(1, schema.text('!'));
          const made = finished(on.asMade(version, letter.steps, 'me'));
          expect(made !== null).toBe(on.reaches(version, 'me'));
          if (!made) continue;
          known++;
          // It is the same text, and what was made on it leads to the same one.
          expect(made.before.eq(doc)).toBe(true);
          expect(made.doc.eq(letter.doc)).toBe(true);
        }
        return known;
      };
      for (let n = 0; n < 900; n++) {
        const tr = batch(text.doc, below);
        text.take(tr, `window ${n % 7}`);
        all.push({ version: text.version, doc: text.doc });
        // Others try theirs beside it, and nothing of that stays.
        if (n % 50 === 0) {
          const trial = text.trial();
          for (let k = 0; k < 3; k++) trial.take(batch(trial.doc, below), 'another');
        }
        if (n === 300) expect(check(text.trial())).toBe(302);
      }
      expect(check(text)).toBeGreaterThanOrEqual(400);
      expect(text.reaches(0, 'me')).toBe(false);
    },
  );

  it('carries a batch over what came since as it would if it had every text whole', () => {
    const below = numbers(4);
    const text = new OpenText(
      schema.node(
        'doc',
        null,
        Array.from({ length: 30 }, () => paragraph('words')),
      ),
      0,
    );
    for (let n = 0; n < 90; n++) text.take(batch(text.doc, below), 'other');
    const { doc, version } = text;
    const mine = new Transform(doc).insert(1, schema.text('mine')).insert(9, schema.text('also'));
    const since: Step[] = [];
    for (let n = 0; n < 200; n++) {
      const tr = batch(text.doc, below);
      since.push(...tr.steps);
      text.take(tr, 'other');
    }
    const few = finished(text.batch(version, mine.steps, 'me'));
    // A text that keeps everything: the same batches taken in as one.
    const whole = new OpenText(doc, version);
    const one = new Transform(doc);
    for (const step of since) one.step(step);
    whole.take(one, 'other');
    const all = finished(whole.batch(version, mine.steps, 'me'));
    expect(few?.doc.textContent).toContain('mine');
    expect(few!.doc.eq(all!.doc)).toBe(true);
    // Its own windows carry over themselves what they have not heard of.
    expect(finished(text.batch(version, mine.steps, 'other'))).toBeNull();
  });
});
