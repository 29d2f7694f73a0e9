/** The package's own declaration has a name that no compiler looks for. */
declare module 'unicode-confusables' {
  /** The text with every sign replaced by the one it may be taken for (UTS #39, confusables.txt). */
  export function rectifyConfusion(text: string): string;
}
