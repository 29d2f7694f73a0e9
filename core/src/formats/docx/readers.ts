import type { Element } from '../xml.js';

/** What reads the text, for those who read other parts of the file. */
export interface Readers {
  /** Who made what an element stands for, and when. */
  signed(element: Element): { author: string; date: string };
  /** Someone the file names, under the id it gives them. */
  person(name: string, id: string): string;
}
