import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import type { Node } from 'prosemirror-model';
import { DataSource, Any } from 'typeorm';
import {
  schema,
  withoutAnchors,
  type Asset,
  type FormatName,
  type Loss,
  type Person,
  type Thread,
} from '@tea-pencil/core';
import type { ManuscriptInfo, ManuscriptSettings } from '@tea-pencil/wire';
import { AssetRow, ManuscriptRow, MemberRow, NamedPersonRow, OriginRow, PersonRow } from '../database/entities.js';
import { Authority } from '../live/authority.js';
import { History } from '../live/history.js';
import type { KeptOrigin } from '../database/kept-origin.js';
import { keptText, type KeptText } from '../database/kept-text.js';
import { jsonOf } from '../live/packing.js';
import { StepLog } from '../live/step-log.js';
import { GrantRow, SealRow } from '../database/sharing-entities.js';
import { lookOf } from '../names/names.js';
import { SealService } from '../sharing/seal.service.js';
import type { Membership } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { PeopleService } from '../people/people.service.js';
import { Limits } from '../running/limits.js';
import { keepThreads } from '../threads/read-threads.js';
import { ThreadsService } from '../threads/threads.service.js';

export interface NewManuscript {
  title: string;
  note?: string;
  losses?: Loss[];
  carried?: Loss[];
  /** Whether it is begun here, and does not come as a file. */
  begunHere?: boolean;
  language?: string;
  everyoneInPencil?: boolean;
  /** What keeps everyone in pencil until a passphrase is given. */
  seal?: Omit<SealRow, 'manuscriptId' | 'id' | 'sealedAt'> | null;
}

/** A text that is new here, with its people and threads. */
export interface NewText {
  text: KeptText;
  people: readonly Person[];
  threads: readonly Thread[];
  assets?: readonly Asset[];
  /** The file it came from. */
  origin?: KeptOrigin | null;
}

export interface WholeManuscript {
  /** The document as JSON, and which version of the text it is. */
  json: string;
  version: number;
  people: Person[];
  threads: Thread[];
  /** The pictures that are not in the file it came from. */
  assets: Asset[];
  origin: KeptOrigin | null;
}

/** What is wanted of a manuscript beside its text. */
interface Wanted {
  /** The file it came from, where that is of this kind, or of whatever kind it is. */
  origin: FormatName | 'any' | null;
  pictures: boolean;
  /** As it was then; else as it stands. */
  version?: number;
}

