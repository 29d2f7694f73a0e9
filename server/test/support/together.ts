import { demoPerson, sharedServer, type Visitor } from './server';

/** People of the demo at the server that all share, for the tests of a file; they are there when the first one begins. */
export function peopleThere(logins: readonly string[]): readonly Visitor[] {
  const people: Visitor[] = [];
  let server: Awaited<ReturnType<typeof sharedServer>>;
  beforeAll(async () => {
    server = await sharedServer();
    people.push(...(await Promise.all(logins.map((login) => demoPerson(server.address, login)))));
  });
  afterAll(() => server.stop());
  return people;
}

/** A manuscript of the first person's, brought in as text, in which the others may propose. */
export async function broughtIn(people: readonly Visitor[], text: string): Promise<string> {
  const [keeper, ...others] = people as [Visitor, ...Visitor[]];
  const form = new FormData();
  form.append('file', new File([text], 'Together.txt'));
  const { id } = (await keeper.ask<{ id: string }>('POST', '/api/manuscripts/import', form)).body;
  for (const { id: person } of others)
    await keeper.ask('PUT', `/api/manuscripts/${id}/members/${person}`, { role: 'proposer' });
  return id;
}
