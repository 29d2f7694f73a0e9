/** Asks a database, by whatever means one has at hand. */
export type Asking = <Row>(sql: string, values: unknown[]) => Promise<Row[]>;
