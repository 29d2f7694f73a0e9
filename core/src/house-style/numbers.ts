/** Numbers in words of English. */

const small =
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen'.split(
    ' ',
  );
const tens = 'twenty thirty forty fifty sixty seventy eighty ninety'.split(' ');

/** A whole number from 0 to 99 in words; null for any other. */
export function digitsToWords(n: number): string | null {
  if (!Number.isInteger(n) || n < 0 || n > 99) return null;
  if (n < 20) return small[n]!;
  const ten = tens[Math.floor(n / 10) - 2]!;
  return n % 10 ? `${ten}-${small[n % 10]}` : ten;
}
