import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { root } from './build.mjs';

/**
 * `npm run faults -- --rounds N [--writers W]`: kills a server process and PostgreSQL N times each, in pieces, while W people
 * write, and looks after each piece whether every word that was typed is there, once and in its place.
 */

const options = Object.fromEntries(
  [
    ...process.argv
      .slice(2)
      .join(' ')
      .matchAll(/--(rounds|writers) (\d+)/g),
  ].map(([, name, n]) => [name, Number(n)]),
);
const { rounds, writers = 20 } = options;
if (!rounds || writers > 20) {
  console.error('Usage: npm run faults -- --rounds N [--writers W]   (N kills of each kind, W at most 20)');
  process.exit(1);
}
/** So many kills are one piece: then what was written is looked at, and a new text begun. */
const piece = 25;
const folder = mkdtempSync(path.join(tmpdir(), 'tea-pencil-faults-'));
let failed = 0;
for (let done = 0; done < rounds; done += piece) {
  const now = Math.min(piece, rounds - done);
  const env = { ...process.env, FAULTS_ROUNDS: String(now), FAULTS_WRITERS: String(writers) };
  const args = [path.join(root, 'scripts/test.mjs'), 'server', 'killed'];
  // Into a file: what a killed process leaves behind may hold on to a pipe.
  const log = path.join(folder, `${done}.log`);
  const out = openSync(log, 'w');
  const { status } = spawnSync(process.execPath, args, { cwd: root, env, stdio: ['ignore', out, out] });
  closeSync(out);
  const told = status === 0 ? 'nothing lost, nothing twice' : readFileSync(log, 'utf8').slice(-3000);
  if (status !== 0) failed++;
  console.log(`${done + now} of ${rounds} kills of each kind, ${writers} writing: ${told}`);
}
rmSync(folder, { recursive: true, force: true });
process.exit(failed ? 1 : 0);
