import { typing } from './writers.mjs';

/**
 * One who types in a process of their own, as people do who have a machine each: what the others' windows cost is not felt
 * by them. Told what, they open it and say so; told again, they begin; and the third time they end.
 */
const told = () => new Promise((resolve) => process.once('message', resolve));

process.once('message', async (what) => {
  let end;
  const ready = async () => {
    const begin = told();
    process.send('ready');
    await begin;
    end = told();
  };
  process.send(await typing({ ...what, ready, until: () => end }));
  process.disconnect();
});
