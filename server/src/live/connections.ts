import { Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Socket } from 'socket.io';
import { DataSource } from 'typeorm';
import { clientOf } from '@tea-pencil/core';
import { isAway } from '../database/violations.js';
import type { Messages, Refusal } from '@tea-pencil/wire';
import { isLegible, noLetters } from '../http/letters.js';
import { notThere } from '../policy/memberships.js';
import { may } from '../policy/may.js';
import { Memberships } from '../policy/memberships.js';
import { messages } from '../policy/table.js';
import { Limits } from '../running/limits.js';
import { wentWrong } from '../running/log.js';
import { later, notNow } from './authority.js';
import { schemas } from './messages.js';
import type { Author } from './submissions.js';

/** What is kept with a connection. */
export interface Connected {
  person: string;
  /** The manuscripts it follows, and the client that does. */
  joined: Map<string, string | undefined>;
}
export const connected = (socket: Socket) => socket.data as Connected;

/** A message with the client that its sender's window is. */
function ofSender<Name extends keyof Messages>(socket: Socket, message: Messages[Name]): Messages[Name] {
  const { client } = message as { client?: string };
  return client === undefined ? message : { ...message, client: clientOf(connected(socket).person, client) };
}

const waits = 'Your words stay in this window and are sent again by themselves.';
const tooFast = `Too many messages come from this window. ${waits}`;
const tooMuch = `Very much has come from you in the last hour; more is taken when that has passed. ${waits}`;

/** Whether a message brings no words, which would wait in the window. */
const isWordless = (name: keyof Messages) => name === 'decide' || name === 'takeBack';

/** Answers messages of live connections: whoever sends one is checked anew each time. */
@Injectable()
export class Connections {
  readonly #logger = new Logger('Live');

  constructor(
    private readonly memberships: Memberships,
    private readonly limits: Limits,
    @InjectDataSource() private readonly database: DataSource,
  ) {}

  /** Does what a message asks for, if it is well-formed and its sender may send it; answers always. */
  async answering<Name extends keyof Messages, T>(
    socket: Socket,
    name: Name,
    body: unknown,
    work: (message: Messages[Name], author: Author) => Promise<T>,
  ): Promise<T | Refusal> {
    if (!(await this.limits.maySend(socket.id, connected(socket).person))) return { later: tooFast };
    if (name === 'submit' && !(await this.limits.mayBringMore(connected(socket).person))) return { later: tooMuch };
    if (!isLegible(body)) return { refused: noLetters };
    const { error, value } = schemas[name].validate(body, { convert: false });
    if (error) return { refused: `This message cannot be understood: ${error.message}.` };
    const message = ofSender<Name>(socket, value as Messages[Name]);
    try {
      const author = await this.memberships.of(message.manuscript, connected(socket).person);
      if (!author) return { refused: notThere };
      const allowed = messages[name].map((act) => may(act, author));
      const [because] = allowed;
      return allowed.includes(true) ? await work(message, author) : { refused: String(because) };
    } catch (problem) {
      // It may be back already when it is asked.
      if (isAway(problem)) return { later: isWordless(name) ? notNow : later };
      const well = await this.database.query('SELECT 1').then(
        () => true,
        () => false,
      );
      if (!well) return { later: isWordless(name) ? notNow : later };
      this.#logger.error({ message: name, ...wentWrong('a live message failed', problem) });
      return { refused: 'This could not be done. Nothing was changed.' };
    }
  }

  /** Whether whoever is connected is, just now, one of the people of a manuscript. */
  isMember = async (socket: Socket, manuscript: string): Promise<boolean> =>
    !!(await this.memberships.of(manuscript, connected(socket).person));

  /** A message that is answered by nobody; null where it is not to be heard. */
  async unanswered<Name extends keyof Messages>(
    socket: Socket,
    name: Name,
    body: unknown,
  ): Promise<Messages[Name] | null> {
    const { error, value } = schemas[name].validate(body, { convert: false });
    const refused = error || !isLegible(body) || !(await this.limits.maySend(socket.id, connected(socket).person));
    return refused ? null : ofSender<Name>(socket, value as Messages[Name]);
  }
}
