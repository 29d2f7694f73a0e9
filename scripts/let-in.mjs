import { createHash, randomBytes } from 'node:crypto';
import { commandLine, connected, databaseOf } from './copies.mjs';
import { Sentence } from './debian.mjs';

/**
 * `npm run let-in -- ADDRESS`: a link by which somebody sets a new password, for whoever runs the house and is at its
 * machine: where no mail is sent, or the only keeper of the house has forgotten theirs.
 */

await commandLine(async ([who, ...more]) => {
  if (!who || more.length) throw new Sentence('Usage: npm run let-in -- ADDRESS   (by which they sign in)');
  const database = await databaseOf({ make: false });
  const client = await connected(database.url);
  try {
    const { rows } = await client.query(
      `SELECT id, name FROM people WHERE (login = $1 OR lower(mail) = $1) AND standing = 'account' AND locked_at IS NULL`,
      [who.trim().toLowerCase()],
    );
    if (!rows.length) throw new Sentence(`Nobody in this house signs in as ${who}, or their account is locked.`);
    // As `server/src/secrets/secrets.ts` makes them: an id, and 256 random bits of which a hash is kept.
    const id = randomBytes(9).toString('base64url');
    const secret = randomBytes(32).toString('base64url');
    const hash = createHash('sha256').update(secret).digest();
    await client.query(
      `INSERT INTO resets (id, person_id, token_hash, ends_at) VALUES ($1, $2, $3, now() + interval '1 hour')`,
      [id, rows[0].id, hash],
    );
    const home = process.env.TEA_PENCIL_URL ?? `http://localhost:${process.env.TEA_PENCIL_PORT ?? 4870}`;
    console.log(`${rows[0].name} sets a new password, within an hour, at\n${home}/password/${id}.${secret}`);
  } finally {
    await client.end();
    database.leave();
  }
});
