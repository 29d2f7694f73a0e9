/** The pages of a manuscript. */
export type Page = 'text' | 'ledger' | 'talk' | 'drafts' | 'people';

const others: readonly string[] = ['ledger', 'talk', 'drafts', 'people'] satisfies Page[];

/** The page an address names. */
export const pageOf = (name: string | undefined): Page => (others.includes(name ?? '') ? (name as Page) : 'text');
