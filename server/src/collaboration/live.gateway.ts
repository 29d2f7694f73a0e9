import { Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import {
  ConnectedSocket,
  MessageBody,
  SubscribeMessage,
  WebSocketGateway,
  WebSocketServer,
  type OnGatewayConnection,
  type OnGatewayDisconnect,
  type OnGatewayInit,
} from '@nestjs/websockets';
import type { Server, Socket } from 'socket.io';
import type { SessionData } from 'express-session';
import { DataSource } from 'typeorm';
import { NamedPersonRow } from '../database/entities.js';
import type { Role } from '../database/roles.js';
import { notThere } from '../http/access.js';
import { Allowance } from './allowance.js';
import { Authority, later } from './authority.js';
import { schemas, type Messages } from './live-messages.js';
import type { Answer, Author, Broadcast } from './submissions.js';

type Refusal = { refused: string } | { later: string };
type Joined = { version: number; doc: object } | { version: number; steps: object[]; clients: string[] };

const room = (manuscript: string) => `manuscript:${manuscript}`;
const personRoom = (person: string) => `person:${person}`;
const sessionRoom = (session: string) => `session:${session}`;

/** What is kept with a connection. */
interface Data {
  person: string;
  allowance: Allowance;
  /** The manuscripts it follows, and the client that does. */
  joined: Map<string, string | undefined>;
}
const dataOf = (socket: Socket) => socket.data as Data;

const tooFast = 'Too many messages come from this window.';

/** The live side: who has a manuscript open receives its steps; whoever sends some is checked anew each time. */
@WebSocketGateway({ path: '/api/live', serveClient: false })
export class LiveGateway implements OnGatewayInit, OnGatewayConnection, OnGatewayDisconnect {
  @WebSocketServer() private readonly server: Server;
  readonly #logger = new Logger('Live');

  constructor(
    private readonly authority: Authority,
    @InjectDataSource() private readonly database: DataSource,
  ) {}

  afterInit(): void {
    // Here at once; other processes hear of it through the database and tell theirs.
    const tell = (steps: Broadcast) => this.server.local.to(room(steps.manuscript)).emit('steps', steps);
    this.authority.events.on('steps', (steps) => {
      tell(steps);
      this.server.serverSideEmit('steps', steps);
    });
    this.authority.events.on('strays', (manuscript) => this.changed(manuscript, 'threads'));
    this.server.on('steps', (steps: Broadcast) => {
      tell(steps);
      this.authority.heard(steps).catch((problem: unknown) => this.#logger.warn(String(problem)));
    });
  }

  /** Tells everyone who has the manuscript open that its threads or people have changed. */
  changed(manuscript: string, what: 'threads' | 'people'): void {
    this.server.to(room(manuscript)).emit('changed', { manuscript, what });
  }

  /** Tells one person alone, wherever they have the manuscript open. */
  changedFor(person: string, manuscript: string, what: 'threads' | 'post'): void {
    this.server.to(personRoom(person)).emit('changed', { manuscript, what });
  }

  /** Closes a manuscript to someone who is none of its people any more. */
  removed(manuscript: string, person: string): void {
    this.server.to(personRoom(person)).emit('removed', { manuscript, refused: notThere });
    this.server.in(personRoom(person)).socketsLeave(room(manuscript));
  }

  /** Ends the connections of a session that has ended. */
  signedOut(session: string): void {
    this.server.to(sessionRoom(session)).emit('signed-out');
    this.server.in(sessionRoom(session)).disconnectSockets(true);
  }

  async handleConnection(socket: Socket): Promise<void> {
    const { session, sessionID } = socket.request as { session?: Partial<SessionData>; sessionID?: string };
    if (!session?.personId) {
      socket.emit('signed-out');
      socket.disconnect(true);
      return;
    }
    socket.data = { person: session.personId, allowance: new Allowance(400, 100), joined: new Map() } satisfies Data;
    await socket.join([personRoom(session.personId), sessionRoom(sessionID!)]);
  }

  handleDisconnect(socket: Socket): void {
    for (const manuscript of dataOf(socket).joined?.keys() ?? []) this.#tellGone(socket, manuscript);
  }

  #tellGone(socket: Socket, manuscript: string): void {
    const client = dataOf(socket).joined.get(manuscript);
    if (client) this.server.to(room(manuscript)).emit('gone', { manuscript, client });
  }

  /** Who sends something about a manuscript, if one of its people. */
  async #author(manuscript: string, id: string): Promise<Author | null> {
    const [found] = await this.database.query<{ role: Role; everyone_in_pencil: boolean }[]>(
      `SELECT role, everyone_in_pencil FROM members JOIN manuscripts ON manuscripts.id = manuscript_id
       WHERE manuscript_id = $1 AND person_id = $2`,
      [manuscript, id],
    );
    if (!found) return null;
    const ids = async () => {
      const named = await this.database
        .getRepository(NamedPersonRow)
        .findBy({ manuscriptId: manuscript, matchedTo: id });
      return new Set([id, ...named.map(({ personId }) => personId)]);
    };
    return { id, role: found.role, everyoneInPencil: found.everyone_in_pencil, ids };
  }

  /** Does what a message asks for, if it is well-formed and its sender one of the manuscript's people; answers always. */
  async #answering<Name extends keyof Messages, T>(
    socket: Socket,
    name: Name,
    body: unknown,
    work: (message: Messages[Name], author: Author) => Promise<T>,
  ): Promise<T | Refusal> {
    const { person, allowance } = dataOf(socket);
    const left = allowance.take();
    if (left < 0) return { later: tooFast };
    const { error, value } = schemas[name].validate(body, { convert: false });
    if (error) return { refused: `This message cannot be understood: ${error.message}.` };
    const message = value as Messages[Name];
    try {
      const author = await this.#author(message.manuscript, person);
      return author ? await work(message, author) : { refused: notThere };
    } catch (problem) {
      const well = await this.database.query('SELECT 1').then(
        () => true,
        () => false,
      );
      if (!well) return { later };
      this.#logger.error(problem);
      return { refused: 'This could not be done. Nothing was changed.' };
    }
  }

  @SubscribeMessage('join')
  join(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Joined | Refusal> {
    return this.#answering(socket, 'join', body, async ({ manuscript, version: from, client }) => {
      // Whoever is in the room hears of all that comes after the text they are given.
      await socket.join(room(manuscript));
      dataOf(socket).joined.set(manuscript, client);
      const text = await this.authority.text(manuscript);
      if (!text) return { refused: notThere };
      const { version, doc } = text;
      if (from === undefined || from > version) return { version, doc: doc.toJSON() as object };
      const rows = await this.authority.since(manuscript, from);
      return { version: from, steps: rows.map(({ step }) => step), clients: rows.map((row) => row.client) };
    });
  }

  @SubscribeMessage('leave')
  leave(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<unknown> {
    return this.#answering(socket, 'leave', body, async ({ manuscript }) => {
      this.#tellGone(socket, manuscript);
      dataOf(socket).joined.delete(manuscript);
      await socket.leave(room(manuscript));
      return { left: true };
    });
  }

  @SubscribeMessage('submit')
  submit(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(socket, 'submit', body, ({ manuscript, ...submission }, author) =>
      this.authority.submit(manuscript, author, submission),
    );
  }

  @SubscribeMessage('decide')
  decide(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(socket, 'decide', body, ({ manuscript, changes, verdict, client }, author) =>
      this.authority.decide(manuscript, author, changes, verdict, client),
    );
  }

  @SubscribeMessage('takeBack')
  takeBack(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(socket, 'takeBack', body, ({ manuscript, decision, client }, author) =>
      this.authority.takeBack(manuscript, author, decision, client),
    );
  }

  /** Where someone is, passed on to the others who have the manuscript open, and kept nowhere. */
  @SubscribeMessage('presence')
  presence(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): void {
    const { person, allowance } = dataOf(socket);
    const { error, value } = schemas.presence.validate(body, { convert: false });
    if (error || allowance.take() < 0) return;
    const { manuscript, ...there } = value as Messages['presence'];
    if (socket.rooms.has(room(manuscript)))
      socket.to(room(manuscript)).emit('presence', { manuscript, person, ...there });
  }
}
