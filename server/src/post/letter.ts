import { escapeHtml, remarkHtml, remarkText, counted } from '@tea-pencil/core';
import type { Notice } from '@tea-pencil/wire';
import { roleWords } from '../policy/acts.js';

/** Notices as a mail: one for all that came together, plain and in HTML, with no picture from outside. */

export interface Letter {
  subject: string;
  plain: string;
  html: string;
}

type Names = (person: string) => string;
type Told = Omit<Notice, 'says' | 'path'>;

const quoted = (text: string, most = 120) => `“${text.length > most ? `${text.slice(0, most - 1)}…` : text}”`;

/** What happened, in one sentence. */
export function sentenceOf({ kind, actor, thread, decided, role, sealed }: Told): string {
  const at = thread?.quote ? ` on ${quoted(thread.quote, 60)}` : '';
  switch (kind) {
    case 'query':
      return `${actor.name} asks you for an answer${at}`;
    case 'mention':
      return `${actor.name} mentions you${at}`;
    case 'reply':
      return `${actor.name} answered in a thread of yours${at}`;
    case 'invitation':
      return `${actor.name} has shared this manuscript with you: you may ${roleWords[role ?? 'reader']}`;
    case 'seal':
      return sealed
        ? `${actor.name} has sealed this manuscript: everyone writes in pencil, and nothing is decided`
        : `${actor.name} has lifted the seal of this manuscript`;
    case 'decision': {
      const { accepted = 0, rejected = 0 } = decided ?? {};
      const done = [
        ...(accepted ? [`accepted ${counted(accepted, 'change')}`] : []),
        ...(rejected ? [`rejected ${counted(rejected, 'change')}`] : []),
      ];
      return `${actor.name} ${done.join(' and ')} of yours`;
    }
  }
}

/** Where a notice leads, as an address of the pages. */
export const pathOf = ({ kind, manuscript, thread }: Told): string => {
  const at = thread ? `?thread=${encodeURIComponent(thread.id)}` : kind === 'decision' ? '/ledger?state=decided' : '';
  return `/m/${manuscript.id}${at}`;
};

/**
 * @param notices not none, the newest last
 * @param home the address the pages are at
 */
export function letterOf(notices: readonly Notice[], nameOf: Names, home: string): Letter {
  const [first] = notices as [Notice, ...Notice[]];
  const titles = [...new Set(notices.map(({ manuscript }) => manuscript.title))];
  const where = titles.length === 1 ? titles[0] : `${titles.length} manuscripts`;
  const subject =
    notices.length === 1 ? `${first.manuscript.title}: ${first.says}` : `${where}: ${notices.length} things for you`;
  const link = ({ path }: Notice) => home + path;
  const said = ({ comment, decided, message }: Notice) =>
    comment
      ? remarkText(comment.body, nameOf)
      : (message ?? decided?.words.map((words) => quoted(words)).join('\n') ?? '');
  const saidHtml = (notice: Notice) =>
    notice.comment ? remarkHtml(notice.comment.body, nameOf) : escapeHtml(said(notice)).replaceAll('\n', '<br>');

  const plain = titles
    .map((title) => {
      const own = notices.filter(({ manuscript }) => manuscript.title === title);
      const lines = own.map((notice) => {
        const words = said(notice);
        return `${notice.says}.\n${words ? `${words.replace(/^/gm, '  ')}\n` : ''}${link(notice)}`;
      });
      return `${title}\n\n${lines.join('\n\n')}`;
    })
    .join('\n\n\n');

  const item = (notice: Notice) =>
    `<div style="margin:0 0 22px"><div>${escapeHtml(notice.says)}.</div>` +
    (said(notice)
      ? `<div style="margin:8px 0;padding:1px 14px;background:#f1f3f4;color:#1d1b22">${saidHtml(notice)}</div>`
      : '') +
    `<a href="${escapeHtml(link(notice))}" style="color:#6b2a55">Go to the place</a></div>`;
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(subject)}</title></head>` +
    '<body style="margin:0;padding:24px;background:#ffffff;color:#1c1f22;font:15px/1.5 sans-serif">' +
    titles
      .map(
        (title) =>
          `<h2 style="margin:0 0 14px;font:600 19px/1.3 serif">${escapeHtml(title)}</h2>` +
          notices
            .filter(({ manuscript }) => manuscript.title === title)
            .map(item)
            .join(''),
      )
      .join('') +
    `<p style="margin:26px 0 0;font-size:13px;color:#5a636b">${closing}</p></body></html>`;
  return { subject, plain: `${plain}\n\n-- \n${closing}\n`, html };
}

const closing = 'You get this from Tea Pencil. Which of it comes by mail is chosen in Post, under “What comes to me”.';
