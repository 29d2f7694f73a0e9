import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, Any, IsNull, type EntityManager } from 'typeorm';
import {
  anchors,
  ledgerFacts,
  listChanges,
  mentionsIn,
  readRemark,
  toDate,
  UnreadableRemark,
  type Place,
  type Remark,
  type Thread,
  type Tint,
} from '@tea-pencil/core';
import type { EditedComment, NewComment, NewThread } from '@tea-pencil/wire';
import { ChangeRow, CommentRow, PersonRow, ThreadRow } from '../database/entities.js';
import { violates } from '../database/violations.js';
import type { Relation, TalkAct } from '../policy/acts.js';
import { may, mayInTalk, type Membership } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { Notices, type Addressee } from '../post/notices.js';
import { Fastening } from './fastening.service.js';
import { readThreads } from './read-threads.js';
import { roomToTalk } from './room-to-talk.js';
import { ThreadPlaces } from './thread-places.js';

/** Whether there is such a thread or comment already. */
const isTaken = (problem: unknown) => violates(problem, 'threads_pkey') || violates(problem, 'comments_pkey');
const known = 'This comment has been kept already.';
const noThread = 'There is no such thread in this manuscript.';
const noComment = 'There is no such comment in this thread.';

/** Goes on only where someone may do something to talk that is there. */
function allowing(act: TalkAct, member: Membership, is: readonly Relation[]): void {
  const allowed = mayInTalk(act, member, is);
  if (allowed !== true) throw new ForbiddenException(allowed);
}

/** A comment's words from outside; a wording it proposes may speak for it. */
function bodyOf({ body, proposal }: Pick<NewComment, 'body' | 'proposal'>): Remark {
  try {
    return readRemark(body, !!proposal?.words.trim());
  } catch (problem) {
    if (problem instanceof UnreadableRemark) throw new BadRequestException(problem.message);
    throw problem;
  }
}

/** How long a comment is, as it is written down. */
const lettersOf = (comment: Pick<NewComment, 'proposal'> | undefined, body: Remark | undefined): number =>
  JSON.stringify([body, comment?.proposal]).length;

