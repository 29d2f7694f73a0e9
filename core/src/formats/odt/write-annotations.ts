import type { Comment, RemarkLine, RemarkPiece, Thread } from '../../manuscript/threads.js';
import { asides } from '../kept/asides.js';
import { commentFacts, threadFacts } from '../kept/comment-facts.js';
import { attributes, element } from '../kept/telling.js';
import { aside, elsewhere } from '../kept/unsettled.js';
import { escapeXml, tag } from '../xml.js';
import { lookAttributes, lookXml } from './looks.js';
import { Lists } from './write-lists.js';
import { styled, type Target } from './target.js';
import { Flow } from './write-words.js';

/** Comments as annotations (OpenDocument 1.3 part 3, 14.1 to 14.3), each with the words of its thread. */

/** What a comment says, as paragraphs and lists. */
function bodyXml(lines: readonly RemarkLine[], target: Target): string {
  let xml = '';
  let items = '';
  let open: 'bullet' | 'number' | null = null;
  const close = () => {
    if (open) xml += element('text:list', styled(listStyle(target, open)), items);
    items = '';
  };
  for (const { attrs, content = [] } of lines) {
    if (attrs.list !== open) close();
    open = attrs.list;
    const flow = new Flow();
    for (const piece of content) pieceXml(piece, target, flow);
    const paragraph = tag('text:p', {}, flow.xml);
    if (open) items += tag('text:list-item', {}, paragraph);
    else xml += paragraph;
  }
  close();
  return xml;
}

const listStyle = (target: Target, kind: 'bullet' | 'number') => Lists.ownStyle(target, kind);

function pieceXml(piece: RemarkPiece, target: Target, flow: Flow): void {
  if (piece.type === 'mention') {
    const { person } = piece.attrs;
    const name = escapeXml(`@${target.nameOf(person)}`);
    return flow.thing(element('text:span', aside(attributes({ 'tp:mention': person })), name));
  }
  const marks = piece.marks ?? [];
  const has = (name: string) => marks.some(({ type }) => type === name);
  const look = { ...(has('bold') && { bold: true }), ...(has('italic') && { italic: true }) };
  const href = marks.find(({ type }) => type === 'link')?.attrs?.href;
  const style = Object.keys(look).length
    ? tag('style:style', { 'style:family': 'text' }, lookXml(lookAttributes(look)))
    : null;
  const name = style === null ? null : (target.definitions.known(style) ?? target.style('text', style));
  if (href !== undefined) flow.put(`<text:a xlink:type="simple" xlink:href="${escapeXml(href)}">`);
  if (name !== null) flow.put(`<text:span${styled(name)}>`);
  flow.words(piece.text);
  if (name !== null) flow.put('</text:span>');
  if (href !== undefined) flow.put('</text:a>');
}

/**
 * One comment of a thread.
 * @param nth which of those that go into the file; a highlight that says nothing is the first
 * @param hasEnd whether it is about words
 */
export function annotationXml(
  target: Target,
  thread: Thread,
  nth: number,
  hasEnd: boolean,
  number: number,
): { begin: string; end: string } {
  const bare = !!thread.tint;
  const comment: Comment | null = bare ? (nth ? thread.comments[nth - 1]! : null) : thread.comments[nth]!;
  const { author, date } = comment ?? thread;
  const { nameOf } = target;
  const own = comment && !comment.deleted ? bodyXml(comment.body.content, target) : '';
  const beside = comment ? asides(comment, nameOf) : ['(Highlighted.)'];
  const notes = beside.map((text) => {
    const flow = new Flow();
    flow.words(text);
    return element('text:p', ' tp:aside="1"', flow.xml);
  });
  const ids = {
    'tp:person': target.personName(author),
    'tp:comment': comment?.id,
    'tp:thread': thread.id,
    'tp:change': thread.change === undefined ? undefined : target.changeName(thread.change),
    'tp:threadFacts': nth === 0 ? threadFacts(thread, !comment, nameOf) : undefined,
    'tp:resolved': nth === 0 && thread.resolved ? 'true' : undefined,
  };
  const facts = attributes({ 'tp:facts': comment ? commentFacts(comment, nameOf) : undefined });
  const name = hasEnd ? ` office:name="${elsewhere('annotation', number)}"` : '';
  const initials = tag('meta:creator-initials', {}, escapeXml(target.initialsOf(author)));
  const begin = element(
    'office:annotation',
    name + aside(attributes(ids)) + facts,
    target.by({ author, date }) + aside(initials) + own + notes.join(''),
  );
  return { begin, end: hasEnd ? `<office:annotation-end${name}/>` : '' };
}
