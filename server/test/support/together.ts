import type { Visitor } from './server';

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
