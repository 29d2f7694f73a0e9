import { FairTurns } from './turns.js';
import { pictureFile, type PictureFile } from '../images/picture-file.js';

/**
 * The library reads pictures in threads of its own that are as urgent as whoever answers everyone: one picture at a time,
 * of each person in turn.
 */
const turns = new FairTurns();

/** A picture that somebody has sent, read in turn. @returns as `pictureFile` */
export const readInTurn = (person: string, bytes: Buffer): Promise<PictureFile | string> =>
  turns.of(person, () => pictureFile(bytes));
