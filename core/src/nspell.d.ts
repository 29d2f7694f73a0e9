declare module 'nspell' {
  /** A spell checker over a dictionary in Hunspell’s form. */
  interface Spell {
    correct(word: string): boolean;
    suggest(word: string): string[];
  }
  export default function nspell(dictionary: { aff: string; dic: string }): Spell;
}
