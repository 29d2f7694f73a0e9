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
import type { SessionData } from 'express-session';
import type { Server, Socket } from 'socket.io';
import type { Joined, Outcome } from '@tea-pencil/wire';
import { notThere } from '../policy/memberships.js';
import { Metrics } from '../running/metrics.js';
import { Limits } from '../running/limits.js';
import { Authority } from './authority.js';
import { Broadcasting } from './broadcasting.js';
import { connected, Connections, type Connected } from './connections.js';
import { History } from './history.js';

/** Who has been away for more versions than this is given the text anew. */
const mostMissed = 20_000;

/** The live side of a manuscript: opening it, following it, writing in it. */
@WebSocketGateway({ path: '/api/live', serveClient: false })
export class LiveGateway implements OnGatewayInit, OnGatewayConnection, OnGatewayDisconnect {
  @WebSocketServer() private readonly server: Server;

  constructor(
    private readonly authority: Authority,
    private readonly history: History,
    private readonly connections: Connections,
    private readonly broadcasting: Broadcasting,
    private readonly limits: Limits,
    private readonly metrics: Metrics,
  ) {}

  afterInit(): void {
    this.broadcasting.begin(this.server);
  }

  async handleConnection(socket: Socket): Promise<void> {
    const { session, sessionID } = socket.request as { session?: Partial<SessionData>; sessionID?: string };
    if (!session?.personId || !sessionID) {
      socket.emit('signed-out');
      socket.disconnect(true);
      return;
    }
    socket.data = { person: session.personId, joined: new Map() } satisfies Connected;
    await this.broadcasting.welcome(socket, session.personId, sessionID);
    const { personId: person } = session;
    socket.conn.on('packet', ({ data }) => this.limits.bring(person, (data as string | undefined)?.length ?? 0));
    this.metrics.connected();
    socket.once('disconnect', this.metrics.disconnected);
    if (!(await this.limits.mayConnect(session.personId))) socket.disconnect(true);
  }

  handleDisconnect(socket: Socket): void {
    for (const manuscript of connected(socket).joined?.keys() ?? []) this.#tellGone(socket, manuscript);
  }

  #tellGone(socket: Socket, manuscript: string): void {
    const client = connected(socket).joined.get(manuscript);
    if (client) this.broadcasting.gone(manuscript, client);
  }

  @SubscribeMessage('join')
  join(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Joined> {
    return this.connections.answering(
      socket,
      'join',
      body,
      async ({ manuscript, version: from, client }): Promise<Joined> => {
        // Whoever is in the room hears of all that comes after the text they are given.
        await this.broadcasting.follow(socket, manuscript);
        // Who was taken off meanwhile was not in the room yet when it was closed to them.
        if (!(await this.connections.isMember(socket, manuscript))) {
          await this.broadcasting.leave(socket, manuscript);
          return { refused: notThere };
        }
        connected(socket).joined.set(manuscript, client);
        const text = await this.authority.text(manuscript);
        if (!text) return { refused: notThere };
        const { version } = text;
        if (from === undefined || from > version || version - from > mostMissed)
          return { version, packed: await text.packed() };
        const rows = from === version ? [] : await this.history.since(manuscript, from, version);
        return { version: from, steps: rows.map(({ step }) => step), clients: rows.map((row) => row.client) };
      },
    );
  }

  @SubscribeMessage('leave')
  leave(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<unknown> {
    return this.connections.answering(socket, 'leave', body, async ({ manuscript }) => {
      this.#tellGone(socket, manuscript);
      connected(socket).joined.delete(manuscript);
      await this.broadcasting.leave(socket, manuscript);
      return { left: true };
    });
  }

  @SubscribeMessage('submit')
  submit(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Outcome> {
    const answer = this.connections.answering(socket, 'submit', body, ({ manuscript, ...submission }, author) =>
      this.authority.submit(manuscript, author, submission),
    );
    return this.metrics.acknowledged(answer);
  }

  /** Where someone is, passed on to the others who have the manuscript open, and kept nowhere. */
  @SubscribeMessage('presence')
  async presence(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<void> {
    const message = await this.connections.unanswered(socket, 'presence', body);
    if (message) this.broadcasting.presence(socket, { person: connected(socket).person, ...message });
  }
}
