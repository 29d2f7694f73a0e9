/** Small words of English that make no compound: they only hold others together (common practice, no published source). */

const functionWords = new Set(
  (
    'a an the this that these those my your his her its our their whose which what who whom and or but nor so yet for ' +
    'of to in on at by from with without into onto upon over under above below between among through across along ' +
    'about after before behind beside near off out up down away back round as than then when while where why how if ' +
    'because since until till though although whether is are was were be been being am do does did done has have had ' +
    'will would shall should can could may might must not no any some every each all both few many much more most ' +
    'other another such only own same too very just also even still ever never always often once twice here there ' +
    'now one two three four five six seven eight nine ten he she it we they you i him them us me let like well'
  ).split(' '),
);

const particles = new Set('up out off in on over down away back by through along around about'.split(' '));

export const isFunctionWord = (word: string): boolean => functionWords.has(word.toLowerCase());

/** Words that follow a verb and belong to it, as in “look out”: beside “lookout” they are no other way to write it. */
export const isParticle = (word: string): boolean => particles.has(word);
