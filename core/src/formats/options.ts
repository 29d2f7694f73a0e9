/** How a file is to be written. */
export interface WriteOptions {
  /** A copy in which nothing is proposed any more, not even in what is carried. */
  clean?: boolean;
}
