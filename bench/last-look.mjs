import { readFileSync } from 'node:fs';
import { EditorState } from 'prosemirror-state';
import { LastLook, passagesOf, schema, spellerOf } from '@tea-pencil/core';
import { timed } from './live/timed.mjs';

const file = (ending) =>
  readFileSync(new URL(`../node_modules/dictionary-en-gb/index.${ending}`, import.meta.url), 'utf8');

/** Words as English has them: those of the dictionary, with what small words stand between. */
const vocabulary = file('dic')
  .split('\n')
  .map((line) => line.replace(/[/\s].*$/, ''))
  .filter((word, i) => i % 8 === 0 && /^[a-z]{3,12}$/.test(word));
const small = 'the of and a in to it was that on with as is by'.split(' ');

/** A text of so many words in paragraphs of 80, with a slip in every fifth. */
function text(words) {
  let n = 0;
  const paragraphs = Array.from({ length: Math.round(words / 80) }, (_, p) => {
    const sentence = Array.from({ length: 80 }, (_, w) => {
      n++;
      if (w % 2) return small[(n * 7) % small.length];
      const word = vocabulary[(n * 7919) % vocabulary.length];
      return w % 20 === 0 ? `${word[0].toUpperCase()}${word.slice(1)}` : w % 20 === 18 ? `${word}.` : word;
    });
    if (p % 5 === 0) sentence[33] = `${sentence[33]} ${sentence[33]}`;
    if (p % 5 === 1) sentence[34] = `${sentence[34]}qz`;
    if (p % 5 === 2) sentence[36] = 'wrack-line';
    if (p % 5 === 3) sentence[36] = 'wrack line';
    return schema.nodes.paragraph.create(null, schema.text(`${sentence.join(' ')}.`));
  });
  return schema.nodes.doc.create(null, paragraphs);
}

const blocksOf = (doc) => doc.children.map((block) => passagesOf(block));

/** What the last look costs, against parting the same words by the engine’s own `Intl.Segmenter` in the same run. */
export async function run() {
  const speller = spellerOf('en-gb', file('aff'), file('dic'));
  const segmenter = new Intl.Segmenter('en', { granularity: 'word' });
  const looking = { language: 'en-GB', spellers: { 'en-gb': speller }, ruling: null };
  console.log('| words | findings | all of it | ratio | after a letter | of all of it |\n|--:|--:|--:|--:|--:|--:|');
  for (const words of [10_000, 80_000, 200_000]) {
    // A fresh text each time: what is known of a block is kept with it.
    const anew = () => schema.nodeFromJSON(text(words).toJSON());
    const segment = await timed(() => {
      let n = 0;
      anew().forEach((block) => {
        for (const { isWordLike } of segmenter.segment(block.textContent)) if (isWordLike) n++;
      });
      return n;
    }, 3);
    const making = await timed(anew, 3);
    let look;
    let doc;
    let found = 0;
    const all = await timed(() => {
      doc = anew();
      look = new LastLook(looking);
      found = look.look(blocksOf(doc)).found.flat().length;
    }, 3);
    const state = EditorState.create({ doc });
    let now = state;
    const letter = await timed(() => {
      now = now.apply(now.tr.insertText('x', Math.round(now.doc.content.size / 2)));
      look.look(blocksOf(now.doc));
    }, 61);
    const whole = all - making;
    console.log(
      `| ${words.toLocaleString('en')} | ${found} | ${whole.toFixed(0)} ms | ${(whole / (segment - making)).toFixed(1)} | ${letter.toFixed(1)} ms | ${(letter / whole).toFixed(4)} |`,
    );
  }
}
