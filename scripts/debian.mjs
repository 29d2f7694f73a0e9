import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';

/** What the project needs from Debian, and how to see that it is there. */

/** A problem with a sentence for the person at the keyboard, not a stack. */
export class Sentence extends Error {}

export const isRoot = process.getuid?.() === 0;

/** The folder of PostgreSQL's own programs, the newest version; null when the server is not installed. */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .map(Number)
    .filter((v) => existsSync(`${base}/${v}/bin/initdb`))
    .sort((a, b) => b - a);
  return versions.length ? `${base}/${versions[0]}/bin` : null;
}

/** The schema of OpenDocument 1.3 that `emacs-common` ships; null when it is not installed. */
function schemaOfOpenDocument() {
  const base = '/usr/share/emacs';
  if (!existsSync(base)) return null;
  const files = readdirSync(base).map((folder) => `${base}/${folder}/etc/schema/OpenDocument-schema-v1.3.rnc`);
  return files.find((file) => existsSync(file)) ?? null;
}

const has = (program) => spawnSync('which', [program], { stdio: 'ignore' }).status === 0;

/** Debian's Chromium without windows: the same engine, without a frame that would have to be drawn for every page. */
export const chromium = '/usr/bin/chromium-headless-shell';

const packages = {
  postgresql: () => postgresBin() !== null,
  'chromium-headless-shell': () => existsSync(chromium),
  pandoc: () => has('pandoc'),
  'python3-docx': () => existsSync('/usr/lib/python3/dist-packages/docx'),
  'python3-odf': () => existsSync('/usr/lib/python3/dist-packages/odf'),
  // For the schema of OpenDocument that it ships; packages that only bring a file for it make its folder too.
  'emacs-common': () => schemaOfOpenDocument() !== null,
  jing: () => has('jing'),
  'poppler-utils': () => has('pdftotext'),
  codespell: () => existsSync('/usr/lib/python3/dist-packages/codespell_lib/data/dictionary.txt'),
  hunspell: () => has('hunspell'),
  'unicode-data': () => existsSync('/usr/share/unicode/auxiliary/GraphemeBreakTest.txt'),
};

/**
 * Installs those of the packages that are missing, as root; anyone else is told which.
 * @param {(keyof typeof packages)[]} names
 */
export function ensurePackages(names) {
  const missing = names.filter((name) => !packages[name]());
  if (!missing.length) return;
  if (!isRoot) {
    throw new Sentence(
      `These Debian packages are missing: ${missing.join(', ')}. Install them (apt-get install ${missing.join(' ')}) and start again.`,
    );
  }
  console.log(`Installing from Debian: ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const quiet = { env, stdio: ['ignore', 'ignore', 'pipe'] };
  try {
    execFileSync('apt-get', ['update', '-qq'], quiet);
    execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], quiet);
  } catch (problem) {
    throw new Sentence(
      `Debian’s packages could not be installed: ${String(problem.stderr ?? problem.message)
        .trim()
        .split('\n')
        .pop()}`,
    );
  }
  const still = names.filter((name) => !packages[name]());
  if (still.length)
    throw new Sentence(`Debian installed ${still.join(', ')}, but they are not where they were expected.`);
}
