import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, IsNull, type EntityManager } from 'typeorm';
import {
  anchors,
  foundAgain,
  ledgerEntry,
  listChanges,
  mentionsIn,
  readRemark,
  toDate,
  UnreadableRemark,
  type Remark,
  type Thread,
  type ThreadPlace,
  type Tint,
} from '@tea-pencil/core';
import { ChangeRow, CommentRow, MemberRow, PersonRow, ThreadRow } from '../database/entities.js';
import { mayAtLeast, type Role } from '../database/roles.js';
import { mayInTalk, type Relation } from '../http/access-table.js';
import { PeopleService } from '../people/people.service.js';
import { Notices } from '../post/notices.js';
import { Fastening, forward } from './fastening.service.js';
import { readThreads } from './read-threads.js';

/** Who acts, and as what. */
export interface Actor {
  manuscript: string;
  me: string;
  role: Role;
}

export interface NewComment {
  id: string;
  body: unknown;
  query?: { to: string };
  proposal?: { words: string };
}

export interface NewThread {
  id: string;
  at?: ThreadPlace;
  change?: string;
  whole?: boolean;
  toSelf?: boolean;
  tint?: Tint;
  comment?: NewComment;
}

const isTaken = (problem: unknown) => (problem as { code?: string }).code === '23505';
const known = 'This comment has been kept already.';
const noThread = 'There is no such thread in this manuscript.';
const noComment = 'There is no such comment in this thread.';
/** A place is written anew when it has been brought forward over so many steps. */
const longWay = 1000;

/** A comment's words from outside; a wording it proposes may speak for it. */
function bodyOf({ body, proposal }: Pick<NewComment, 'body' | 'proposal'>): Remark {
  try {
    return readRemark(body, !!proposal?.words.trim());
  } catch (problem) {
    if (problem instanceof UnreadableRemark) throw new BadRequestException(problem.message);
    throw problem;
  }
}

