import { IoAdapter } from '@nestjs/platform-socket.io';
import type { INestApplicationContext } from '@nestjs/common';
import type { RequestHandler } from 'express';
import type { Server, ServerOptions } from 'socket.io';
import { fromOwnPage } from '../http/session.js';

/** Live connections carry the same session as requests, and only pages of this server may open them. */
export class LiveAdapter extends IoAdapter {
  constructor(
    app: INestApplicationContext,
    private readonly session: RequestHandler,
  ) {
    super(app);
  }

  override createIOServer(port: number, options?: ServerOptions): Server {
    const server = super.createIOServer(port, {
      ...options,
      maxHttpBufferSize: 8 * 1024 * 1024,
      allowRequest: (request: Parameters<typeof fromOwnPage>[0], decide: (e: string | null, ok: boolean) => void) =>
        decide(null, fromOwnPage(request)),
    } as ServerOptions) as Server;
    server.engine.use(this.session);
    return server;
  }
}
