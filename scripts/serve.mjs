import { spawn } from 'node:child_process';
import { connect } from 'node:net';
import path from 'node:path';
import { root } from './build.mjs';
import { secretOf, startDatabase } from './database.mjs';
import { Sentence } from './debian.mjs';

/** Whether something answers on a port of loopback. */
const isBusy = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => resolve(true) || socket.destroy());
    socket.once('error', () => resolve(false));
  });

/** A server that ends by itself more often than this within a minute is given up. */
const often = 3;

/**
 * Starts database and server and waits until the server is well. One that ends by itself later is started again.
 * @param {{ home: string, port: number, databaseUrl?: string, demo?: boolean }} options
 * @returns {Promise<{ address: string, url: string, givenUp: Promise<number>, stop: () => Promise<void> }>}
 */
export async function serve({ home, port, databaseUrl, demo = true }) {
  const address = `http://localhost:${port}`;
  if (await isBusy(port)) {
    const other = await fetch(`${address}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    throw new Sentence(
      other
        ? `Tea Pencil, or something that answers like it, is already running at ${address}.`
        : `Port ${port} is in use by another program. Choose another one: TEA_PENCIL_PORT=${port + 1} npm start`,
    );
  }
  const database = databaseUrl ? { url: databaseUrl, stop: () => undefined } : await startDatabase(home);
  const env = {
    ...process.env,
    TEA_PENCIL_PORT: String(port),
    TEA_PENCIL_DATABASE_URL: database.url,
    TEA_PENCIL_SECRET: secretOf(home, 'session-secret'),
    TEA_PENCIL_DEMO: demo ? '1' : '0',
  };
  let isWell = false;
  let stopping = false;
  let ends = [];
  let server;
  let ended;
  let giveUp;
  const givenUp = new Promise((resolve) => (giveUp = resolve));
  const begin = () => {
    server = spawn(process.execPath, [path.join(root, 'server/dist/main.js')], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env,
    });
    ended = new Promise((resolve) => server.once('exit', resolve));
    server.once('exit', (code, signal) => {
      if (stopping || !isWell) return;
      ends = [...ends.filter((at) => at > Date.now() - 60_000), Date.now()];
      if (ends.length > often) return giveUp(code ?? 1);
      console.error(`The server ended by itself (${signal ?? code}) and is started again.`);
      setTimeout(() => stopping || begin(), 500);
    });
  };
  begin();
  const stop = async () => {
    stopping = true;
    server.kill('SIGTERM');
    const late = setTimeout(() => server.kill('SIGKILL'), 13_000);
    await ended;
    clearTimeout(late);
    database.stop();
  };
  const began = Date.now();
  while (Date.now() - began < 120_000) {
    if (server.exitCode !== null) break;
    const well = await fetch(`${address}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    isWell = well;
    if (well) return { address, url: database.url, givenUp, stop };
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
  await stop();
  throw new Sentence('The server did not start; what it said stands above.');
}
