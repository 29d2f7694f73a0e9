/** Who asks for something: a person, or an address where nobody is signed in. */
export type Asker = { person: string } | { address: string };
