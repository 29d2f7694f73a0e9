import { startDatabase } from '../../../scripts/database.mjs';

/** A cluster of its own for a test that kills it: says its address and watches over it until told to stop. */
const { url, stop } = await startDatabase(process.argv[2]);
process.stdout.write(`${url}\n`);
const awake = setInterval(() => undefined, 1000); // the watch alone keeps no process alive
process.on('SIGTERM', () => {
  clearInterval(awake);
  stop();
  process.exit(0);
});
