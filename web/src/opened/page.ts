/** The pages of a manuscript. */
export type Page =
  'text' | 'ledger' | 'talk' | 'drafts' | 'last-look' | 'fair-copy' | 'report' | 'print' | 'figures' | 'people';

const others: readonly string[] = [
  'ledger',
  'talk',
  'drafts',
  'last-look',
  'fair-copy',
  'report',
  'print',
  'figures',
  'people',
] satisfies Page[];

/** The page one came from to a page that has no link of its own in the bar. */
export const pageAbove = (page: Page): Page =>
  page === 'fair-copy' || page === 'report' || page === 'print' ? 'last-look' : page === 'figures' ? 'ledger' : page;

/** The page an address names. */
export const pageOf = (name: string | undefined): Page => (others.includes(name ?? '') ? (name as Page) : 'text');
