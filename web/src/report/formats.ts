/** The writers of files are more than all the rest of the page: they are fetched when a file is asked for. */
export { formats } from '@tea-pencil/core';
