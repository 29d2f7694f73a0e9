/** The pages of a manuscript. */
export type Page = 'text' | 'ledger' | 'talk' | 'drafts' | 'last-look' | 'people';

const others: readonly string[] = ['ledger', 'talk', 'drafts', 'last-look', 'people'] satisfies Page[];

/** The page an address names. */
export const pageOf = (name: string | undefined): Page => (others.includes(name ?? '') ? (name as Page) : 'text');