/** Threads, and who may do what to them. A note to oneself answers everyone else as if it were nowhere. */
@Injectable()
export class ThreadsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly fastening: Fastening,
    private readonly places: ThreadPlaces,
    private readonly memberships: Memberships,
    private readonly notices: Notices,
  ) {}

  /** All threads that a person may see, with the places of those that no anchor fastens. */
  async list(manuscript: string, me: string): Promise<Thread[]> {
    return this.places.bringForward(manuscript, await readThreads(this.database.manager, manuscript, me));
  }

  async begin(member: Membership, thread: NewThread): Promise<void> {
    const { manuscriptId: manuscript, personId: me } = member;
    const { id, at, change, whole = false, toSelf = false, tint, comment } = thread;
    const body = comment && bodyOf(comment);
    if (comment && body) await this.#checkAddressees(manuscript, comment, body, toSelf);
    const more = { threads: 1, comments: comment ? 1 : 0, letters: lettersOf(comment, body) };
    await roomToTalk(this.database.manager, manuscript, me, more);
    let told: Addressee[] = [];
    const keep = async (manager: EntityManager, about: Partial<ThreadRow>) => {
      const row = { id, manuscriptId: manuscript, author: me, aboutWhole: whole, toSelf, tint: tint ?? null };
      await manager.insert(ThreadRow, { ...row, quote: '', ...about });
      // Of several tries the last one was kept.
      const proposal = comment?.proposal && { ...comment.proposal, insteadOf: about.quote ?? '' };
      const said = comment && { ...comment, ...(proposal && { proposal }) };
      told = said && body ? await this.#keepComment(manager, { manuscript, me, thread: row }, said, body) : [];
    };
    if (await this.database.getRepository(ThreadRow).existsBy({ id })) throw new ConflictException(known);
    try {
      if (at && toSelf) {
        // No anchor: whoever has the manuscript open would see it.
        const text = await this.fastening.text(manuscript);
        if (!text) throw new NotFoundException('There is no text to comment on.');
        const { quote, ...place } = await this.fastening.spot(manuscript, text.doc, text.version, at);
        await this.memberships.write(member, 'comment', (manager) => keep(manager, { quote, place }));
      } else if (at) {
        await this.fastening.fasten(manuscript, me, id, at, (manager, { quote, ...place }, fastened) =>
          keep(manager, { quote, place: fastened ? null : place }),
        );
      } else {
        const quote = change === undefined ? '' : await this.#quoteOf(manuscript, change);
        await this.memberships.write(member, 'comment', (manager) =>
          keep(manager, { changeId: change ?? null, quote }),
        );
      }
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException(known);
      throw problem;
    }
    this.notices.announce(told);
  }

  /** The words of a change, pending or decided. */
  async #quoteOf(manuscriptId: string, changeId: string): Promise<string> {
    const row = await this.database.getRepository(ChangeRow).findOneBy({ manuscriptId, changeId });
    if (!row) throw new NotFoundException('There is no such change in this manuscript.');
    const text = await this.fastening.text(manuscriptId);
    const pending = text && listChanges(text.doc).find(({ id }) => id === changeId);
    const { before = '', after = '' } = pending ? ledgerFacts(text.doc, pending) : (row.entry ?? {});
    return (after || before).replaceAll('\n', ' ').trim().slice(0, 5000);
  }

  async reply(member: Membership, threadId: string, comment: NewComment): Promise<void> {
    const { manuscriptId: manuscript, personId: me } = member;
    const thread = await this.#thread(member, threadId);
    const body = bodyOf(comment);
    await this.#checkAddressees(manuscript, comment, body, thread.toSelf);
    await roomToTalk(this.database.manager, manuscript, me, { comments: 1, letters: lettersOf(comment, body) });
    const mine = [...(await this.memberships.idsOf(manuscript, me))];
    const words = comment.proposal && (await this.fastening.wordsNow(manuscript, threadId));
    const proposal = comment.proposal && { ...comment.proposal, insteadOf: words ?? thread.quote };
    const reply = { ...comment, ...(proposal && { proposal }) };
    try {
      const told = await this.memberships.write(member, 'comment', async (manager) => {
        // Whoever was asked something here has answered.
        const open = { threadId, queryTo: Any(mine), settledAt: IsNull() };
        await manager.update(CommentRow, open, { settledBy: me, settledAt: new Date() });
        return this.#keepComment(manager, { manuscript, me, thread }, reply, body);
      });
      this.notices.announce(told);
    } catch (problem) {
      if (isTaken(problem)) throw new ConflictException(known);
      throw problem;
    }
  }

  async #keepComment(
    manager: EntityManager,
    { manuscript, me, thread }: { manuscript: string; me: string; thread: Pick<ThreadRow, 'id' | 'toSelf'> },
    { id, query, proposal }: NewComment,
    body: Remark,
  ): Promise<Addressee[]> {
    const row = { id, threadId: thread.id, author: me, body, queryTo: query?.to ?? null, proposal: proposal ?? null };
    await manager.insert(CommentRow, row);
    return thread.toSelf ? [] : this.notices.comment(manager, { manuscript, by: me, thread: thread.id, comment: row });
  }

  /** Only the manuscript's people can be mentioned and asked; a note to oneself is to nobody else. */
  async #checkAddressees(manuscriptId: string, { query, proposal }: NewComment, body: Remark, toSelf: boolean) {
    const named = [...new Set([...mentionsIn(body), ...(query ? [query.to] : [])])];
    if (toSelf && (named.length || query))
      throw new BadRequestException('A note to yourself is seen by nobody else, so it can mention and ask nobody.');
    if (toSelf && proposal)
      throw new BadRequestException('A note to yourself proposes nothing; write a comment that the others can see.');
    if (!named.length) return;
    const members = await this.memberships.among(manuscriptId, named);
    const stranger = named.find((id) => !members.some(({ personId }) => personId === id));
    if (stranger !== undefined) {
      const person = await this.database.getRepository(PersonRow).findOneBy({ id: stranger });
      const name = person ? person.name : 'Somebody mentioned here';
      throw new BadRequestException(
        `${name} is not one of this manuscript’s people, so it would not reach them. A keeper can invite them.`,
      );
    }
    const asked = members.find(({ personId }) => personId === query?.to);
    if (asked && may('comment', asked) !== true)
      throw new BadRequestException('Who is asked may read this manuscript only, and could not answer.');
  }

  /** Changes the words of a comment of one's own, deletes it, or takes the deletion back. */
  async edit(member: Membership, threadId: string, id: string, change: EditedComment): Promise<void> {
    const { manuscriptId: manuscript, personId: me } = member;
    const thread = await this.#thread(member, threadId);
    const comment = await this.#comment(threadId, id);
    const { deleted } = change;
    const is: Relation[] = (await this.memberships.idsOf(manuscript, me)).has(comment.author) ? ['author'] : [];
    allowing(deleted === undefined ? 'change a comment' : 'delete a comment', member, is);
    if (deleted !== undefined) {
      await this.memberships.write(member, 'comment', async (manager) => {
        await manager.update(CommentRow, id, { deletedAt: deleted ? new Date() : null });
        if (deleted) await this.notices.withdrawn(manager, id);
      });
      return;
    }
    if (comment.deletedAt) throw new NotFoundException(noComment);
    const body = bodyOf({ body: change.body });
    await this.#checkAddressees(manuscript, { id, body }, body, thread.toSelf);
    const letters = lettersOf(undefined, body) - lettersOf(undefined, comment.body);
    if (letters > 0) await roomToTalk(this.database.manager, manuscript, me, { letters });
    const told = await this.memberships.write(member, 'comment', async (manager) => {
      await manager.update(CommentRow, id, { body, editedAt: new Date() });
      const before = mentionsIn(comment.body);
      const fresh = mentionsIn(body).filter((person) => !before.includes(person));
      return this.notices.mentioned(manager, { manuscript, by: me, thread: threadId, comment: id }, fresh);
    });
    this.notices.announce(told);
  }

  /** Says that a question needs no answer any more, or that it does after all. */
  async settle(member: Membership, threadId: string, id: string, settled: boolean): Promise<void> {
    const { manuscriptId: manuscript, personId: me } = member;
    await this.#thread(member, threadId);
    const comment = await this.#comment(threadId, id);
    if (!comment.queryTo || comment.deletedAt) throw new NotFoundException('This comment asks nobody for an answer.');
    const mine = await this.memberships.idsOf(manuscript, me);
    const is: Relation[] = [];
    if (mine.has(comment.author)) is.push('author');
    if (mine.has(comment.queryTo)) is.push('asked');
    const end = settled ? { settledBy: me, settledAt: new Date() } : { settledBy: null, settledAt: null };
    await this.memberships.write(member, 'comment', async (manager, now) => {
      allowing('settle a query', now, is);
      await manager.update(CommentRow, id, end);
    });
  }

  /**
   * Resolves threads or opens them again.
   * @returns those whose state was another before, and whether others than oneself see any of them
   */
  turn(member: Membership, ids: readonly string[], resolved: boolean): Promise<{ turned: string[]; shared: boolean }> {
    const { manuscriptId, personId: me } = member;
    return this.memberships.write(member, 'comment', async (manager) => {
      const rows = await manager.findBy(ThreadRow, { manuscriptId, id: Any([...ids]) });
      const mine = rows.filter(({ toSelf, author }) => !toSelf || author === me);
      if (mine.length < new Set(ids).size) throw new NotFoundException(noThread);
      const turned = mine.filter((row) => row.resolved !== resolved).map(({ id }) => id);
      const state = { resolved, turnedBy: me, turnedAt: new Date() };
      if (turned.length) await manager.update(ThreadRow, { id: Any(turned), resolved: !resolved }, state);
      return { turned, shared: mine.some(({ toSelf }) => !toSelf) };
    });
  }

  /** Highlights the words of a thread in another tint; null where they shall not be highlighted. */
  async tint(member: Membership, threadId: string, tint: Tint | null): Promise<void> {
    const thread = await this.#thread(member, threadId);
    const said = await this.database.getRepository(CommentRow).existsBy({ threadId, deletedAt: IsNull() });
    if (tint === null && !said)
      throw new BadRequestException(
        'A highlight without words is cleared by resolving it, so that it can be taken back.',
      );
    await this.memberships.write(member, 'comment', async (manager, now) => {
      allowing('change a tint', now, thread.author === member.personId ? ['author'] : []);
      await manager.update(ThreadRow, threadId, { tint });
    });
  }

  /** Brings a thread to other words. */
  async place(member: Membership, threadId: string, at: Place): Promise<void> {
    const { manuscriptId: manuscript, personId: me } = member;
    const thread = await this.#thread(member, threadId);
    if (thread.changeId !== null || thread.aboutWhole)
      throw new BadRequestException('This thread is not about words that could be chosen.');
    const text = await this.fastening.text(manuscript);
    if (!text) throw new NotFoundException('There is no text to comment on.');
    if (anchors(text.doc).has(threadId))
      allowing('move a thread from its words', member, thread.author === me ? ['author'] : []);
    if (thread.toSelf) {
      const { quote, ...place } = await this.fastening.spot(manuscript, text.doc, text.version, at);
      return this.memberships.write(
        member,
        'comment',
        async (manager) => void (await manager.update(ThreadRow, threadId, { place, quote })),
      );
    }
    const keep = async (manager: EntityManager) => void (await manager.update(ThreadRow, threadId, { place: null }));
    await this.fastening.fasten(manuscript, me, threadId, at, keep, true);
  }

  /** Makes proposed wording a change of who does so, and resolves the thread, which says who proposed it. */
  async propose(member: Membership, threadId: string, id: string): Promise<{ change: string }> {
    const { manuscriptId: manuscript, personId: me } = member;
    const thread = await this.#thread(member, threadId);
    const { proposal, deletedAt } = await this.#comment(threadId, id);
    if (!proposal || deletedAt) throw new NotFoundException('This comment proposes no wording.');
    if (proposal.made) throw new ConflictException('This wording has been made a change already.');
    if (thread.changeId !== null || thread.aboutWhole)
      throw new BadRequestException('This thread is not about words that could be replaced.');
    const { words, insteadOf = thread.quote } = proposal;
    const about = { thread: threadId, words, insteadOf, by: me };
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

  async #thread(member: Membership, id: string): Promise<ThreadRow> {
    const { manuscriptId, personId } = member;
    const thread = await this.database.getRepository(ThreadRow).findOneBy({ id, manuscriptId });
    const is: Relation[] = thread?.author === personId ? ['author'] : [];
    const seen = thread && (!thread.toSelf || mayInTalk('see a note to oneself', member, is) === true);
    if (!seen) throw new NotFoundException(noThread);
    return thread;
  }

  async #comment(threadId: string, id: string): Promise<CommentRow> {
    const comment = await this.database.getRepository(CommentRow).findOneBy({ id, threadId });
    if (!comment) throw new NotFoundException(noComment);
    return comment;
  }
}
