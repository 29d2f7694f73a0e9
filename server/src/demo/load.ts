import type { INestApplicationContext } from '@nestjs/common';
import { getDataSourceToken } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import type { DataSource } from 'typeorm';
import { anchors, toDate, type Person, type Thread } from '@tea-pencil/core';
import { FactRow, ManuscriptRow, MemberRow } from '../database/entities.js';
import type { Role } from '../database/roles.js';
import { ManuscriptsService } from '../documents/manuscripts.service.js';
import { PeopleService } from '../people/people.service.js';
import { manuscriptOf } from './notation.js';
import { beforeYouSetOut, foreword, forewordThreads, winterTides } from './other-texts.js';
import { wrackLine, wrackLineResolved, wrackLineThreads } from './wrack-line.js';

/** The demo: a small press prepares a walker's guide. Loaded once, into an empty database only. */

const cast = [
  { letter: 'I', name: 'Ines Vega', login: 'ines', note: 'copy editor' },
  { letter: 'T', name: 'Tobias Oyelaran', login: 'tobias', note: 'series editor' },
  { letter: 'M', name: 'Maren Holt', login: 'maren', note: 'marine biologist, scientific reviewer' },
  { letter: 'H', name: 'Harbour Office', login: 'harbour', note: 'guest' },
  { letter: 'A', name: 'Alba Renwick', login: 'alba', note: 'author' },
] as const;

/** The password of all demo people, for the ordinary form. */
const password = 'low water';

interface DemoText {
  title: string;
  note: string;
  text: string;
  threads?: Record<number, [who: string, text: string][]>;
  resolved?: number[];
  roles: Record<string, Role>;
  daysAgo: number;
  by: string;
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
    threads: forewordThreads,
    roles: { I: 'keeper', T: 'keeper', A: 'decider', H: 'proposer' },
    daysAgo: 2,
    by: 'H',
  },
  {
    title: '3 · The Wrack Line',
    note: 'second round',
    text: wrackLine,
    threads: wrackLineThreads,
    resolved: wrackLineResolved,
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
  for (const { letter, name, login, note } of cast) ids[letter] = await people.create(name, login, password, note);
  const everyone: Person[] = await people.accounts();
  for (const demo of all) await add(demo);
  await database.getRepository(FactRow).insert({ key: 'demo', value: 'loaded' });

  async function add({ title, note, text, threads = {}, resolved = [], roles, daysAgo, by }: DemoText): Promise<void> {
    const touched = new Date(Date.now() - daysAgo * 24 * 3600_000 - 9 * 60_000);
    const threadIds = Object.fromEntries(Object.keys(threads).map((number) => [number, nanoid(12)]));
    const doc = manuscriptOf(text, ids, threadIds, touched, () => nanoid(12));
    const places = anchors(doc);
    const full = Object.entries(threads).map(([number, comments]): Thread => {
      const id = threadIds[number]!;
      const { from, to } = places.get(id)![0]!;
      const at = (k: number) =>
        toDate(new Date(touched.getTime() - (12 - Number(number)) * 3_100_000 - (comments.length - k) * 900_000));
      return {
        id,
        quote: doc.textBetween(from, to),
        resolved: resolved.includes(Number(number)),
        comments: comments.map(([who, words], k) => ({ id: nanoid(12), author: ids[who]!, date: at(k), text: words })),
      };
    });
    const owner = ids[Object.keys(roles).find((letter) => roles[letter] === 'keeper')!]!;
    const id = await app
      .get(ManuscriptsService)
      .add(owner, { title, note }, { doc, people: everyone, threads: full, assets: [] });
    await database.getRepository(MemberRow).save(
      Object.entries(roles).map(([letter, role]) => ({
        manuscriptId: id,
        personId: ids[letter]!,
        role,
        hue: cast.findIndex((one) => one.letter === letter),
      })),
    );
    await database.getRepository(ManuscriptRow).update(id, { touchedAt: touched, touchedBy: ids[by]! });
  }
}
