import { noDate } from '@tea-pencil/core';
import { format, formatDistanceToNow, isToday, isYesterday, differenceInDays } from 'date-fns';

/** The time of day, as the browser's locale has it. */
export const clock = (moment: Date): string =>
  moment.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });

/** A moment as one says it: "14:06", "yesterday 14:06", "Tuesday 14:06", "3 November". */
export function said(date: string): string {
  if (date === noDate) return 'no date';
  const moment = new Date(date);
  if (isToday(moment)) return clock(moment);
  if (isYesterday(moment)) return `yesterday ${clock(moment)}`;
  if (differenceInDays(new Date(), moment) < 6) return `${format(moment, 'EEEE')} ${clock(moment)}`;
  return moment.toLocaleDateString(undefined, { day: 'numeric', month: 'long', year: 'numeric' });
}

/** A moment that is still to come, until which something holds. */
export const upTo = (date: string): string =>
  new Date(date).toLocaleString(undefined, { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' });

export const exactly = (date: string): string =>
  date === noDate
    ? 'Its file says no date'
    : `${new Date(date).toLocaleString(undefined, { dateStyle: 'full', timeStyle: 'medium' })}, ${formatDistanceToNow(new Date(date), { addSuffix: true })}`;

/** A moment for files: ISO 8601 in UTC, to the second. */
export const exactTime = (date: string): string =>
  date === noDate ? '' : new Date(date).toISOString().replace(/\.\d+Z$/, 'Z');
