import { parse } from 'parse5';
import { SaxesParser } from 'saxes';
import type { FormatName } from '../formats/kinds.js';
import { outgoingDocx } from '../formats/outgoing/docx.js';
import { outgoingOdt } from '../formats/outgoing/odt.js';
import { unpack, xmlText } from '../formats/package.js';

/** What a file still tells of those who worked on it: looked for by the names of the standards, not as readers read. */

export interface Trace {
  what: 'change' | 'comment' | 'name' | 'active';
  /** The part of the file, and the element or attribute there. */
  part: string;
  where: string;
  /** What it says; nothing where it is there and says nothing. */
  says: string;
}

/** Elements that record a change (ISO/IEC 29500-1, 17.13.5; ISO/IEC 26300-1, 5.5). */
const changes =
  /^(ins|del|moveFrom|moveTo|cellIns|cellDel|cellMerge|\w+Change|\w+RangeStart|tracked-changes|changed-region|change|change-start)$/;
/** Bookmarks and comments have ranges too, which change nothing. */
const otherRanges = /^(bookmark|permStart|comment)/i;
/** Elements that are a comment, or lead to one (17.13.4; 14.1). */
const comments = /^(comment|commentReference|commentRangeStart|commentEx|annotation)$/;
/** Elements whose words are a name (15.2.12; 4.3). */
const names = /^(creator|lastModifiedBy|Manager|Company|initial-creator|printed-by)$/;
/** Attributes whose value is one. */
const nameAttributes = /^(author|initials|creator)$/;
/** In which our own files say of an element what is proposed about it. */
const ownMarks = /^(tp:|data-)marks$/;

const localName = (name: string) => name.slice(name.indexOf(':') + 1);

/** What an XML part tells. */
function inXml(part: string, xml: string): Trace[] {
  const found: Trace[] = [];
  const parser = new SaxesParser();
  let naming: Trace | null = null;
  let about = false;
  parser.on('opentag', ({ name, attributes }) => {
    const local = localName(name);
    // In a file of one piece its properties stand in it.
    about ||= name === 'office:meta';
    if (changes.test(local) && !otherRanges.test(local)) found.push({ what: 'change', part, where: name, says: '' });
    if (comments.test(local)) found.push({ what: 'comment', part, where: name, says: '' });
    // A field of the text that says who wrote it is the text's own (ISO/IEC 26300-1, 7.3.6).
    if (names.test(local) && !name.startsWith('text:'))
      found.push((naming = { what: 'name', part: about ? 'meta.xml' : part, where: name, says: '' }));
    for (const [attribute, says] of Object.entries(attributes))
      if (nameAttributes.test(localName(attribute)) && says.trim())
        found.push({ what: 'name', part, where: `${name} ${attribute}`, says });
      else if (ownMarks.test(attribute)) found.push({ what: 'change', part, where: `${name} ${attribute}`, says });
  });
  parser.on('text', (text) => void (naming && (naming.says += text)));
  parser.on('closetag', ({ name }) => {
    naming = null;
    if (name === 'office:meta') about = false;
  });
  // A part that cannot be read tells nothing that a reader of the standard would hear.
  parser.on('error', () => undefined);
  parser.write(xml).close();
  return found.filter(({ what, says }) => what !== 'name' || says.trim());
}

interface PageNode {
  nodeName: string;
  attrs?: { name: string; value: string }[];
  childNodes?: PageNode[];
}

/** What a page tells: `ins` and `del` (WHATWG HTML, 4.7), who is named in its head or beside its words. */
function inPage(html: string): Trace[] {
  const found: Trace[] = [];
  const walk = (node: PageNode) => {
    const { nodeName: where, attrs = [], childNodes = [] } = node;
    if (where === 'ins' || where === 'del') found.push({ what: 'change', part: '', where, says: '' });
    for (const { name, value } of attrs) {
      if (ownMarks.test(name)) found.push({ what: 'change', part: '', where: `${where} ${name}`, says: value });
      if (name === 'data-thread') found.push({ what: 'comment', part: '', where: `${where} ${name}`, says: value });
    }
    const said = new Map(attrs.map(({ name, value }) => [name, value]));
    const says = where === 'meta' && said.get('name') === 'author' ? said.get('content') : said.get('data-author');
    if (says) found.push({ what: 'name', part: '', where, says });
    childNodes.forEach(walk);
  };
  walk(parse(html) as unknown as PageNode);
  return found;
}

/** Parts of a package that say who made it, and nothing of the text. */
const aboutFile = /(^|\/)(core|app|custom|meta)\.xml$/;

/** What a file tells of changes, comments and people; of kinds of files that could tell nothing of it by marks of their own, nothing. */
export function tracesIn(format: FormatName, bytes: Uint8Array): Trace[] {
  if (format === 'html') return inPage(new TextDecoder().decode(bytes));
  return [...inParts(format, bytes), ...besides(format, bytes)];
}

/** What names people or runs in a file besides changes, comments and properties: data in pictures, macros and the like. */
function besides(format: FormatName, bytes: Uint8Array): Trace[] {
  const parts = format === 'docx' || format === 'odt' ? unpack(bytes) : new Map([['content.xml', bytes]]);
  if (format !== 'docx' && format !== 'odt' && format !== 'fodt') return [];
  const { left } = (format === 'docx' ? outgoingDocx : outgoingOdt)(parts, { nameless: true, inert: true });
  return left.map(({ what, where }) => ({
    what: where === 'active' ? 'active' : 'name',
    part: besidesText,
    where: what,
    says: what,
  }));
}
const besidesText = 'besides the text';

function inParts(format: FormatName, bytes: Uint8Array): Trace[] {
  if (format === 'fodt') return inXml('', xmlText(bytes));
  if (format !== 'docx' && format !== 'odt') return [];
  // What programs keep beside a text for themselves is no part of it, whatever its elements are called.
  return [...unpack(bytes)].flatMap(([part, content]) =>
    part.endsWith('.xml') && !part.startsWith('customXml/') ? inXml(part, xmlText(content)) : [],
  );
}

/** Whether a trace is a name that stands in the properties of a file, and not beside a change or a comment. */
export const isOfProperties = ({ what, part, where }: Trace): boolean =>
  what === 'name' && (aboutFile.test(part) || where === 'meta' || part === besidesText);

/** Whether a trace is something that runs or reaches outside. */
export const isActive = ({ what }: Trace): boolean => what === 'active';
