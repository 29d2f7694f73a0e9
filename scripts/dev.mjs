import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { build, ensureModules, root } from './build.mjs';
import { secretOf, startDatabase } from './database.mjs';
import { Sentence } from './debian.mjs';

/**
 * `npm run dev`: the pages with hot reload, in front of a server that is built and started again whenever its files
 * change, on the database of `npm start`.
 */

const processes = [];
const stopping = { now: false };

/** Runs a program until all is stopped. Its death is the end of all. */
function keep(name, args, env = {}) {
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
  });
  child.once('exit', (code) => {
    if (stopping.now) return;
    console.error(`${name} has ended.`);
    process.exitCode = code ?? 1;
    process.kill(process.pid, 'SIGTERM');
  });
  processes.push(child);
}

async function dev() {
  const { TEA_PENCIL_PORT, TEA_PENCIL_HOME, TEA_PENCIL_DATABASE_URL } = process.env;
  const port = Number(TEA_PENCIL_PORT ?? 4870);
  const home = path.resolve(TEA_PENCIL_HOME ?? path.join(root, '.tea-pencil'));
  mkdirSync(home, { recursive: true });
  ensureModules();
  build(['core', 'wire', 'server']);
  const database = TEA_PENCIL_DATABASE_URL
    ? { url: TEA_PENCIL_DATABASE_URL, stop: () => undefined }
    : await startDatabase(home);

  for (const part of ['core', 'wire', 'server'])
    keep(`The compiler of ${part}`, [
      'node_modules/typescript/bin/tsc',
      ...['-p', part, '--watch', '--preserveWatchOutput'],
    ]);
  // Node itself starts the server again when a file it has loaded changes.
  keep('The server', ['--watch', '--watch-preserve-output', 'server/dist/main.js'], {
    TEA_PENCIL_PORT: String(port + 1),
    TEA_PENCIL_DATABASE_URL: database.url,
    TEA_PENCIL_SECRET: secretOf(home, 'session-secret'),
  });

  const { createServer } = await import('vite');
  const pages = await createServer({
    root: path.join(root, 'web'),
    configFile: path.join(root, 'web/vite.config.ts'),
    server: {
      port,
      strictPort: true,
      // The server compares where a request comes from with whom it was meant for, so that is left as it is.
      proxy: { '/api': { target: `http://localhost:${port + 1}`, ws: true, changeOrigin: false } },
    },
  });
  const end = async () => {
    if (stopping.now) return;
    stopping.now = true;
    await pages.close();
    for (const child of processes) child.kill('SIGTERM');
    await Promise.all(
      processes.map((child) => child.exitCode ?? new Promise((resolve) => child.once('exit', resolve))),
    );
    database.stop();
    process.exit();
  };
  process.on('SIGINT', () => void end());
  process.on('SIGTERM', () => void end());
  await pages.listen();
  console.log(`\nTea Pencil, in the making, is at http://localhost:${port}\nStop it with Ctrl-C.`);
}

dev().catch((problem) => {
  console.error(problem instanceof Sentence ? problem.message : problem);
  process.exit(1);
});
