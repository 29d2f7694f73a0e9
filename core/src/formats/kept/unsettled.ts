/**
 * XML in which some things are not settled yet, or mean nothing by themselves: numbers of marks, of notes and of lists,
 * and what only we know. They are written between signs that no text can hold, so that two writings can be compared.
 */

/** A number that every mark has and that means nothing. */
export const anyNumber = '\u0001';
/** The number of a note where it stands itself. */
export const ownNumber = '\u000f';
/** What is left out when two writings are compared. */
export const aside = (xml: string): string => `\u0002${xml}\u0003`;
/** What counts only when two writings are compared. */
export const onlyInPrint = (text: string): string => `\u0010${text.replace(/[\u0000-\u001f]/g, ' ')}\u0011`;
/** What stands elsewhere in the file, a note for instance: by its kind, and its place among those that were written. */
export const elsewhere = (kind: string, index: number): string => `\u0004${kind}:${index}\u0005`;
/** The number of a list of ours. */
export const listNumber = (kind: 'bullet' | 'number', index: number): string => aside(`\u0006${kind}:${index}\u0007`);

/** A paragraph of a table, by its place among those that were written: it may stay as it is though its table does not. */
export const innerPlace = (index: number): string => `\u0008${index}\u000e`;

/** XML as it is compared: with what stands elsewhere, and what paragraphs in tables say, in their places. */
export const printOf = (
  xml: string,
  there: (kind: string, index: number) => string,
  inner: (index: number) => string = () => '',
): string =>
  xml.replace(
    /\u0002[^\u0003]*\u0003|\u0008(\d+)\u000e|\u0004(\w+):(\d+)\u0005/g,
    (_, place?: string, kind?: string, index?: string) =>
      place ? inner(Number(place)) : kind ? there(kind, Number(index)) : '',
  );

/** Who gives numbers to what has none yet. */
export interface Numbers {
  any(): number;
  /** What something that stands elsewhere is called. */
  elsewhere(kind: string, index: number): string;
  list(kind: 'bullet' | 'number', index: number): number;
  inner(index: number): string;
}

/** Gives everything that is not settled its number. */
export function settled(xml: string, numbers: Numbers): string {
  return xml
    .replace(/\u0008(\d+)\u000e/g, (_, index: string) => numbers.inner(Number(index)))
    .replace(/\u0010[^\u0011]*\u0011/g, '')
    .replace(
      /\u0001|[\u0002\u0003]|\u0004(\w+):(\d+)\u0005|\u0006(\w+):(\d+)\u0007/g,
      (sign, kind?: string, index?: string, listKind?: 'bullet' | 'number', list?: string) => {
        if (kind) return numbers.elsewhere(kind, Number(index));
        if (listKind) return String(numbers.list(listKind, Number(list)));
        return sign === anyNumber ? String(numbers.any()) : '';
      },
    );
}
