import { schema } from '@tea-pencil/core';

const words =
  'the tide comes in behind you and the line of dry weed is written there twice a day then rubbed out again'.split(' ');
export const authors = ['ann', 'ben', 'cyd', 'dan', 'eve', 'fay'];

/** A book: paragraphs of 80 words, and changes by six people spread evenly over them. */
export function book(howManyWords, howManyChanges) {
  const paragraphs = [];
  const count = Math.round(howManyWords / 80);
  let made = 0;
  for (let p = 0; p < count; p++) {
    const nodes = [];
    const share = Math.floor(((p + 1) * howManyChanges) / count) - made;
    const every = Math.floor(80 / (share + 1)) || 1;
    let here = 0;
    for (let w = 0; w < 80; w++) {
      const text = words[(w * 7 + p) % words.length] + ' ';
      if (w % every === every - 1 && here < share) {
        const change = { change: `c${made++}`, author: authors[made % 6], date: '2026-11-01T09:00:00Z' };
        nodes.push(
          schema.text(text, [schema.marks.deletion.create(change)]),
          schema.text('new ', [schema.marks.insertion.create(change)]),
        );
        here++;
      } else nodes.push(schema.text(text));
    }
    paragraphs.push(schema.nodes.paragraph.create(null, nodes));
  }
  return schema.nodes.doc.create(null, paragraphs);
}
