import { readFileSync, writeFileSync } from 'node:fs';

/**
 * Turns one file into another kind, in this thread or one of its own.
 * @returns what was not held, or a sentence that says why there is no file
 */
export async function convertFile({ from, to, verdict, fair = false }) {
  const core = await import('../core/dist/index.js');
  const { barePicture, beforeReading, fairReading, formats, kindOf, listChanges, NotProved, UnreadableFile } = core;
  const [source, target] = [kindOf(from), kindOf(to)];
  if (!source || !target) return { problem: `${source ? to : from} is of a kind that cannot be read or written.` };
  let bytes;
  try {
    bytes = readFileSync(from);
  } catch (problem) {
    return { problem: `${from} cannot be read (${problem.code}).` };
  }
  try {
    const { manuscript, losses, carried } = await formats[source.name].read(new Uint8Array(bytes));
    if (verdict) manuscript.doc = (verdict === 'accept' ? fairReading : beforeReading)(manuscript.doc);
    const pending = listChanges(manuscript.doc).length;
    if (pending && !target.holds.changes)
      return {
        problem: `${from} has ${pending} pending changes, and .${target.name} cannot hold them: say --accept all or --reject all.`,
      };
    const { write, leaves } = formats[target.name];
    const threads = manuscript.threads.length && !target.holds.threads;
    if (fair) {
      manuscript.threads = [];
      manuscript.assets = manuscript.assets.map((asset) => ({ ...asset, bytes: barePicture(asset.bytes) }));
    }
    const without = { clean: verdict !== undefined, nameless: fair, inert: fair };
    const written = await write(manuscript, without);
    if (fair) await core.proveFair(target.name)(manuscript, written, { inside: 0, ...without });
    writeFileSync(to, written);
    return {
      losses: [
        ...losses,
        ...(source.name === target.name ? [] : carried),
        ...(leaves?.(manuscript) ?? []),
        ...(threads ? [{ what: 'threads of comments', where: 'text', howMany: manuscript.threads.length }] : []),
      ],
    };
  } catch (problem) {
    if (problem instanceof NotProved) return { problem: `${to} was not written: read again, ${problem.message}.` };
    if (problem instanceof UnreadableFile) return { problem: `${from} ${problem.reason}.` };
    throw problem;
  }
}
