import { Client } from 'pg';
import { listChanges, plainText, schema } from '@tea-pencil/core';
import { Editor } from './support/editor';
import { demoPerson, startServer } from './support/server';

/** What happens to a manuscript that has come to harm in the database: it is read as well as can be, and that is said. */

async function database<T>(work: (client: Client) => Promise<T>): Promise<T> {
  const client = new Client({ connectionString: process.env.TEA_PENCIL_TEST_DATABASE });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

type Info = { mends: { what: string; howMany: number }[] };

/** A new manuscript with one edit, harmed while no server runs, and opened again. */
async function harmed(harm: (client: Client, id: string) => Promise<unknown>) {
  const first = await startServer();
  const ines = await demoPerson(first.address, 'ines');
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'Harmed' })).body;
  const writer = await new Editor(ines, id).open();
  await writer.type('The tide comes in.');
  writer.close();
  await first.stop();
  await database((client) => harm(client, id));
  const second = await startServer();
  try {
    const again = await demoPerson(second.address, 'ines');
    const reader = await new Editor(again, id).open();
    const { doc } = reader.state;
    const { body } = await again.ask<Info>('GET', `/api/manuscripts/${id}`);
    const typed = await reader.type(' Slowly.');
    reader.close();
    const rows = await database((client) =>
      client.query('SELECT version, author, intent FROM steps WHERE manuscript_id = $1 ORDER BY version', [id]),
    );
    return { doc, losses: body.mends.map(({ what }) => what), typed, steps: rows.rows as { intent: string }[], ines };
  } finally {
    await second.stop();
  }
}

const replaceIn =
  (table: 'steps' | 'checkpoints', column: string, from: string, to: string) => (client: Client, id: string) =>
    client.query(`UPDATE ${table} SET ${column} = replace(${column}::text, $2, $3)::jsonb WHERE manuscript_id = $1`, [
      id,
      from,
      to,
    ]);

test('a sound manuscript is opened as it is', async () => {
  const { doc, losses, steps } = await harmed(() => Promise.resolve());
  expect(plainText(doc)).toBe('The tide comes in.');
  expect(losses).toEqual([]);
  expect(steps.map(({ intent }) => intent)).toEqual(['pencil', 'pencil']);
});

test('a checkpoint that breaks the schema is read as well as can be, mended once, and said', async () => {
  const { doc, losses, typed, steps } = await harmed(
    replaceIn('checkpoints', 'doc', '"style": "body"', '"style": "poem"'),
  );
  doc.check();
  expect(plainText(doc)).toBe('The tide comes in.');
  expect(typed).toMatchObject({ taken: true });
  expect(losses).toEqual(['a value of style that there is none, taken as not said']);
  expect(steps.map(({ intent }) => intent)).toEqual(['pencil', 'mend', 'pencil']);
});

test('an edit of the log that cannot be read is left out, and said', async () => {
  const { doc, losses } = await harmed(replaceIn('steps', 'step', '"stepType": "replace"', '"stepType": "unknown"'));
  expect(plainText(doc)).toBe('');
  expect(losses).toEqual(['an edit that cannot be read any more, left out']);
});

test('a change dated in the future is dated now', async () => {
  const { doc, losses } = await harmed((client, id) =>
    client.query(
      `UPDATE steps SET step = regexp_replace(step::text, '"date": "[^"]*"', '"date": "2031-01-01T00:00:00Z"')::jsonb
       WHERE manuscript_id = $1`,
      [id],
    ),
  );
  const [change] = listChanges(doc);
  expect(Date.parse(change!.date)).toBeLessThan(Date.now() + 5 * 60_000);
  expect(losses).toEqual(['a change dated in the future, dated now']);
});

test('the schema of this server is the one that harm is measured against', () => {
  expect(() => schema.nodes.paragraph!.create({ style: 'poem' })).toThrow(RangeError);
});
