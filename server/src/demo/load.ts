import type { INestApplicationContext } from '@nestjs/common';
import { getDataSourceToken } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import type { DataSource } from 'typeorm';
import { mentionsIn, type Person, type Protection, type Thread } from '@tea-pencil/core';
import { FactRow, ManuscriptRow, MemberRow, NoticeRow } from '../database/entities.js';
import type { Role } from '@tea-pencil/wire';
import { keptText } from '../database/kept-text.js';
import { HouseStyleRow, KeptWordRow, StyledRow, StyleVersionRow } from '../database/last-look-entities.js';
import { GrantRow, SealRow } from '../database/sharing-entities.js';
import { passwordHash } from '../secrets/secrets.js';
import { Workers } from '../work/workers.js';
import { Grants } from '../sharing/grants.js';
import { StepLog } from '../live/step-log.js';
import { ManuscriptsService } from '../manuscripts/manuscripts.service.js';
import { AccountsService } from '../people/accounts.service.js';
import { PeopleService } from '../people/people.service.js';
import { cast, keeperLogin } from '../people/cast.js';
import { manuscriptOf } from './notation.js';
import { beforeYouSetOut, foreword, forewordTalk, winterTides } from './other-texts.js';
import { talkOf, type TalkNotes } from './talk.js';
import { pressStyle, pressWords } from './house-style.js';
import { historyOf, type Deed, type InkNote } from './history.js';
import { wrackLine, wrackLineInk, wrackLineTalk } from './wrack-line.js';

/** The demo: a small press prepares a walker's guide. Loaded once, into an empty database only. */

/** The password of all demo people, for the ordinary form. */
const password = 'low water';

/** The passphrase of the sealed foreword. */
const passphrase = 'slack water';

interface DemoText {
  title: string;
  note: string;
  text: string;
  talk?: TalkNotes;
  roles: Record<string, Role>;
  daysAgo: number;
  by: string;
  /** Who has sealed it. */
  sealedBy?: string;
  /** What was written in ink before anyone took the pencil; of a text with a history. */
  ink?: readonly InkNote[];
}

const all: DemoText[] = [
  {
    title: '9 · Winter Tides',
    note: 'draft, not sent out',
    text: winterTides,
    roles: { A: 'keeper', I: 'decider', T: 'keeper' },
    daysAgo: 22,
    by: 'A',
  },
  {
    title: '1 · Before You Set Out',
    note: 'fair copy made',
    text: beforeYouSetOut,
    roles: { I: 'keeper', T: 'keeper', M: 'reader', A: 'decider', H: 'reader' },
    daysAgo: 11,
    by: 'I',
  },
  {
    title: 'Foreword',
    note: 'waiting for the harbour office',
    text: foreword,
    talk: forewordTalk,
    roles: { I: 'keeper', T: 'keeper', A: 'decider', H: 'proposer' },
    daysAgo: 2,
    by: 'H',
    sealedBy: 'T',
  },
  {
    title: '3 · The Wrack Line',
    note: 'second round',
    text: wrackLine,
    talk: wrackLineTalk,
    ink: wrackLineInk,
    roles: { I: 'decider', T: 'keeper', M: 'proposer', A: 'keeper', H: 'remarker' },
    daysAgo: 0,
    by: 'T',
  },
];

export async function loadDemo(app: INestApplicationContext): Promise<void> {
  const database = app.get<DataSource>(getDataSourceToken());
  const people = app.get(PeopleService);
  if ((await people.accounts()).length) return;
  const ids: Record<string, string> = {};
  for (const { letter, name, login, note } of cast)
    ids[letter] = await app.get(AccountsService).createDemo(name, login, password, note, login === keeperLogin);
  const everyone: Person[] = await people.accounts();
  for (const demo of all) await add(demo);
  await writeStyle(database, ids.I!);
  await database.getRepository(FactRow).insert({ key: 'demo', value: 'loaded' });

  async function add({ title, note, text, talk = {}, roles, daysAgo, by, sealedBy, ink }: DemoText): Promise<void> {
    const touched = new Date(Date.now() - daysAgo * 24 * 3600_000 - 9 * 60_000);
    const threadIds = Object.fromEntries(
      Object.keys({ ...talk.threads, ...talk.tints }).map((number) => [number, nanoid(12)]),
    );
    const doc = manuscriptOf(text, ids, threadIds, touched, () => nanoid(12));
    const full = talkOf(talk, doc, threadIds, (letter) => ids[letter]!, touched);
    const owner = ids[Object.keys(roles).find((letter) => roles[letter] === 'keeper')!]!;
    const history = ink && historyOf(doc, ink, ids, touched);
    const kept = { ...keptText(doc), ...(history && { json: JSON.stringify(history.first.toJSON()) }) };
    const id = await app
      .get(ManuscriptsService)
      .add(owner, { title, note }, { text: kept, people: everyone, threads: full });
    if (history) await logged(database, app.get(StepLog), id, history.deeds, ids.T!);
    await database.transaction(async (manager) => {
      await manager.delete(GrantRow, { manuscriptId: id });
      await manager.insert(
        GrantRow,
        Object.entries(roles).map(([letter, role]) => ({
          id: nanoid(12),
          manuscriptId: id,
          personId: ids[letter]!,
          role,
        })),
      );
      await app.get(Grants).settle(manager, id);
      for (const [n, { letter }] of cast.entries())
        await manager.update(MemberRow, { manuscriptId: id, personId: ids[letter]! }, { hue: n });
    });
    if (sealedBy)
      await database.getRepository(SealRow).insert({
        id: nanoid(12),
        manuscriptId: id,
        sealedBy: ids[sealedBy]!,
        sealedAt: touched,
        mayWithdraw: true,
        hash: await passwordHash(passphrase),
        standard: await app.get(Workers).keep<Protection>('protect', passphrase),
      });
    await database.getRepository(ManuscriptRow).update(id, { touchedAt: touched, touchedBy: ids[by] });
    await database.getRepository(NoticeRow).insert(
      noticesOf(
        id,
        full,
        owner,
        Object.entries(roles).map(([letter, role]) => [ids[letter]!, role] as const),
      ),
    );
  }
}

