import { noDate, toDate } from '../../manuscript/signature.js';

/**
 * A moment of a file as a manuscript keeps it. One that names no zone is taken as in UTC, so that it is the same wherever it
 * is read; what is none is “no date”.
 */
export function dateOf(date: string | undefined): string {
  const zoned = date && !/(Z|[+-]\d\d:?\d\d)$/i.test(date) && date.includes('T') ? `${date}Z` : (date ?? '');
  const time = Date.parse(zoned);
  return time >= 0 && time < 253402300800000 ? toDate(new Date(time)) : noDate;
}
