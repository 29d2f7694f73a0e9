import { readFileSync, writeFileSync } from 'node:fs';

/**
 * Turns one file into another kind, in this thread or one of its own.
 * @returns what was not held, or a sentence that says why there is no file
 */
export async function convertFile({ from, to, verdict }) {
  const { beforeReading, fairReading, formats, kindOf, listChanges, UnreadableFile } =
    await import('../core/dist/index.js');
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
    writeFileSync(to, await write(manuscript, { clean: verdict !== undefined }));
    const threads = manuscript.threads.length && !target.holds.threads;
    return {
      losses: [
        ...losses,
        ...(source.name === target.name ? [] : carried),
        ...(leaves?.(manuscript) ?? []),
        ...(threads ? [{ what: 'threads of comments', where: 'text', howMany: manuscript.threads.length }] : []),
      ],
    };
  } catch (problem) {
    if (problem instanceof UnreadableFile) return { problem: `${from} ${problem.reason}.` };
    throw problem;
  }
}
