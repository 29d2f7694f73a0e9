import { tag, type Element } from '../xml.js';

/** The lists that are open around a paragraph, and how they are carried with it (OpenDocument 1.3 part 3, 5.3). */

/** One of them. */
export interface Level {
  list: Element;
  /** Its place among all lists, and its style, which inner lists have from outer ones. */
  number: number;
  style: string | undefined;
  item: Element | null;
  /** Its place among the items, where more than one paragraph stands in it. */
  shared: number | null;
  header: boolean;
}
export type Chain = readonly Level[];

/** Whether a list or item says something of its own. */
export const saysMore = ({ list, item }: Level): boolean =>
  Object.keys(list.attributes).some((name) => name !== 'text:style-name') ||
  Object.keys(item?.attributes ?? {}).length > 0;

/** A list and item as it is carried with a paragraph in it. */
export function levelXml({ list, number, style, item, shared, header }: Level): string {
  if (list.name === 'text:numbered-paragraph') return tag('tp:in', { 'text:style-name': style });
  const isHeader = item?.name === 'text:list-header';
  return tag(
    'tp:in',
    { ...list.attributes, 'tp:list': number, 'tp:style': style },
    tag('tp:item', {
      ...item?.attributes,
      'tp:item': shared ?? undefined,
      'tp:header': isHeader ? 1 : undefined,
      'tp:goesOn': header && !isHeader ? 1 : undefined,
    }),
  );
}
