import cluster from 'node:cluster';

/** How long a process that ended by itself stays away before it is replaced, in milliseconds. */
const pause = 300;
/** How long a process may take to end when it is told to, in milliseconds. What is acknowledged is kept already. */
const grace = 10_000;

/** Sees to it that a process that is told to end does so within the grace, whatever it waits for. */
export function endInTime(): void {
  const end = () => void setTimeout(() => process.exit(1), grace).unref();
  process.once('SIGTERM', end).once('SIGINT', end);
}

/**
 * Runs the server in several processes that share its port. One that dies is replaced. The first is well before the
 * others begin, so that the database is made ready once.
 */
export function runProcesses(howMany: number): void {
  let stopping = false;
  // Each process takes connections itself. Handed out in turn they would go to one that stands still as well, and be lost
  // with it if it dies before it has taken them.
  cluster.schedulingPolicy = cluster.SCHED_NONE;
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
    // One that is too busy to see to it itself.
    setTimeout(() => workers.forEach((worker) => worker?.process.kill('SIGKILL')), grace + 2000);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  begin().once('message', () => {
    for (let n = 1; n < howMany; n++) begin();
  });
}

/** Tells whoever runs several processes that this one is well. */
export const sayWell = (): void => void process.send?.('well');
