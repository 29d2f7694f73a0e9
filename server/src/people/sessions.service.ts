import { createHash } from 'node:crypto';
import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import bowser from 'bowser';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import type { SessionOf } from '@tea-pencil/wire';
import { PersonRow } from '../database/entities.js';
import { fortnight } from '../http/session.js';
import { Broadcasting } from '../live/broadcasting.js';

interface Row {
  sid: string;
  sess: { browser?: string; begunAt?: string };
  expire: Date;
}

/** The name under which a session is told of: what its cookie holds is told to nobody. */
const named = (sid: string) => createHash('sha256').update(sid).digest('base64url').slice(0, 20);

/** Which browser on which system. */
function browserOf(agent: string | undefined): string {
  if (!agent) return 'something that does not say what it is';
  const { browser, os } = bowser.parse(agent.slice(0, 500));
  return [browser.name ?? 'a browser', os.name].filter(Boolean).join(', ');
}

/** Where people are signed in. */
@Injectable()
export class Sessions {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly live: Broadcasting,
  ) {}

  /** Signs somebody in: a new id for every session, so that one known before is worth nothing after. */
  async begin(person: string, request: Request): Promise<void> {
    const { sessionID: former } = request;
    const { personId: before } = request.session;
    await new Promise<void>((done, fail) =>
      request.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())),
    );
    // Somebody else who was signed in in this browser is so no more, in its other windows too.
    if (before === person) this.live.renewed(former);
    else this.live.signedOut(former);
    Object.assign(request.session, {
      personId: person,
      browser: browserOf(request.headers['user-agent']),
      begunAt: new Date().toISOString(),
    });
    await this.database.getRepository(PersonRow).update(person, { seenAt: new Date() });
  }

  async end(request: Request): Promise<void> {
    const { sessionID } = request;
    await new Promise<void>((done) => request.session.destroy(() => done()));
    this.live.signedOut(sessionID);
  }

  #of = (person: string): Promise<Row[]> =>
    this.database.query<Row[]>(
      `SELECT sid, sess, expire FROM sessions WHERE sess ->> 'personId' = $1 AND expire > now() ORDER BY expire DESC`,
      [person],
    );

  /** @param here the id of the session that asks */
  async list(person: string, here: string): Promise<SessionOf[]> {
    return (await this.#of(person)).map(({ sid, sess, expire }) => ({
      id: named(sid),
      browser: sess.browser ?? browserOf(undefined),
      begunAt: sess.begunAt ?? null,
      // Each request puts the end off.
      seenAt: new Date(expire.getTime() - fortnight).toISOString(),
      here: sid === here,
    }));
  }

  /** Ends one of somebody’s sessions. */
  async endOne(person: string, id: string): Promise<void> {
    const row = (await this.#of(person)).find(({ sid }) => named(sid) === id);
    if (!row) throw new NotFoundException('You are not signed in there any more.');
    await this.#end([row.sid]);
  }

  /** Ends all of somebody’s sessions, but for one. */
  async endAll(person: string, but?: string): Promise<void> {
    const rows = await this.#of(person);
    await this.#end(rows.map(({ sid }) => sid).filter((sid) => sid !== but));
  }

  async #end(sids: readonly string[]): Promise<void> {
    await this.database.query('DELETE FROM sessions WHERE sid = ANY ($1)', [sids]);
    for (const sid of sids) this.live.signedOut(sid);
  }
}
