import path from 'node:path';
import { io } from 'socket.io-client';
import { build, root } from '../scripts/build.mjs';
import { book } from './book.mjs';
import { house } from './live/house.mjs';
import { percentile, typing } from './live/writers.mjs';

/** What so many people at once need of one server process: memory, connections to the database, times. */

const windowsEach = 10;
const seconds = Number(process.env.BENCH_SECONDS ?? 15);

/** A window that has a manuscript open and is read in. */
async function opened(address, { cookie }, manuscript) {
  const options = { path: '/api/live', transports: ['websocket'], forceNew: true, extraHeaders: { cookie } };
  const socket = io(address, options);
  await new Promise((resolve) => socket.once('connect', resolve));
  await socket.timeout(60_000).emitWithAck('join', { manuscript, client: `w${Math.random()}` });
  return socket;
}

export async function run() {
  build(['core', 'server']);
  const home = await house(path.join(root, '.tea-pencil-test'));
  try {
    const doc = book(8000, 500);
    console.log(
      `Manuscripts of 8,000 words and 500 changes, ${windowsEach} windows in each, one of them typing for ${seconds} s.\n`,
    );
    console.log(
      '| windows | keys a second | acknowledged, median / 95th | memory of the process | connections to the database |',
    );
    console.log('|--:|--:|---|--:|--:|');
    for (const windows of [10, 100, 500]) {
      const server = await home.serve();
      const people = await home.signIn(server.address);
      const manuscripts = Array.from({ length: windows / windowsEach }, (_, k) => `for-${windows}-${k}`);
      for (const id of manuscripts) await home.keep(id, doc, people);
      const open = [];
      for (const [k, id] of manuscripts.entries())
        for (let n = 1; n < windowsEach; n++)
          open.push(await opened(server.address, people[(k + n) % people.length], id));
      const all = await Promise.all(
        manuscripts.map((manuscript, k) =>
          typing({ address: server.address, manuscript, people: [people[k % people.length]], places: [1], seconds }),
        ),
      );
      const memory = server.memory();
      const { rows } = await home.pool.query(
        `SELECT count(*) AS n FROM pg_stat_activity WHERE datname = current_database()`,
      );
      const times = all.flatMap(({ acknowledged }) => acknowledged);
      const [half, most] = [0.5, 0.95].map((part) => percentile(times, part).toFixed(0));
      console.log(
        `| ${windows} | ${Math.round(times.length / seconds)} | ${half} / ${most} ms | ${Math.round(memory / 1024 ** 2)} MB | ${rows[0].n} |`,
      );
      for (const socket of open) socket.disconnect();
      await server.stop();
    }
  } finally {
    await home.close();
  }
}
