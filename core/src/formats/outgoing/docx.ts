import { Leaving, runs, type Outgoing, type OutgoingParts, type Without } from './parts.js';

/** A DOCX without what names people, and without what runs or reaches outside (ISO/IEC 29500-1 and -2). */

/** Parts that run, or hold what runs: macro projects, controls, pages and other files taken in as they are (part 1, 11.3.1). */
const running =
  /(^|\/)(vbaProject\w*\.bin|vbaData\.xml|activeX\d*\.(xml|bin)|afchunk[^/]*|[^/]*\.(x?html?|mht|js|vbs|exe))$/i;
/** Small views of the first page (part 2, 10.2.1 and annex E). */
const thumbnail = /(^|\/)thumbnail\.\w+$/i;

const relationsOf = (name: string) => name.replace(/([^/]*)$/, '_rels/$1.rels');
const attributeIn = (tag: string, name: string) => new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`).exec(tag)?.[1];
const relationship = /<(?:\w+:)?Relationship\b[^>]*\/?>(?:<\/(?:\w+:)?Relationship>)?/g;

/** The path of a part that a relation leads to. */
function targetOf(relations: string, target: string): string {
  const folder = relations.replace(/_rels\/[^/]*$/, '');
  const path = target.startsWith('/') ? target.slice(1) : folder + target;
  const steps: string[] = [];
  for (const step of path.split('/'))
    if (step === '..') steps.pop();
    else if (step !== '.') steps.push(step);
  return steps.join('/');
}

/** Why a relation goes; null where it stays. Links that lead somewhere stay: nothing follows them by itself. */
function reasonOf(tag: string, relations: string, gone: ReadonlySet<string>): string | null {
  const target = attributeIn(tag, 'Target') ?? '';
  const type = (attributeIn(tag, 'Type') ?? '').split('/').at(-1)!;
  if (attributeIn(tag, 'TargetMode') !== 'External') return gone.has(targetOf(relations, target)) ? '' : null;
  if (type === 'hyperlink') return runs.test(target) ? 'link that runs something' : null;
  return `${type === 'attachedTemplate' ? 'template' : type === 'image' ? 'picture' : 'part'} fetched from elsewhere`;
}

/** Instructions of fields that fetch or run something when they are brought up to date (part 1, 17.16.5). */
const fetching = /^\s*(DDE|DDEAUTO|MACROBUTTON|INCLUDEPICTURE|INCLUDETEXT|INCLUDE|IMPORT|LINK)\b/i;
const ownName = /^\s*(AUTHOR|USERNAME|USERINITIALS|LASTSAVEDBY)\b/i;

/** The XML with the instructions of such fields emptied; what they show stays. */
function withoutFields(xml: string, isMeant: RegExp, note: () => void): string {
  const simple = xml.replace(/(<w:fldSimple\b[^>]*\sw:instr=")([^"]*)"/g, (all, before: string, says: string) => {
    if (!isMeant.test(says)) return all;
    note();
    return `${before} "`;
  });
  const signs =
    /<w:fldChar\b[^>]*w:fldCharType="(begin|separate|end)"[^>]*>|<w:instrText\b[^>]*>([^<]*)<\/w:instrText>/g;
  const fields: { pieces: { from: number; to: number; says: string }[] }[] = [];
  const cuts: [from: number, to: number][] = [];
  const close = (field: (typeof fields)[number] | undefined) => {
    if (!field || !isMeant.test(field.pieces.map(({ says }) => says).join(''))) return;
    note();
    for (const { from, to } of field.pieces) cuts.push([from, to]);
    field.pieces = [];
  };
  for (const found of simple.matchAll(signs)) {
    const [all, kind, says] = found;
    if (kind === 'begin') fields.push({ pieces: [] });
    else if (kind === 'separate') close(fields.at(-1));
    else if (kind === 'end') close(fields.pop());
    else fields.at(-1)?.pieces.push({ from: found.index, to: found.index + all.length, says: says! });
  }
  cuts.sort((a, b) => a[0] - b[0]);
  const starts = [0, ...cuts.map(([, to]) => to)];
  return starts.map((start, i) => simple.slice(start, cuts[i]?.[0])).join('');
}

