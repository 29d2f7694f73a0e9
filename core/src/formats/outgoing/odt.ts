import { fromByteArray, toByteArray } from 'base64-js';
import { Leaving, type Outgoing, type OutgoingParts, type Without } from './parts.js';
import { barePicture } from './pictures.js';

/** An OpenDocument text without what names people, and without what runs or reaches outside (ISO/IEC 26300-1 and -2). */

/** Parts that hold scripts and dialogs (part 2, 3.2), and small views of the first page (part 2, 3.6). */
const running = /^(Basic|Scripts|Dialogs)\//;
const thumbnail = /^Thumbnails\//;
const outside = /^\s*(https?|ftp|file|javascript|vbscript|data|\/\/)/i;

/** Elements that run: scripts and what listens for events (part 1, 3.12 and 14.4), plug-ins and applets (10.4.7, 10.4.8). */
const elementsThatRun =
  /<(office:scripts|office:event-listeners|draw:plugin|draw:applet|draw:floating-frame)\b(?:[^>]*\/>|.*?<\/\1>)/gs;
/** What fetches text from another program (14.6), or from elsewhere (5.4.2). */
const fetchesText = /<(text:dde-connection-decls|office:dde-source|text:section-source)\b(?:[^>]*\/>|.*?<\/\1>)/gs;
const pictures =
  /(<(?:draw:image|draw:object|draw:object-ole|draw:fill-image|style:background-image)\b[^>]*?)\sxlink:href="([^"]*)"/g;
const links = /(<(?:text:a|draw:a)\b[^>]*?)\sxlink:href="([^"]*)"/g;

function withoutActive(leaving: Leaving, xml: string): string {
  const still = leaving.replaced(xml, elementsThatRun, '', 'part that runs', 'active');
  const alone = leaving.replaced(still, fetchesText, '', 'text fetched from elsewhere', 'active');
  return alone
    .replace(pictures, (all, tag: string, href: string) => {
      if (!outside.test(href)) return all;
      leaving.note('picture fetched from elsewhere', 'active');
      return `${tag} xlink:href=""`;
    })
    .replace(links, (all, tag: string, href: string) => {
      if (!/^\s*(javascript|vbscript|data|macro|vnd\.[\w.]+\.script):/i.test(href)) return all;
      leaving.note('link that runs something', 'active');
      return `${tag} xlink:href="#"`;
    });
}

/** Takes out numbers of editing sessions, which programs keep in attributes of their own. */
function withoutSessions(leaving: Leaving, xml: string): string {
  const without = xml.replace(/\s[\w-]+:(?:paragraph-)?rsid="[^"]*"/g, '');
  if (without !== xml) leaving.note('numbers of editing sessions', 'names');
  return without;
}

/** @param parts of the package, or the one piece of a flat file under the name `content.xml`; they are not changed */
export function outgoingOdt(parts: OutgoingParts, { nameless = false, inert = false }: Without): Outgoing {
  const leaving = new Leaving(parts);
  const goes = [...leaving.parts.keys()].filter(
    (name) => (inert && running.test(name)) || (nameless && thumbnail.test(name)),
  );
  for (const name of goes) {
    leaving.parts.delete(name);
    if (running.test(name)) leaving.note('macro project', 'active');
    else leaving.note('small view of the first page', 'names');
  }
  if (goes.length && leaving.parts.has('META-INF/manifest.xml'))
    leaving.edit('META-INF/manifest.xml', (xml) =>
      xml.replace(/<manifest:file-entry\b[^>]*manifest:full-path="([^"]*)"[^>]*\/>/g, (entry, path: string) =>
        (inert && running.test(path)) || (nameless && thumbnail.test(path)) ? '' : entry,
      ),
    );
  if (nameless) leaving.pictures();
  const inXml = (letters: string) => {
    const bytes = toByteArray(letters.replace(/\s+/g, ''));
    const bare = barePicture(bytes);
    if (bare === bytes) return letters;
    leaving.note('data in a picture besides the picture', 'names');
    return fromByteArray(bare);
  };
  for (const name of [...leaving.parts.keys()].filter((one) => /^(content|styles|settings)\.xml$/.test(one)))
    leaving.edit(name, (xml) => {
      const still = inert ? withoutActive(leaving, xml) : xml;
      if (!nameless) return still;
      const bare = still.replace(
        /(<office:binary-data\b[^>]*>)([A-Za-z0-9+/=\s]+)(<\/office:binary-data>)/g,
        (_, open: string, letters: string, close: string) => open + inXml(letters) + close,
      );
      return withoutSessions(leaving, bare).replace(
        /<config:config-item\b[^>]*config:name="(Rsid\w*|PrinterName|PrinterSetup|CurrentDatabaseDataSource)"[^>]*>.*?<\/config:config-item>/gs,
        '',
      );
    });
  return { parts: leaving.parts, left: leaving.left() };
}
