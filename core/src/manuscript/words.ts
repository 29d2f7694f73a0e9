/** How many words a text has: runs of what is not white space (as POSIX wc counts them). */
export const countWords = (text: string): number => text.match(/\S+/g)?.length ?? 0;
