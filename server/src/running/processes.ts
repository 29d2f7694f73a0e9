import cluster from 'node:cluster';

/** How long a process that ended by itself stays away before it is replaced, in milliseconds. */
const pause = 300;

/**
 * Runs the server in several processes that share its port. One that dies is replaced. The first is well before the
 * others begin, so that the database is made ready once.
 */
export function runProcesses(howMany: number): void {
  let stopping = false;
  const begin = () => {
    const worker = cluster.fork();
    worker.once('exit', (code, signal) => {
      if (stopping) return;
      console.error(`A server process ended (${signal ?? code}) and is replaced.`);
      setTimeout(() => !stopping && begin(), pause);
    });
    return worker;
  };
  const stop = () => {
    stopping = true;
    const workers = Object.values(cluster.workers ?? {});
    if (!workers.length) process.exit(0);
    cluster.on('exit', () => Object.keys(cluster.workers ?? {}).length || process.exit(0));
    for (const worker of workers) worker?.process.kill('SIGTERM');
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  begin().once('message', () => {
    for (let n = 1; n < howMany; n++) begin();
  });
}

/** Tells whoever runs several processes that this one is well. */
export const sayWell = (): void => void process.send?.('well');