/** The style of the press and its words, kept by its copy editor; the chapters follow it. */
async function writeStyle(database: DataSource, by: string): Promise<void> {
  const id = nanoid(12);
  const { name, language, rules } = pressStyle;
  await database.getRepository(HouseStyleRow).insert({ id, name, language, madeBy: by, version: 1 });
  await database.getRepository(StyleVersionRow).insert({ styleId: id, version: 1, name, language, rules, by });
  for (const { id: manuscriptId } of await database.getRepository(ManuscriptRow).find())
    await database.getRepository(StyledRow).insert({ manuscriptId, styleId: id });
  const words = pressWords.map((word) => ({ id: nanoid(12), scope: 'house' as const, language: 'en', word, by }));
  await database.getRepository(KeptWordRow).insert(words);
}

/** Writes into the log how a text came to be, at the times at which it did, with a draft that somebody has kept. */
async function logged(database: DataSource, log: StepLog, id: string, deeds: readonly Deed[], keeper: string) {
  const batches = deeds.map(({ steps, author, intent }) => ({ steps, author, intent, client: 'demo' }));
  await log.append(id, 0, batches);
  const times = deeds.flatMap(({ steps, at }) => steps.map(() => at));
  await database.query(
    `UPDATE steps SET at = one.at FROM unnest($2::timestamptz[]) WITH ORDINALITY AS one (at, n)
     WHERE manuscript_id = $1 AND version = n - 1`,
    [id, times],
  );
  const begun = new Date(times[0]!.getTime() - 3600_000);
  await database.query(`UPDATE drafts SET at = $2 WHERE manuscript_id = $1`, [id, begun]);
  // Some of the ink comes after it.
  const round = deeds.slice(0, 3);
  const version = round.reduce((sum, { steps }) => sum + steps.length, 0);
  await database.query(
    `INSERT INTO drafts (id, manuscript_id, version, at, name, reason, kept_by) VALUES ($1, $2, $3, $4, $5, 'hand', $6)`,
    [nanoid(12), id, version, new Date(times[version - 1]!.getTime() + 600_000), 'end of round one', keeper],
  );
}

/** What the people of a text have in their post: who was asked, mentioned and answered, and who was invited. */
function noticesOf(
  manuscriptId: string,
  threads: readonly Thread[],
  owner: string,
  members: readonly (readonly [string, Role])[],
) {
  const notice = (personId: string, actor: string, kind: NoticeRow['kind'], about: Partial<NoticeRow>) => ({
    id: nanoid(12),
    manuscriptId,
    personId,
    actor,
    kind,
    ...about,
  });
  const said = threads.flatMap((thread) =>
    thread.comments.flatMap((comment, k) => {
      const kinds = new Map<string, NoticeRow['kind']>();
      for (const { author } of thread.comments.slice(0, k)) kinds.set(author, 'reply');
      for (const person of mentionsIn(comment.body)) kinds.set(person, 'mention');
      if (comment.query) kinds.set(comment.query.to, 'query');
      kinds.delete(comment.author);
      const at = new Date(comment.date);
      const answered = thread.resolved || !!comment.query?.settled;
      const about = { threadId: thread.id, commentId: comment.id, at, readAt: answered ? at : null };
      return [...kinds].map(([person, kind]) => notice(person, comment.author, kind, about));
    }),
  );
  const invited = members
    .filter(([person]) => person !== owner)
    .map(([person, role]) => {
      const at = new Date(Date.now() - 40 * 24 * 3600_000);
      return notice(person, owner, 'invitation', { at, readAt: at, goesOut: false, facts: { role } });
    });
  return [...said, ...invited];
}
