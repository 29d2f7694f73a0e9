import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { changeIds } from '@tea-pencil/core';
import { authors } from '../book.mjs';
import { root } from '../../scripts/build.mjs';
import { startDatabase } from '../../scripts/database.mjs';

const freePort = () =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

const metricsToken = 'only for the benchmark';

/** A database of our own for one run of a benchmark, and servers on it. */
export async function house(home) {
  const cluster = await startDatabase(home);
  const admin = new pg.Client({ connectionString: cluster.url });
  await admin.connect();
  await admin.query('DROP DATABASE IF EXISTS bench WITH (FORCE)');
  await admin.query('CREATE DATABASE bench');
  await admin.end();
  const url = cluster.url.replace(/postgres$/, 'bench');
  const pool = new pg.Pool({ connectionString: url, max: 4 });
  pool.on('error', () => undefined);

  const running = new Set();
  async function serve() {
    const port = await freePort();
    const child = spawn(
      process.execPath,
      [...(process.env.BENCH_SERVER_ARGS?.split(' ') ?? []), path.join(root, 'server/dist/main.js')],
      {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: {
          ...process.env,
          TEA_PENCIL_PORT: String(port),
          TEA_PENCIL_DATABASE_URL: url,
          TEA_PENCIL_SECRET: 'for the benchmark only',
          TEA_PENCIL_REQUESTS: '1000000',
          TEA_PENCIL_METRICS_TOKEN: metricsToken,
        },
      },
    );
    running.add(child);
    const address = `http://127.0.0.1:${port}`;
    const well = () =>
      fetch(`${address}/api/health`).then(
        ({ ok }) => ok,
        () => false,
      );
    while (!(await well())) await new Promise((resolve) => setTimeout(resolve, 100));
    const ended = new Promise((resolve) => child.once('exit', resolve)).then(() => running.delete(child));
    const memory = () => {
      const [, kilobytes] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'));
      return Number(kilobytes) * 1024;
    };
    /** For how long it has stood still at most since it was last asked, in milliseconds. */
    const stoodStill = async () => {
      const headers = { authorization: `Bearer ${metricsToken}` };
      const told = await (await fetch(`${address}/api/metrics`, { headers })).text();
      return Number(/^nodejs_eventloop_lag_max_seconds\S* (\S+)$/m.exec(told)[1]) * 1000;
    };
    const stop = async () => {
      child.kill('SIGTERM');
      await ended;
    };
    return { address, memory, stoodStill, stop };
  }

  /** The cookies of the demo people. */
  async function signIn(address) {
    const people = await (await fetch(`${address}/api/demo-people`)).json();
    return Promise.all(
      people.map(async ({ id }) => {
        const answer = await fetch(`${address}/api/sign-in/demo`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ person: id }),
        });
        return { id, cookie: answer.headers.get('set-cookie').split(';')[0] };
      }),
    );
  }

  /** Keeps a manuscript whose changes are these people's, of which all are keepers. */
  async function keep(id, doc, people, version = 0) {
    for (const author of authors)
      await pool.query('INSERT INTO people (id, name, initials) VALUES ($1, $1, $1) ON CONFLICT DO NOTHING', [author]);
    await pool.query('INSERT INTO manuscripts (id, title, touched_by) VALUES ($1, $1, $2)', [id, people[0].id]);
    for (const [hue, person] of people.entries()) {
      const give = 'INSERT INTO grants (id, manuscript_id, person_id, role) VALUES ($1, $2, $3, $4)';
      await pool.query(give, [`${id}-${hue}`, id, person.id, 'keeper']);
      await pool.query('INSERT INTO members VALUES ($1, $2, $3, $4)', [id, person.id, 'keeper', hue]);
    }
    const name = 'INSERT INTO named_people (manuscript_id, person_id, hue) VALUES ($1, $2, $3)';
    for (const [k, author] of authors.entries()) await pool.query(name, [id, author, k + 1]);
    const json = JSON.stringify(doc.toJSON());
    await pool.query('INSERT INTO checkpoints VALUES ($1, 0, $2)', [id, json]);
    if (version) await pool.query('INSERT INTO checkpoints VALUES ($1, $2, $3)', [id, version, json]);
    const changes = [...changeIds(doc)];
    await pool.query(
      'INSERT INTO changes (manuscript_id, change_id, author, date) SELECT $1, * FROM unnest($2::text[], $3::text[], $4::text[])',
      [id, changes.map(([one]) => one), changes.map(([, { author }]) => author), changes.map(([, { date }]) => date)],
    );
    // What the server itself would tell of the text.
    const { keptText } = await import(path.join(root, 'server/dist/database/kept-text.js'));
    const { summary, searchable } = keptText(doc);
    await pool.query('INSERT INTO summaries VALUES ($1, $2, $3)', [id, version, JSON.stringify(summary)]);
    const { keepSearchable } = await import(path.join(root, 'server/dist/database/searchable.js'));
    await keepSearchable(pool, id, searchable);
    return json.length;
  }

  /** Gives a manuscript so many steps of history: a letter put at the front and taken away again. */
  async function log(id, howMany, author) {
    const [step, back] = [
      { stepType: 'replace', from: 1, to: 1, slice: { content: [{ type: 'text', text: 'x' }] } },
      { stepType: 'replace', from: 1, to: 2 },
    ].map((one) => JSON.stringify(one));
    await pool.query(
      `INSERT INTO steps (manuscript_id, version, step, ranges, author, intent, client)
       SELECT $1, n, CASE WHEN n % 2 = 0 THEN $2::jsonb ELSE $3::jsonb END,
         CASE WHEN n % 2 = 0 THEN '{1,0,1}'::int[] ELSE '{1,1,0}'::int[] END, $4, 'ink', 'seed'
       FROM generate_series(0, $5 - 1) n`,
      [id, step, back, author, howMany],
    );
    // As they are made with every checkpoint.
    const { composeSpans } = await import(path.join(root, 'server/dist/live/checkpoint-task.js'));
    await composeSpans(pool, id, howMany);
  }

  const close = async () => {
    for (const child of running) child.kill('SIGKILL');
    await pool.end();
    cluster.stop();
  };
  return { url, pool, serve, signIn, keep, log, close };
}
