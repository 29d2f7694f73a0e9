import { Logger } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
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
import Joi from 'joi';
import type { Server, Socket } from 'socket.io';
import type { SessionData } from 'express-session';
import { Repository } from 'typeorm';
import type { Verdict } from '@tea-pencil/core';
import { MemberRow } from '../database/entities.js';
import { notThere } from '../http/access.js';
import { changeSchema, idSchema } from '../http/validation.js';
import { Authority, type Answer, type Author, type Submission } from './authority.js';

const mostSteps = 5000;
const version = Joi.number().integer().min(0).required();
const messages = {
  join: Joi.object({ manuscript: idSchema.required(), version: Joi.number().integer().min(0) }),
  leave: Joi.object({ manuscript: idSchema.required() }),
  submit: Joi.object({
    manuscript: idSchema.required(),
    version,
    steps: Joi.array().items(Joi.object().unknown()).min(1).max(mostSteps).required(),
    intent: Joi.string().valid('pencil', 'ink', 'anchor').required(),
    client: idSchema.required(),
  }),
  decide: Joi.object({
    manuscript: idSchema.required(),
    changes: Joi.array().items(changeSchema).min(1).max(100_000).required(),
    verdict: Joi.string().valid('accept', 'reject').required(),
    client: idSchema.required(),
  }),
  takeBack: Joi.object({ manuscript: idSchema.required(), decision: idSchema.required(), client: idSchema.required() }),
};

type Refusal = { refused: string };
type Joined = { version: number; doc: object } | { version: number; steps: object[]; clients: string[] };

const room = (manuscript: string) => `manuscript:${manuscript}`;

/** The live side: who has a manuscript open receives its steps; whoever sends some is checked anew each time. */
@WebSocketGateway({ path: '/api/live', serveClient: false })
export class LiveGateway implements OnGatewayInit, OnGatewayConnection, OnGatewayDisconnect {
  @WebSocketServer() private readonly server: Server;
  readonly #logger = new Logger('Live');

  constructor(
    private readonly authority: Authority,
    @InjectRepository(MemberRow) private readonly members: Repository<MemberRow>,
  ) {}

  afterInit(): void {
    this.authority.events.on('batch', ({ manuscript, ...batch }) => {
      this.server.to(room(manuscript)).emit('steps', { manuscript, ...batch });
    });
  }

  /** Tells everyone who has the manuscript open that its threads or people have changed. */
  changed(manuscript: string, what: 'threads' | 'people'): void {
    this.server.to(room(manuscript)).emit('changed', { manuscript, what });
  }

  handleConnection(socket: Socket): void {
    const session = (socket.request as { session?: Partial<SessionData> }).session;
    if (!session?.personId) {
      socket.emit('signed-out');
      socket.disconnect(true);
      return;
    }
    socket.data.person = session.personId;
  }

  handleDisconnect(socket: Socket): void {
    for (const manuscript of (socket.data.joined as Set<string> | undefined) ?? [])
      this.#tellPresence(manuscript, socket.id);
  }

  /** The message, if it is well-formed and its sender a member; else the sentence to answer with. */
  async #admit<T extends { manuscript: string }>(
    socket: Socket,
    name: keyof typeof messages,
    message: unknown,
  ): Promise<{ author: Author; message: T } | Refusal> {
    const { error, value } = messages[name].validate(message, { convert: false });
    if (error) return { refused: `This message cannot be understood: ${error.message}.` };
    const valid = value as T;
    const personId = socket.data.person as string;
    const member = await this.members.findOneBy({ manuscriptId: valid.manuscript, personId });
    if (!member) return { refused: notThere };
    return { author: { id: personId, role: member.role }, message: valid };
  }

  /** Answers even when something fails that should not; the sender keeps what they wrote. */
  async #answering<T>(work: () => Promise<T>): Promise<T | Refusal> {
    try {
      return await work();
    } catch (problem) {
      this.#logger.error(problem);
      return { refused: 'This could not be done just now. Nothing was changed; please try again.' };
    }
  }

  @SubscribeMessage('join')
  join(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Joined | Refusal> {
    return this.#answering(async () => {
      const admitted = await this.#admit<{ manuscript: string; version?: number }>(socket, 'join', body);
      if ('refused' in admitted) return admitted;
      const { manuscript, version: from } = admitted.message;
      const text = await this.authority.text(manuscript);
      if (!text) return { refused: notThere };
      await socket.join(room(manuscript));
      ((socket.data.joined ??= new Set()) as Set<string>).add(manuscript);
      this.#tellPresence(manuscript);
      if (from === undefined || from > text.version) return { version: text.version, doc: text.doc.toJSON() as object };
      const rows = await this.authority.since(manuscript, from);
      return {
        version: from + rows.length,
        steps: rows.map(({ step }) => step),
        clients: rows.map(({ client }) => client),
      };
    });
  }

  @SubscribeMessage('leave')
  async leave(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<void> {
    const { error, value } = messages.leave.validate(body, { convert: false });
    if (error) return;
    const { manuscript } = value as { manuscript: string };
    await socket.leave(room(manuscript));
    (socket.data.joined as Set<string> | undefined)?.delete(manuscript);
    this.#tellPresence(manuscript);
  }

  @SubscribeMessage('submit')
  submit(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(async () => {
      const admitted = await this.#admit<Submission & { manuscript: string }>(socket, 'submit', body);
      if ('refused' in admitted) return admitted;
      const { manuscript, ...submission } = admitted.message;
      return this.authority.submit(manuscript, admitted.author, submission);
    });
  }

  @SubscribeMessage('decide')
  decide(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(async () => {
      const admitted = await this.#admit<{ manuscript: string; changes: string[]; verdict: Verdict; client: string }>(
        socket,
        'decide',
        body,
      );
      if ('refused' in admitted) return admitted;
      const { manuscript, changes, verdict, client } = admitted.message;
      return this.authority.decide(manuscript, admitted.author, changes, verdict, client);
    });
  }

  @SubscribeMessage('takeBack')
  takeBack(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Answer> {
    return this.#answering(async () => {
      const admitted = await this.#admit<{ manuscript: string; decision: string; client: string }>(
        socket,
        'takeBack',
        body,
      );
      if ('refused' in admitted) return admitted;
      const { manuscript, decision, client } = admitted.message;
      return this.authority.takeBack(manuscript, admitted.author, decision, client);
    });
  }

  /** Who has the manuscript open, told to all who have; never stored. */
  #tellPresence(manuscript: string, except?: string): void {
    void this.server
      .in(room(manuscript))
      .fetchSockets()
      .then((sockets) => {
        const here = sockets
          .filter(({ id }) => id !== except)
          .map((socket) => (socket.data as { person: string }).person);
        this.server.to(room(manuscript)).emit('presence', { manuscript, people: [...new Set(here)] });
      });
  }
}
