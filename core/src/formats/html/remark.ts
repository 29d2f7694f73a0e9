import type { PersonId } from '../../manuscript/people.js';
import type { Remark, RemarkLine, RemarkPiece } from '../../manuscript/threads.js';

/** What a comment says as HTML (WHATWG HTML), for mail and for annotations. No script can come out of it. */

const entities: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
export const escapeHtml = (text: string): string => text.replace(/[&<>"]/g, (c) => entities[c] ?? c);

const tags = { bold: 'strong', italic: 'em' } as const;

function pieceHtml(piece: RemarkPiece, nameOf: (person: PersonId) => string): string {
  if (piece.type === 'mention') return `<strong>@${escapeHtml(nameOf(piece.attrs.person))}</strong>`;
  return (piece.marks ?? []).reduceRight(
    (html, mark) =>
      mark.type === 'link'
        ? `<a href="${escapeHtml(mark.attrs?.href ?? '')}">${html}</a>`
        : `<${tags[mark.type]}>${html}</${tags[mark.type]}>`,
    escapeHtml(piece.text),
  );
}

/** The lines of a comment as paragraphs and lists. */
export function remarkHtml(remark: Remark, nameOf: (person: PersonId) => string): string {
  const listTag = ({ attrs: { list } }: RemarkLine) => (list === 'bullet' ? 'ul' : list === 'number' ? 'ol' : null);
  let html = '';
  let open: string | null = null;
  for (const line of remark.content) {
    const list = listTag(line);
    if (list !== open) html += (open ? `</${open}>` : '') + (list ? `<${list}>` : '');
    open = list;
    const words = (line.content ?? []).map((piece) => pieceHtml(piece, nameOf)).join('');
    html += list ? `<li>${words}</li>` : `<p>${words}</p>`;
  }
  return html + (open ? `</${open}>` : '');
}
