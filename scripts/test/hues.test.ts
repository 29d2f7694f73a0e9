import { execFileSync } from 'node:child_process';
import path from 'node:path';

const root = path.join(__dirname, '../..');

// In a process of its own: the search takes some seconds there, and minutes within a test.
test('the author hues that are kept are those that the search finds', () => {
  const said = execFileSync(process.execPath, ['scripts/hues.mjs', '--check'], { cwd: root, encoding: 'utf8' });
  expect(said).toContain('core/src/hues/table.ts is what the search finds.');
});
