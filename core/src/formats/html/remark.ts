import type { PersonId } from '../../manuscript/people.js';
import type { Remark, RemarkLine, RemarkPiece } from '../../manuscript/threads.js';

/** What a comment says as HTML (WHATWG HTML), for mail and for annotations. No script can come out of it. */

const entities: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
export const escapeHtml = (text: string): string => text.replace(/[&<>"]/g, (c) => entities[c] ?? c);

const tags = { bold: 'strong', italic: 'em' } as const;

function pieceHtml(piece: RemarkPiece, nameOf: (person: PersonId) => string, told: boolean): string {
  if (piece.type === 'mention') {
    const own = told ? ` data-mention="${escapeHtml(piece.attrs.person)}"` : '';
    return `<strong${own}>@${escapeHtml(nameOf(piece.attrs.person))}</strong>`;
  }
  return (piece.marks ?? []).reduceRight(
    (html, mark) =>
      mark.type === 'link'
        ? `<a href="${escapeHtml(mark.attrs?.href ?? '')}">${html}</a>`
        : `<${tags[mark.type]}>${html}</${tags[mark.type]}>`,
    escapeHtml(piece.text),
  );
}

/**
 * The lines of a comment as paragraphs and lists.
 * @param told whether who is mentioned is told to those who read the page again
 */
export function remarkHtml(remark: Remark, nameOf: (person: PersonId) => string, told = false): string {
  const listTag = ({ attrs: { list } }: RemarkLine) => (list === 'bullet' ? 'ul' : list === 'number' ? 'ol' : null);
  let html = '';
  let open: string | null = null;
  for (const line of remark.content) {
    const list = listTag(line);
    if (list !== open) html += (open ? `</${open}>` : '') + (list ? `<${list}>` : '');
    open = list;
    const words = (line.content ?? []).map((piece) => pieceHtml(piece, nameOf, told)).join('');
    html += list ? `<li>${words}</li>` : `<p>${words}</p>`;
  }
  return html + (open ? `</${open}>` : '');
}
