import type { HashName, Protection } from '../../manuscript/manuscript.js';
import { attribute, elements, tag, type Element } from '../xml.js';
import { head } from './blank.js';
import { namespaces } from './names.js';
import type { Opened } from './opened.js';
import { mostSpins } from './passphrase.js';
import { extended, outline } from './start-tags.js';
import type { Tally } from '../kept/tally.js';

/** What the settings of a file say about who may edit it unrecorded (ISO/IEC 29500-1, 17.15.1.29; 29500-4, 14.8.1). */

const isOn = (value: string | undefined) => value !== undefined && !/^(0|false|off)$/.test(value);

/** The hashes by the names and by the numbers that the two classes give them. */
const byNumber: Record<string, HashName> = { 4: 'SHA-1', 12: 'SHA-256', 13: 'SHA-384', 14: 'SHA-512' };
const isHash = (name: string | undefined): name is HashName => /^SHA-(1|256|384|512)$/.test(name ?? '');
const isBase64 = (text: string | undefined): text is string =>
  /^[A-Za-z0-9+/]+={0,2}$/.test(text ?? '') && text!.length % 4 === 0;

const ofRecording = (one: Element) =>
  one.name === 'w:documentProtection' &&
  attribute(one, 'w:edit') === 'trackedChanges' &&
  isOn(attribute(one, 'w:enforcement'));

const protectionIn = (file: Opened): Element | undefined =>
  [...elements(file.told(file.main, 'settings'))].find(ofRecording);

function hashOf(one: Element): Protection | 'none' | 'unknown' {
  const of = (...names: string[]) =>
    names.map((name) => attribute(one, `w:${name}`)).find((value) => value !== undefined);
  const hash = of('hashValue', 'hash');
  if (hash === undefined || hash === '') return 'none';
  const named = of('algorithmName');
  const algorithm = named === undefined ? byNumber[of('cryptAlgorithmSid') ?? ''] : named.toUpperCase();
  const salt = of('saltValue', 'salt') ?? '';
  const spins = Number(of('spinCount', 'cryptSpinCount') ?? 0);
  const isSpins = Number.isInteger(spins) && spins >= 0 && spins <= mostSpins;
  if (!isHash(algorithm) || !isBase64(hash) || (salt !== '' && !isBase64(salt)) || !isSpins) return 'unknown';
  return { algorithm, salt, hash, spins };
}

/** What keeps everyone to recorded changes in a file; a hash that cannot be checked is told, and keeps nobody out. */
export function readProtection(file: Opened, losses: Tally): Protection | 'without passphrase' | undefined {
  const one = protectionIn(file);
  if (!one) return undefined;
  const found = hashOf(one);
  if (found === 'unknown')
    losses.add('passphrase that cannot be checked: everyone in pencil, and keepers can lift it', 'file');
  return typeof found === 'string' ? 'without passphrase' : found;
}

/** What stands before it in the settings (CT_Settings, 17.15.1.78). */
const before = new Set(
  'writeProtection view zoom removePersonalInformation removeDateAndTime doNotDisplayPageBoundaries displayBackgroundShape printPostScriptOverText printFractionalCharacterWidth printFormsData embedTrueTypeFonts embedSystemFonts saveSubsetFonts saveFormsData mirrorMargins alignBordersAndEdges bordersDoNotSurroundHeader bordersDoNotSurroundFooter gutterAtTop hideSpellingErrors hideGrammaticalErrors activeWritingStyle proofState formsDesign attachedTemplate linkStyles stylePaneFormatFilter stylePaneSortMethod documentType mailMerge revisionView trackRevisions doNotTrackMoves doNotTrackFormatting'
    .split(' ')
    .map((name) => `w:${name}`),
);

const written = ({ algorithm, salt, hash, spins }: Protection) =>
  tag('w:documentProtection', {
    'w:edit': 'trackedChanges',
    'w:enforcement': 1,
    'w:algorithmName': algorithm,
    'w:hashValue': hash,
    'w:saltValue': salt,
    'w:spinCount': spins,
  });

/**
 * The settings with what keeps everyone to recorded changes, or without.
 * @returns null where they say so already
 */
export function settingsWith(file: Opened, protection: Protection | null): string | null {
  const there = protectionIn(file);
  const name = file.related(file.main, 'settings');
  // Settings that cannot be read stay as they came.
  if ((!there && !protection) || (name !== undefined && !file.told(file.main, 'settings'))) return null;
  if (there && protection) {
    const known = hashOf(there);
    if (typeof known !== 'string' && known.hash === protection.hash && known.salt === protection.salt) return null;
  }
  const source = file.text(name) ?? head + tag('w:settings', namespaces);
  const { root, children } = outline(source);
  const goes = children.filter(({ name }) => name === 'w:documentProtection');
  if (!protection) return extended(source, root, '', goes);
  const last = children.findLast(({ name }) => before.has(name));
  const behind = children.filter((one) => one.start >= (last?.end ?? root.inside) && !goes.includes(one));
  // What stands behind it is taken out, and put in again behind what comes new.
  const rest = behind.map(({ start, end }) => source.slice(start, end)).join('');
  const out = [...goes, ...behind].sort((a, b) => a.start - b.start);
  return extended(source, root, written(protection) + rest, out);
}