/** Threads, and who may do what to them. A note to oneself answers everyone else as if it were nowhere. */
@Injectable()
export class ThreadsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly fastening: Fastening,
    private readonly people: PeopleService,
    private readonly notices: Notices,
  ) {}

  /** All threads that a person may see, with the places of those that no anchor fastens. */
  async list(manuscript: string, me: string): Promise<Thread[]> {
    const threads = await readThreads(this.database.manager, manuscript, me);
    await this.#placeDecided(manuscript, threads);
    if (!threads.some(({ place }) => place)) return threads;
    const text = await this.fastening.text(manuscript);
    if (!text) return threads;
    const { doc, version } = text;
    const fastened = anchors(doc);
    const placed = threads.filter(({ id, place }) => place && !fastened.has(id));
    const first = Math.min(version, ...placed.map(({ place }) => place!.version));
    const maps = await this.fastening.maps(manuscript, first, version);
    for (const thread of threads) {
      if (!thread.place) continue;
      if (fastened.has(thread.id)) {
        delete thread.place;
        continue;
      }
      const far = version - thread.place.version > longWay;
      const here = forward(thread.place, maps, first);
      // No anchor in the text tells where a note to oneself is, once its words have come back.
      thread.place = { version, ...(thread.toSelf ? foundAgain(doc, here, thread.quote) : here) };
      if (far && thread.change === undefined)
        await this.database.getRepository(ThreadRow).update(thread.id, { place: thread.place });
    }
    return threads;
  }

  /** A thread about a change that has been decided is where the change stood. */
  async #placeDecided(manuscript: string, threads: readonly Thread[]): Promise<void> {
    const about = threads.filter(({ change }) => change !== undefined);
    if (!about.length) return;
    const decided = await this.database.query<{ change_id: string; version: number; at: number }[]>(
      `SELECT change_id, from_version AS version, (entry ->> 'at')::int AS at
       FROM changes JOIN decisions ON decisions.id = changes.decision_id
       WHERE changes.manuscript_id = $1 AND change_id = ANY ($2) AND entry IS NOT NULL`,
      [manuscript, about.map(({ change }) => change)],
    );
    const places = new Map(decided.map(({ change_id, version, at }) => [change_id, { version, from: at, to: at }]));
    for (const thread of about) {
      const place = places.get(thread.change!);
      if (place) thread.place = place;
    }
  }

  async begin({ manuscript, me }: Actor, thread: NewThread): Promise<void> {
    const { id, at, change, whole = false, toSelf = false, tint, comment } = thread;
    const body = comment && bodyOf(comment);
    if (comment) await this.#checkAddressees(manuscript, comment, body!, toSelf);
    const keep = async (manager: EntityManager, about: Partial<ThreadRow>) => {
      const row = { id, manuscriptId: manuscript, author: me, aboutWhole: whole, toSelf, tint: tint ?? null };
      await manager.insert(ThreadRow, { ...row, quote: '', ...about });
      if (comment) await this.#keepComment(manager, { manuscript, me, thread: { ...row, ...about } }, comment, body!);
    };
    if (await this.database.getRepository(ThreadRow).existsBy({ id })) throw new ConflictException(known);
    try {
      if (at && toSelf) {
        // No anchor: whoever has the manuscript open would see it.
        const text = await this.fastening.text(manuscript);
        if (!text) throw new NotFoundException('There is no text to comment on.');
        const { quote, ...place } = await this.fastening.spot(manuscript, text.doc, text.version, at);
        await this.database.transaction((manager) => keep(manager, { quote, place }));
      } else if (at) {
        await this.fastening.fasten(manuscript, me, id, at, (manager, { quote, ...place }, fastened) =>
          keep(manager, { quote, place: fastened ? null : place }),
        );
      } else {
        const quote = change === undefined ? '' : await this.#quoteOf(manuscript, change);
        await this.database.transaction((manager) => keep(manager, { changeId: change ?? null, quote }));
      }
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException(known);
      throw problem;
    }
  }

  /** The words of a change, pending or decided. */
  async #quoteOf(manuscriptId: string, changeId: string): Promise<string> {
    const row = await this.database.getRepository(ChangeRow).findOneBy({ manuscriptId, changeId });
    if (!row) throw new NotFoundException('There is no such change in this manuscript.');
    const text = await this.fastening.text(manuscriptId);
    const pending = text && listChanges(text.doc).find(({ id }) => id === changeId);
    const { before = '', after = '' } = pending ? ledgerEntry(text.doc, pending) : (row.entry ?? {});
    return (after || before).replaceAll('\n', ' ').trim().slice(0, 5000);
  }

  async reply({ manuscript, me }: Actor, threadId: string, comment: NewComment): Promise<void> {
    const thread = await this.#thread(manuscript, threadId, me);
    const body = bodyOf(comment);
    await this.#checkAddressees(manuscript, comment, body, thread.toSelf);
    const mine = [...(await this.people.idsOf(manuscript, me))];
    try {
      await this.database.transaction(async (manager) => {
        // Whoever was asked something here has answered.
        const open = { threadId, queryTo: In(mine), settledAt: IsNull() };
        await manager.update(CommentRow, open, { settledBy: me, settledAt: new Date() });
        await this.#keepComment(manager, { manuscript, me, thread }, comment, body);
      });
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException(known);
      throw problem;
    }
  }

  async #keepComment(
    manager: EntityManager,
    { manuscript, me, thread }: { manuscript: string; me: string; thread: Partial<ThreadRow> },
    { id, query, proposal }: NewComment,
    body: Remark,
  ): Promise<void> {
    const row = { id, threadId: thread.id!, author: me, body, queryTo: query?.to ?? null, proposal: proposal ?? null };
    await manager.insert(CommentRow, row);
    if (!thread.toSelf) await this.notices.comment(manager, { manuscript, by: me, thread: thread.id!, comment: row });
  }

  /** Only the manuscript's people can be mentioned and asked; a note to oneself is to nobody else. */
  async #checkAddressees(manuscriptId: string, { query, proposal }: NewComment, body: Remark, toSelf: boolean) {
    const named = [...new Set([...mentionsIn(body), ...(query ? [query.to] : [])])];
    if (toSelf && (named.length || query))
      throw new BadRequestException('A note to yourself is seen by nobody else, so it can mention and ask nobody.');
    if (toSelf && proposal)
      throw new BadRequestException('A note to yourself proposes nothing; write a comment that the others can see.');
    if (!named.length) return;
    const members = await this.database.getRepository(MemberRow).findBy({ manuscriptId, personId: In(named) });
    const stranger = named.find((id) => !members.some(({ personId }) => personId === id));
    if (stranger !== undefined) {
      const person = await this.database.getRepository(PersonRow).findOneBy({ id: stranger });
      const name = person ? person.name : 'Somebody mentioned here';
      throw new BadRequestException(
        `${name} is not one of this manuscript’s people, so it would not reach them. A keeper can invite them.`,
      );
    }
    const asked = members.find(({ personId }) => personId === query?.to);
    if (asked && !mayAtLeast(asked.role, 'remarker'))
      throw new BadRequestException('Who is asked may read this manuscript only, and could not answer.');
  }

  /** Changes the words of a comment of one's own, deletes it, or takes the deletion back. */
  async edit(actor: Actor, threadId: string, id: string, change: { body?: unknown; deleted?: boolean }): Promise<void> {
    const { manuscript, me } = actor;
    const thread = await this.#thread(manuscript, threadId, me);
    const comment = await this.#comment(threadId, id);
    const { deleted } = change;
    const is = (await this.people.idsOf(manuscript, me)).has(comment.author) ? (['author'] as const) : [];
    if (!mayInTalk(deleted === undefined ? 'change a comment' : 'delete a comment', is))
      throw new ForbiddenException('Only who wrote a comment may change or delete it.');
    if (deleted !== undefined) {
      await this.database.transaction(async (manager) => {
        await manager.update(CommentRow, id, { deletedAt: deleted ? new Date() : null });
        if (deleted) await this.notices.withdrawn(manager, id);
      });
      return;
    }
    if (comment.deletedAt) throw new NotFoundException(noComment);
    const body = bodyOf({ body: change.body });
    await this.#checkAddressees(manuscript, { id, body }, body, thread.toSelf);
    await this.database.transaction(async (manager) => {
      await manager.update(CommentRow, id, { body, editedAt: new Date() });
      const before = mentionsIn(comment.body);
      const fresh = mentionsIn(body).filter((person) => !before.includes(person));
      await this.notices.mentioned(manager, { manuscript, by: me, thread: threadId, comment: id }, fresh);
    });
  }

  /** Says that a question needs no answer any more, or that it does after all. */
  async settle({ manuscript, me, role }: Actor, threadId: string, id: string, settled: boolean): Promise<void> {
    await this.#thread(manuscript, threadId, me);
    const comment = await this.#comment(threadId, id);
    if (!comment.queryTo || comment.deletedAt) throw new NotFoundException('This comment asks nobody for an answer.');
    const mine = await this.people.idsOf(manuscript, me);
    const is: Relation[] = [role];
    if (mine.has(comment.author)) is.push('author');
    if (mine.has(comment.queryTo)) is.push('asked');
    if (!mayInTalk('settle a query', is))
      throw new ForbiddenException('Only who asks, who is asked, or one who may decide can settle a query.');
    const end = settled ? { settledBy: me, settledAt: new Date() } : { settledBy: null, settledAt: null };
    await this.database.getRepository(CommentRow).update(id, end);
  }

  /**
   * Resolves threads or opens them again.
   * @returns those whose state was another before, and whether others than oneself see any of them
   */
  async turn(
    { manuscript, me }: Actor,
    ids: readonly string[],
    resolved: boolean,
  ): Promise<{ turned: string[]; shared: boolean }> {
    const rows = await this.database.getRepository(ThreadRow).findBy({ manuscriptId: manuscript, id: In([...ids]) });
    const mine = rows.filter(({ toSelf, author }) => !toSelf || author === me);
    if (mine.length < new Set(ids).size) throw new NotFoundException(noThread);
    const turned = mine.filter((row) => row.resolved !== resolved).map(({ id }) => id);
    if (turned.length)
      await this.database
        .getRepository(ThreadRow)
        .update({ id: In(turned), resolved: !resolved }, { resolved, turnedBy: me, turnedAt: new Date() });
    return { turned, shared: mine.some(({ toSelf }) => !toSelf) };
  }

  /** Highlights the words of a thread in another tint; null where they shall not be highlighted. */
  async tint({ manuscript, me, role }: Actor, threadId: string, tint: Tint | null): Promise<void> {
    const thread = await this.#thread(manuscript, threadId, me);
    if (!mayInTalk('change a tint', thread.author === me ? [role, 'author'] : [role]))
      throw new ForbiddenException('Only who highlighted a passage, or one who may decide, can change its tint.');
    const said = await this.database.getRepository(CommentRow).existsBy({ threadId, deletedAt: IsNull() });
    if (tint === null && !said)
      throw new BadRequestException(
        'A highlight without words is cleared by resolving it, so that it can be taken back.',
      );
    await this.database.getRepository(ThreadRow).update(threadId, { tint });
  }

  /** Brings a thread to other words. */
  async place({ manuscript, me, role }: Actor, threadId: string, at: ThreadPlace): Promise<void> {
    const thread = await this.#thread(manuscript, threadId, me);
    if (thread.changeId !== null || thread.aboutWhole)
      throw new BadRequestException('This thread is not about words that could be chosen.');
    const text = await this.fastening.text(manuscript);
    const lost = !text || !anchors(text.doc).has(threadId);
    if (!lost && !mayInTalk('move a thread from its words', thread.author === me ? [role, 'author'] : [role]))
      throw new ForbiddenException('A thread that has its words is moved by who began it, or by one who may decide.');
    if (thread.toSelf) {
      const { quote, ...place } = await this.fastening.spot(manuscript, text!.doc, text!.version, at);
      await this.database.getRepository(ThreadRow).update(threadId, { place, quote });
      return;
    }
    const keep = async (manager: EntityManager) => void (await manager.update(ThreadRow, threadId, { place: null }));
    await this.fastening.fasten(manuscript, me, threadId, at, keep, true);
  }

  /** Makes proposed wording a change in the name of who proposed it, and resolves the thread. */
  async propose({ manuscript, me }: Actor, threadId: string, id: string): Promise<{ change: string }> {
    const thread = await this.#thread(manuscript, threadId, me);
    const { author, proposal, deletedAt } = await this.#comment(threadId, id);
    if (!proposal || deletedAt) throw new NotFoundException('This comment proposes no wording.');
    if (proposal.made) throw new ConflictException('This wording has been made a change already.');
    if (thread.changeId !== null || thread.aboutWhole)
      throw new BadRequestException('This thread is not about words that could be replaced.');
    const about = { thread: threadId, words: proposal.words, proposer: author, by: me };
    const change = await this.fastening.propose(manuscript, about, async (manager, made) => {
      const done = { ...proposal, made: { by: me, date: toDate(new Date()), change: made } };
      await manager.update(CommentRow, id, { proposal: done });
      await manager.update(ThreadRow, threadId, { resolved: true, turnedBy: me, turnedAt: new Date() });
    });
    return { change };
  }

  /** Whether only its author is told of a thread. */
  async isToSelf(threadId: string): Promise<boolean> {
    return this.database.getRepository(ThreadRow).existsBy({ id: threadId, toSelf: true });
  }

  async #thread(manuscriptId: string, id: string, me: string): Promise<ThreadRow> {
    const thread = await this.database.getRepository(ThreadRow).findOneBy({ id, manuscriptId });
    const is = thread?.author === me ? (['author'] as const) : [];
    if (!thread || (thread.toSelf && !mayInTalk('see a note to oneself', is))) throw new NotFoundException(noThread);
    return thread;
  }

  async #comment(threadId: string, id: string): Promise<CommentRow> {
    const comment = await this.database.getRepository(CommentRow).findOneBy({ id, threadId });
    if (!comment) throw new NotFoundException(noComment);
    return comment;
  }
}