/** Takes out parts, the relations that lead to them or outside, and what named those relations. */
function withoutActive(leaving: Leaving): void {
  const { parts } = leaving;
  const gone = new Set([...parts.keys()].filter((name) => running.test(name)));
  for (const name of gone) {
    parts.delete(name);
    parts.delete(relationsOf(name));
    leaving.note(/vba/i.test(name) ? 'macro project' : 'part that runs', 'active');
  }
  for (const name of [...parts.keys()].filter((one) => one.endsWith('.rels'))) {
    const ids: string[] = [];
    leaving.edit(name, (xml) =>
      xml.replace(relationship, (tag) => {
        const reason = reasonOf(tag, name, gone);
        if (reason === null) return tag;
        if (reason) leaving.note(reason, 'active');
        ids.push(attributeIn(tag, 'Id') ?? '');
        return '';
      }),
    );
    const source = name.replace(/_rels\/([^/]*)\.rels$/, '$1');
    if (!ids.length || !parts.has(source)) continue;
    const named = `[\\w.-]+:(?:id|link|embed|href|pict)="(?:${ids.map((id) => id.replace(/\W/g, '\\$&')).join('|')})"`;
    leaving.edit(source, (xml) =>
      xml
        .replace(
          new RegExp(`<w:(attachedTemplate|altChunk|control|subDoc)\\b[^>]*\\s${named}[^>]*(?:/>|>.*?</w:\\1>)`, 'gs'),
          // What was taken in as it is stood where a paragraph can.
          (_, kind: string) => (kind === 'altChunk' ? '<w:p/>' : ''),
        )
        .replace(new RegExp(`\\s${named}`, 'g'), ''),
    );
  }
  for (const name of [...parts.keys()].filter((one) => /^word\/.*\.xml$/.test(one)))
    leaving.edit(name, (xml) =>
      withoutFields(xml, fetching, () => leaving.note('field that fetches or runs something', 'active')),
    );
  if (gone.size && parts.has('[Content_Types].xml'))
    leaving.edit('[Content_Types].xml', (xml) =>
      xml
        .replace(/<Override\b[^>]*PartName="\/?([^"]*)"[^>]*\/>/g, (tag, part: string) => (gone.has(part) ? '' : tag))
        // With its macros it is no file of that kind any more.
        .replace(
          /application\/vnd\.[\w.-]*document\.macroEnabled\.main\+xml/g,
          'application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml',
        ),
    );
}

/** Takes out what names people besides properties and authors: numbers of editing sessions, pictures’ data, a small view. */
function withoutNames(leaving: Leaving): void {
  const { parts } = leaving;
  leaving.pictures();
  for (const name of [...parts.keys()].filter((one) => thumbnail.test(one))) {
    parts.delete(name);
    leaving.note('small view of the first page', 'names');
    for (const relations of [...parts.keys()].filter((one) => one.endsWith('.rels')))
      leaving.edit(relations, (xml) =>
        xml.replace(relationship, (tag) => (targetOf(relations, attributeIn(tag, 'Target') ?? '') === name ? '' : tag)),
      );
  }
  for (const name of [...parts.keys()].filter((one) => /^word\/.*\.xml$/.test(one)))
    leaving.edit(name, (xml) => {
      const without = xml.replace(/\sw:rsid\w*="[^"]*"/g, '').replace(/<w:rsids>.*?<\/w:rsids>/gs, '');
      if (without !== xml) leaving.note('numbers of editing sessions', 'names');
      const id = without.replace(/<w1[45]:docId\b[^>]*\/>/g, '');
      return withoutFields(id, ownName, () => leaving.note('field that names whoever opens the file', 'names'));
    });
}

/** @param parts of the package; they are not changed */
export function outgoingDocx(parts: OutgoingParts, { nameless = false, inert = false }: Without): Outgoing {
  const leaving = new Leaving(parts);
  if (inert) withoutActive(leaving);
  if (nameless) withoutNames(leaving);
  return { parts: leaving.parts, left: leaving.left() };
}