@Injectable()
export class ManuscriptsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly memberships: Memberships,
    private readonly authority: Authority,
    private readonly log: StepLog,
    private readonly history: History,
    private readonly people: PeopleService,
    private readonly threads: ThreadsService,
    private readonly seals: SealService,
    private readonly limits: Limits,
  ) {}

  async get(id: string): Promise<Omit<ManuscriptInfo, 'role' | 'takesAway' | 'invites'>> {
    const row = await this.database.getRepository(ManuscriptRow).findOneByOrFail({ id });
    const { title, note, everyoneInPencil, begunHere, language, losses, carried, mends } = row;
    return {
      id,
      title,
      note,
      everyoneInPencil,
      begunHere,
      language,
      losses,
      carried,
      mends,
      cameAs: await this.#cameAs(id),
      seal: await this.seals.of(id),
      people: await this.people.ofManuscript(id),
    };
  }

  /** Of what kind the file is that it came from. */
  async #cameAs(id: string): Promise<FormatName | null> {
    const row = await this.database
      .getRepository(OriginRow)
      .findOne({ where: { manuscriptId: id }, select: { format: true } });
    return row?.format ?? null;
  }

  /** Its title, and whether everyone writes in pencil. */
  async set(by: Membership, settings: ManuscriptSettings): Promise<void> {
    await this.memberships.write(by, 'change settings', (manager) =>
      manager.update(ManuscriptRow, by.manuscriptId, settings),
    );
  }

  /** What a copy of a manuscript has of it beside its text: all that is set, and its seal. */
  async about(id: string): Promise<NewManuscript> {
    const row = await this.database.getRepository(ManuscriptRow).findOneByOrFail({ id });
    const { title, note, language, everyoneInPencil, begunHere, losses, carried } = row;
    const seal = await this.database.getRepository(SealRow).findOneBy({ manuscriptId: id });
    return { title, note, language, everyoneInPencil, begunHere, losses, carried, seal };
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
    { text, people, threads, assets = [], origin = null }: NewText,
    outside: readonly Person[] = [],
  ): Promise<string> {
    const id = nanoid(12);
    await this.database.transaction(async (manager) => {
      const { seal = null, ...row } = about;
      for (const person of outside)
        await manager.insert(PersonRow, { ...person, look: lookOf(person.name), login: null });
      await manager.insert(ManuscriptRow, { ...row, id, touchedBy: owner });
      await manager.insert(GrantRow, { id: nanoid(12), manuscriptId: id, personId: owner, role: 'keeper' });
      await manager.insert(MemberRow, { manuscriptId: id, personId: owner, role: 'keeper', hue: 0 });
      if (seal) await manager.insert(SealRow, { ...seal, manuscriptId: id, id: nanoid(12) });
      const named = people.filter((person) => person.id !== owner);
      for (const [k, person] of named.entries())
        await manager.insert(NamedPersonRow, { manuscriptId: id, personId: person.id, hue: k + 1 });
      await this.log.begin(manager, id, text, owner);
      await keepThreads(manager, id, threads);
      for (const { id: asset, type, bytes } of assets)
        await manager.insert(AssetRow, {
          id: asset,
          manuscriptId: id,
          type,
          bytes: Buffer.from(bytes),
          addedBy: owner,
        });
      if (origin) {
        const { format, file, known } = origin;
        await manager.insert(OriginRow, {
          manuscriptId: id,
          format,
          file: Buffer.from(file),
          known: Buffer.from(known),
        });
      }
    });
    const beside = [...assets.map(({ bytes }) => bytes), ...(origin ? [origin.file, origin.known] : [])];
    this.limits.bring(
      owner,
      beside.reduce((sum, { length }) => sum + length, text.json.length),
    );
    return id;
  }

  /**
   * The manuscript as it stands, as data, for a person to take away.
   * @param withOrigin whether the file it came from and its pictures are wanted
   */
  async whole(id: string, me: string, wanted: Wanted): Promise<WholeManuscript | null> {
    // An earlier state has no threads: what was said has gone on since.
    const then = wanted.version === undefined ? null : await this.textAt(id, wanted.version);
    const text = wanted.version === undefined ? await this.authority.text(id) : then;
    if (!text) return null;
    const people = await this.people.ofManuscript(id);
    const format = wanted.origin === 'any' ? {} : { format: wanted.origin ?? undefined };
    const origin = wanted.origin
      ? await this.database.getRepository(OriginRow).findOneBy({ manuscriptId: id, ...format })
      : null;
    return {
      json: jsonOf(then ? withoutAnchors(text.doc) : text.doc),
      version: text.version,
      people,
      threads: then ? [] : await this.threads.list(id, me),
      assets: wanted.pictures ? await this.#pictures(id, text.doc) : [],
      origin,
    };
  }

  /** The pictures that a text shows, or would show again if a change were rejected. */
  async #pictures(id: string, doc: Node): Promise<Asset[]> {
    const shown = new Set<string>();
    const note = ({ asset }: Record<string, unknown>) => typeof asset === 'string' && shown.add(asset);
    doc.descendants((node) => {
      if (node.type !== schema.nodes.image) return;
      note(node.attrs);
      for (const { attrs } of node.marks)
        for (const side of ['was', 'now']) if (attrs[side]) note(attrs[side] as Record<string, unknown>);
    });
    if (!shown.size) return [];
    const rows = await this.database.getRepository(AssetRow).findBy({ manuscriptId: id, id: Any([...shown]) });
    return rows.map(({ id: asset, type, bytes }) => ({ id: asset, type, bytes }));
  }
}
