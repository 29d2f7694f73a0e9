/** The pages of a manuscript. */
export type Page = 'text' | 'ledger' | 'talk';

/** The page an address names. */
export const pageOf = (name: string | undefined): Page => (name === 'ledger' || name === 'talk' ? name : 'text');
