import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import { DataSource } from 'typeorm';
import { schema, type Loss, type Person, type Thread } from '@tea-pencil/core';
import type { ManuscriptInfo, ManuscriptSettings } from '@tea-pencil/wire';
import { ManuscriptRow, MemberRow, NamedPersonRow, PersonRow } from '../database/entities.js';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';
import { keptText, type KeptText } from '../database/kept-text.js';
import { jsonOf } from '../live/packing.js';
import { StepLog } from '../live/step-log.js';
import { lookOf } from '../names/names.js';
import { PeopleService } from '../people/people.service.js';
import { keepThreads } from '../threads/read-threads.js';
import { ThreadsService } from '../threads/threads.service.js';

export interface NewManuscript {
  title: string;
  note?: string;
  losses?: Loss[];
  /** Whether it is begun here, and does not come as a file. */
  begunHere?: boolean;
}

/** A text that is new here, with its people and threads. */
export interface NewText {
  text: KeptText;
  people: readonly Person[];
  threads: readonly Thread[];
}

export interface WholeManuscript {
  /** The document as JSON. */
  json: string;
  people: Person[];
  threads: Thread[];
}

@Injectable()
export class ManuscriptsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly authority: Authority,
    private readonly log: StepLog,
    private readonly history: History,
    private readonly people: PeopleService,
    private readonly threads: ThreadsService,
  ) {}

  async get(id: string): Promise<Omit<ManuscriptInfo, 'role'>> {
    const row = await this.database.getRepository(ManuscriptRow).findOneByOrFail({ id });
    const { title, note, everyoneInPencil, begunHere, language, losses, mends } = row;
    return {
      id,
      title,
      note,
      everyoneInPencil,
      begunHere,
      language,
      losses,
      mends,
      people: await this.people.ofManuscript(id),
    };
  }

  /** Its title, and whether everyone writes in pencil. */
  async set(id: string, settings: ManuscriptSettings): Promise<void> {
    await this.database.getRepository(ManuscriptRow).update(id, settings);
  }

  /** The text as it was where a batch ended, at or last before a version; null where there is no such version. */
  async textAt(id: string, version: number): Promise<{ version: number; doc: Node } | null> {
    const text = await this.authority.text(id);
    if (!text || version > text.version) return null;
    const end = await this.history.endUpTo(id, version);
    return { version: end, doc: await this.history.textAt(id, end) };
  }

  create(owner: string, title: string): Promise<string> {
    const doc = schema.nodes.doc.create(null, schema.nodes.paragraph.create());
    return this.add(owner, { title, begunHere: true }, { text: keptText(doc), people: [], threads: [] });
  }

  /**
   * Keeps a new manuscript whole, or nothing of it.
   * @param outside those of its people who are not known here yet
   */
  async add(
    owner: string,
    about: NewManuscript,
    { text, people, threads }: NewText,
    outside: readonly Person[] = [],
  ): Promise<string> {
    const id = nanoid(12);
    await this.database.transaction(async (manager) => {
      const { title, note = '', losses = [], begunHere = false } = about;
      for (const person of outside)
        await manager.insert(PersonRow, { ...person, look: lookOf(person.name), login: null });
      await manager.insert(ManuscriptRow, { id, title, note, losses, begunHere, touchedBy: owner });
      await manager.insert(MemberRow, { manuscriptId: id, personId: owner, role: 'keeper', hue: 0 });
      const named = people.filter((person) => person.id !== owner);
      for (const [k, person] of named.entries())
        await manager.insert(NamedPersonRow, { manuscriptId: id, personId: person.id, hue: k + 1 });
      await this.log.begin(manager, id, text);
      await keepThreads(manager, id, threads);
    });
    return id;
  }

  /** The manuscript as it stands, as data, for a person to take away. */
  async whole(id: string, me: string): Promise<WholeManuscript | null> {
    const text = await this.authority.text(id);
    if (!text) return null;
    const people = await this.people.ofManuscript(id);
    return { json: jsonOf(text.doc), people, threads: await this.threads.list(id, me) };
  }
}
