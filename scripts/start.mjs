import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { ensurePackages, Sentence } from './debian.mjs';
import { serve } from './serve.mjs';

/** What prints pages as PDF; without it all else works, and browsers print the pages themselves. */
function ensurePress() {
  try {
    ensurePackages(['chromium-headless-shell']);
  } catch (problem) {
    if (!(problem instanceof Sentence)) throw problem;
    console.error(`${problem.message} Until then no PDF is made here; your browser can print the pages.`);
  }
}

/** `npm start`: everything from a clean clone to a running Tea Pencil. */

async function start() {
  const { TEA_PENCIL_PORT, TEA_PENCIL_HOME, TEA_PENCIL_DATABASE_URL, TEA_PENCIL_DEMO, TEA_PENCIL_PROCESSES } =
    process.env;
  const port = Number(TEA_PENCIL_PORT ?? 4870);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Sentence(`TEA_PENCIL_PORT must be a port number, not “${TEA_PENCIL_PORT}”.`);
  const processes = Number(TEA_PENCIL_PROCESSES ?? 1);
  if (!Number.isInteger(processes) || processes < 1 || processes > 64)
    throw new Sentence(`TEA_PENCIL_PROCESSES must be a number from 1 to 64, not “${TEA_PENCIL_PROCESSES}”.`);
  const home = path.resolve(TEA_PENCIL_HOME ?? path.join(root, '.tea-pencil'));
  try {
    mkdirSync(home, { recursive: true });
  } catch (problem) {
    throw new Sentence(`The folder ${home} cannot be made (${problem.code}). Set TEA_PENCIL_HOME to one that can.`);
  }
  ensureModules();
  build();
  ensurePress();

  // Whoever stops the start half-way stops all that it has begun.
  let stopping = false;
  let stop = null;
  const end = async (code) => {
    if (stopping && !stop) return; // what is being started is stopped once it is there
    stopping = true;
    const stopAll = stop;
    stop = null;
    if (!stopAll) return;
    await stopAll();
    process.exit(code);
  };
  process.on('SIGINT', () => void end(0));
  process.on('SIGTERM', () => void end(0));

  const databaseUrl = TEA_PENCIL_DATABASE_URL;
  const served = await serve({ home, port, databaseUrl, demo: TEA_PENCIL_DEMO !== '0' }).catch((problem) => {
    if (stopping) process.exit(0);
    throw problem;
  });
  const wasStopped = stopping;
  stop = served.stop;
  if (wasStopped) return end(0);
  console.log(`\nTea Pencil is at ${served.address}\nStop it with Ctrl-C.`);
  void served.givenUp.then((code) => {
    console.error('The server ended by itself again and again; what it said stands above.');
    void end(code);
  });
  const demo = await fetch(`${served.address}/api/demo-people`)
    .then((answer) => answer.json())
    .catch(() => []); // it is being stopped already
  if (demo.length) console.log('The demo people come in without a password; TEA_PENCIL_DEMO=0 keeps them out.');
}

start().catch((problem) => {
  console.error(problem instanceof Sentence ? problem.message : problem);
  process.exit(1);
});
