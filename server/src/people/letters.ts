import { escapeHtml } from '@tea-pencil/core';
import type { Role } from '@tea-pencil/wire';
import { roleWords } from '../policy/acts.js';
import type { Letter } from '../post/letter.js';

/** Letters about accounts and invitations. None holds a secret besides its own link. */

interface Parts {
  subject: string;
  /** Sentences before the link; one that somebody else wrote is set off. */
  says: string[];
  quoted?: string;
  link: string;
  label: string;
  otherwise: string;
}

function letter({ subject, says, quoted, link, label, otherwise }: Parts): Letter {
  const paragraph = (text: string) => `<p>${escapeHtml(text)}</p>`;
  const said = quoted
    ? `<div style="margin:8px 0;padding:1px 14px;background:#f1f3f4;color:#1d1b22">${quoted.split('\n').map(paragraph).join('')}</div>`
    : '';
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(subject)}</title></head>` +
    '<body style="margin:0;padding:24px;background:#ffffff;color:#1c1f22;font:15px/1.5 sans-serif">' +
    `${says.map(paragraph).join('')}${said}<p><a href="${escapeHtml(link)}" style="color:#6b2a55">${escapeHtml(label)}</a></p>` +
    `<p style="font-size:13px;color:#5a636b">${escapeHtml(otherwise)}</p></body></html>`;
  const plain = [...says, ...(quoted ? [quoted.replace(/^/gm, '  ')] : []), link, otherwise].join('\n\n');
  return { subject, plain: `${plain}\n`, html };
}

/** The letter that asks whether an address is its reader's. */
export const confirmation = (name: string, link: string): Letter =>
  letter({
    subject: 'Is this your address?',
    says: [
      `${name} has asked that post from Tea Pencil comes to this address. If that is you, open this link within three days:`,
    ],
    link,
    label: 'This is my address',
    otherwise: 'If it is not, do nothing: nothing more will come here.',
  });

/** The letter by which a password is set anew. */
export const resetting = (name: string, link: string): Letter =>
  letter({
    subject: 'A new password',
    says: [
      `${name}, somebody has asked for a new password for your account in Tea Pencil. If that was you, open this link within an hour:`,
    ],
    link,
    label: 'Set a new password',
    otherwise: 'If it was not, do nothing: your password stays as it is.',
  });

/** To somebody who asks to come in and has an account already. */
export const knownAlready = (name: string, link: string): Letter =>
  letter({
    subject: 'You have an account already',
    says: [`${name}, somebody has asked to come into Tea Pencil with this address. You have an account with it.`],
    link,
    label: 'Sign in',
    otherwise: 'If it was not you, do nothing.',
  });

interface Invites {
  by: string | null;
  title: string | null;
  role: Role | null;
  message: string;
  link: string;
  days: number;
}

/** The letter that lets its reader in. */
export function inviting({ by, title, role, message, link, days }: Invites): Letter {
  const what = title === null ? 'into Tea Pencil' : `to “${title}”`;
  const who = by === null ? `You can come ${what} with this address.` : `${by} invites you ${what}.`;
  const may = role ? ` You may ${roleWords[role]} there.` : '';
  return letter({
    subject: by === null ? 'Come into Tea Pencil' : `${by} invites you ${what}`,
    says: [`${who}${may}`],
    ...(message && { quoted: message }),
    link,
    label: title === null ? 'Come in' : 'Open the manuscript',
    otherwise: `The link is for you alone, works once, and runs out in ${days} days. Do nothing if you do not know what this is about.`,
  });
}
