import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import { DataSource, In } from 'typeorm';
import { changeIds, listChanges, schema, type Loss, type Manuscript, type Person } from '@tea-pencil/core';
import { Authority } from '../collaboration/authority.js';
import { StepLog } from '../collaboration/step-log.js';
import { ManuscriptRow, MemberRow, NamedPersonRow, PersonRow } from '../database/entities.js';
import type { Role } from '../database/roles.js';
import { PeopleService } from '../people/people.service.js';
import { keepThreads } from '../threads/read-threads.js';
import { ThreadsService } from '../threads/threads.service.js';
import { withIds } from './ids.js';

/** A line of the desk. */
export interface DeskEntry {
  id: string;
  title: string;
  note: string;
  role: Role;
  pending: number;
  openThreads: number;
  /** How many answers each person owes. */
  owed: { person: string; name: string; answers: number }[];
  /** Where the pending changes are, from 0 (start) to 1 (end of the text), and the hue of who made them. */
  spine: { at: number; hue: number }[];
  touchedAt: Date;
  touchedBy: string;
  touchedByName: string;
}

export interface NewManuscript {
  title: string;
  note?: string;
  losses?: Loss[];
}

@Injectable()
export class ManuscriptsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly log: StepLog,
    private readonly people: PeopleService,
    private readonly threads: ThreadsService,
  ) {}

  /** The manuscripts of a person, the last touched first. */
  async desk(personId: string): Promise<DeskEntry[]> {
    const memberships = await this.database.getRepository(MemberRow).findBy({ personId });
    const ids = memberships.map(({ manuscriptId }) => manuscriptId);
    const rows = await this.database
      .getRepository(ManuscriptRow)
      .find({ where: { id: In(ids) }, order: { touchedAt: 'DESC' } });
    return Promise.all(
      rows.map(async ({ id, title, note, touchedAt, touchedBy }) => {
        const text = await this.authority.text(id);
        const changes = text ? listChanges(text.doc) : [];
        const size = text?.doc.content.size ?? 1;
        const { openThreads, owed } = await this.#talk(id, personId);
        const { role } = memberships.find(({ manuscriptId }) => manuscriptId === id)!;
        const colleagues = new Map((await this.people.ofManuscript(id)).map((person) => [person.id, person]));
        const spine = changes.map(({ ranges, author }) => ({
          at: ranges[0]!.from / size,
          hue: colleagues.get(author)?.hue ?? 0,
        }));
        const touchedByName = colleagues.get(touchedBy)?.name ?? '';
        return {
          id,
          title,
          note,
          role,
          pending: changes.length,
          openThreads,
          owed: owed.map((one) => ({ ...one, name: colleagues.get(one.person)?.name ?? '' })),
          spine,
          touchedAt,
          touchedBy,
          touchedByName,
        };
      }),
    );
  }

  /** The open threads a person sees, and who owes answers in them. */
  async #talk(manuscriptId: string, personId: string) {
    const open = `threads.manuscript_id = $1 AND NOT threads.resolved AND (NOT to_self OR threads.author = $2)`;
    const [count] = await this.database.query<{ n: number }[]>(
      `SELECT count(*)::int AS n FROM threads WHERE ${open} AND
       EXISTS (SELECT 1 FROM comments WHERE thread_id = threads.id AND deleted_at IS NULL)`,
      [manuscriptId, personId],
    );
    const owed = await this.database.query<{ person: string; answers: number }[]>(
      `SELECT query_to AS person, count(*)::int AS answers FROM comments JOIN threads ON threads.id = thread_id
       WHERE ${open} AND query_to IS NOT NULL AND settled_at IS NULL AND deleted_at IS NULL
       GROUP BY query_to ORDER BY answers DESC, query_to`,
      [manuscriptId, personId],
    );
    return { openThreads: count!.n, owed };
  }

  async get(id: string) {
    const row = await this.database.getRepository(ManuscriptRow).findOneByOrFail({ id });
    return { ...row, people: await this.people.ofManuscript(id) };
  }

  /** Its title, and whether everyone writes in pencil. */
  async set(id: string, settings: { title?: string; everyoneInPencil?: boolean }): Promise<void> {
    await this.database.getRepository(ManuscriptRow).update(id, settings);
  }

  /** The text as it was at a version; null where there is no such version. */
  async textAt(id: string, version: number): Promise<Node | null> {
    const text = await this.authority.text(id);
    return text && version <= text.version ? this.log.textAt(id, version) : null;
  }

  create(owner: string, title: string): Promise<string> {
    const doc = schema.nodes.doc!.create(null, schema.nodes.paragraph!.create());
    return this.add(owner, { title }, { doc, people: [], threads: [], assets: [] });
  }

  /** The same person in a file and here: nobody an unknown file names is ever taken for someone with an account. */
  async addFromFile(owner: string, about: NewManuscript, manuscript: Manuscript): Promise<string> {
    const outside: (Person & { login: null })[] = [];
    const renamed = withIds(manuscript, (person) => {
      const added = { ...person, id: nanoid(12), login: null };
      outside.push(added);
      return added.id;
    });
    return this.add(owner, about, renamed, outside);
  }

  /**
   * Keeps a new manuscript whole, or nothing of it.
   * @param outside people who come with it and are not known here yet
   */
  async add(
    owner: string,
    about: NewManuscript,
    { doc, people, threads }: Manuscript,
    outside: (Person & { login: null })[] = [],
  ): Promise<string> {
    const id = nanoid(12);
    await this.database.transaction(async (manager) => {
      const { title, note = '', losses = [] } = about;
      if (outside.length) await manager.insert(PersonRow, outside);
      await manager.insert(ManuscriptRow, { id, title, note, losses, touchedBy: owner });
      await manager.insert(MemberRow, { manuscriptId: id, personId: owner, role: 'keeper', hue: 0 });
      const named = people.filter((person) => person.id !== owner);
      if (named.length) {
        await manager.insert(
          NamedPersonRow,
          named.map((person, k) => ({ manuscriptId: id, personId: person.id, hue: k + 1 })),
        );
      }
      await this.log.begin(manager, id, doc, changeIds(doc));
      await keepThreads(manager, id, threads);
    });
    return id;
  }

  /** The manuscript as it stands, whole, for a person to take away. */
  async whole(id: string, me: string, read: (doc: Node) => Node): Promise<Manuscript | null> {
    const text = await this.authority.text(id);
    if (!text) return null;
    return {
      doc: read(text.doc),
      people: await this.people.ofManuscript(id),
      threads: await this.threads.list(id, me),
      assets: [],
    };
  }
}
