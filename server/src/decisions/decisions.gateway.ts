import { ConnectedSocket, MessageBody, SubscribeMessage, WebSocketGateway } from '@nestjs/websockets';
import type { Socket } from 'socket.io';
import type { Outcome } from '@tea-pencil/wire';
import { Connections } from '../live/connections.js';
import { Decisions } from './decisions.service.js';

/** Decisions come over the live connection, as all do that change the text. */
@WebSocketGateway({ path: '/api/live', serveClient: false })
export class DecisionsGateway {
  constructor(
    private readonly connections: Connections,
    private readonly decisions: Decisions,
  ) {}

  @SubscribeMessage('decide')
  decide(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Outcome> {
    return this.connections.answering(socket, 'decide', body, ({ changes, verdict, ...asking }, author) =>
      this.decisions.decide(author, changes, verdict, asking),
    );
  }

  @SubscribeMessage('takeBack')
  takeBack(@ConnectedSocket() socket: Socket, @MessageBody() body: unknown): Promise<Outcome> {
    return this.connections.answering(socket, 'takeBack', body, ({ decision, changes, ...asking }, author) =>
      this.decisions.takeBack(author, decision, asking, changes),
    );
  }
}
